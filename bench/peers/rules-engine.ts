import type { Condition } from '@relvik/core';
import { Engine, type TopLevelCondition } from 'json-rules-engine';
import { factOf, literal } from './literal';
import type { Peer } from './peer';

function part(condition: Condition): object {
  switch (condition.test) {
    case 'all':
    case 'any':
      return { [condition.test]: condition.of.map(part) };
    case 'not':
      return { not: part(condition.of) };
    case 'one-of': {
      const fact = factOf(condition);
      const values = condition.values.map((v) => literal(fact, v));
      return values.length === 1
        ? { fact, operator: 'equal', value: values[0] }
        : { fact, operator: 'in', value: values };
    }
    case 'contains':
    case 'ends-with':
      return {
        fact: factOf(condition),
        operator: condition.test,
        value: condition.values.map((v) => literal(factOf(condition), v)),
      };
    case 'blank':
      return { fact: factOf(condition), operator: 'equal', value: null };
    case 'range': {
      const { from, to } = condition;
      const field = factOf(condition);
      return {
        all: [
          ...(from === null
            ? []
            : [{ fact: field, operator: from.included ? 'from' : 'above', value: literal(field, from.at) }]),
          ...(to === null
            ? []
            : [{ fact: field, operator: to.included ? 'upTo' : 'below', value: literal(field, to.at) }]),
        ],
      };
    }
    default:
      throw new Error(`The bench asks no ${condition.test}`);
  }
}

/** A rule's conditions begin with a group. */
function top(condition: Condition): TopLevelCondition {
  const made = part(condition);
  return ('all' in made || 'any' in made || 'not' in made ? made : { all: [made] }) as TopLevelCondition;
}

export const RULES_ENGINE: Peer = {
  name: 'json-rules-engine',
  prepare(conditions) {
    const engine = new Engine([], { allowUndefinedFacts: true });
    engine.addOperator(
      'contains',
      (text: string | null, parts: string[]) => typeof text === 'string' && parts.some((p) => text.includes(p)),
    );
    engine.addOperator(
      'ends-with',
      (text: string | null, parts: string[]) => typeof text === 'string' && parts.some((p) => text.endsWith(p)),
    );
    engine.addOperator('from', (a: number | null, b: number) => a !== null && a >= b);
    engine.addOperator('above', (a: number | null, b: number) => a !== null && a > b);
    engine.addOperator('upTo', (a: number | null, b: number) => a !== null && a <= b);
    engine.addOperator('below', (a: number | null, b: number) => a !== null && a < b);
    conditions.forEach((condition, i) => engine.addRule({ conditions: top(condition), event: { type: String(i) } }));
    return async (facts) => {
      const rows: boolean[][] = [];
      for (const one of facts) {
        const { events } = await engine.run(one);
        const row = conditions.map(() => false);
        for (const { type } of events) row[Number(type)] = true;
        rows.push(row);
      }
      return rows;
    };
  },
};
