import type { Condition } from '@relvik/core';
import jsonLogic from 'json-logic-js';
import { factOf, literal } from './literal';
import type { Peer } from './peer';

type Rule = Parameters<typeof jsonLogic.apply>[0];

jsonLogic.add_operation('ends', (text: string | null, part: string) => text !== null && text.endsWith(part));

function rule(condition: Condition): Rule {
  const is = (field: string) => ({ var: field });
  const filled = (field: string) => ({ '!==': [is(field), null] });
  switch (condition.test) {
    case 'all':
      return condition.of.length === 0 ? true : { and: condition.of.map(rule) };
    case 'any':
      return condition.of.length === 0 ? false : { or: condition.of.map(rule) };
    case 'not':
      return { '!': [rule(condition.of)] };
    case 'one-of': {
      const fact = factOf(condition);
      const values = condition.values.map((v) => literal(fact, v));
      return values.length === 1 ? { '===': [is(fact), values[0]] } : { in: [is(fact), values] };
    }
    case 'contains':
      return { or: condition.values.map((v) => ({ in: [literal(factOf(condition), v), is(factOf(condition))] })) };
    case 'ends-with':
      return {
        or: condition.values.map((v) => ({ ends: [is(factOf(condition)), literal(factOf(condition), v)] })),
      };
    case 'blank':
      return { '===': [is(factOf(condition)), null] };
    case 'range': {
      const { from, to } = condition;
      const field = factOf(condition);
      return {
        and: [
          filled(field),
          ...(from === null ? [] : [{ [from.included ? '>=' : '>']: [is(field), literal(field, from.at)] }]),
          ...(to === null ? [] : [{ [to.included ? '<=' : '<']: [is(field), literal(field, to.at)] }]),
        ],
      } as Rule;
    }
    default:
      throw new Error(`The bench asks no ${condition.test}`);
  }
}

export const JSON_LOGIC: Peer = {
  name: 'json-logic-js',
  prepare(conditions) {
    const rules = conditions.map(rule);
    return (facts) => Promise.resolve(facts.map((one) => rules.map((asked) => Boolean(jsonLogic.apply(asked, one)))));
  },
};
