import type { Condition } from '@relvik/core';
import { evaluate } from 'feelin';
import { factOf, literal } from './literal';
import type { Peer } from './peer';

const text = (value: string | number | boolean): string => JSON.stringify(value);
/** In FEEL null is a third answer; here a blank makes a test false. */
const sure = (leaf: string): string => `(if ${leaf} = true then true else false)`;

/** A condition as FEEL over `r`. */
export function feelOf(condition: Condition): string {
  switch (condition.test) {
    case 'all':
      return condition.of.length === 0 ? 'true' : `(${condition.of.map(feelOf).join(' and ')})`;
    case 'any':
      return condition.of.length === 0 ? 'false' : `(${condition.of.map(feelOf).join(' or ')})`;
    case 'not':
      return `not(${feelOf(condition.of)})`;
    case 'one-of': {
      const fact = factOf(condition);
      const [first = '', ...others] = condition.values;
      if (others.length === 0) return sure(`(r.${fact} = ${text(literal(fact, first))})`);
      return sure(`list contains([${condition.values.map((v) => text(literal(fact, v))).join(', ')}], r.${fact})`);
    }
    case 'contains':
      return `(${condition.values.map((v) => sure(`contains(r.${factOf(condition)}, ${text(literal(factOf(condition), v))})`)).join(' or ')})`;
    case 'ends-with':
      return `(${condition.values.map((v) => sure(`ends with(r.${factOf(condition)}, ${text(literal(factOf(condition), v))})`)).join(' or ')})`;
    case 'blank':
      return `(r.${factOf(condition)} = null)`;
    case 'range': {
      const { from, to } = condition;
      const field = factOf(condition);
      const ends = [
        ...(from === null ? [] : [`r.${field} ${from.included ? '>=' : '>'} ${text(literal(field, from.at))}`]),
        ...(to === null ? [] : [`r.${field} ${to.included ? '<=' : '<'} ${text(literal(field, to.at))}`]),
      ];
      return sure(`(${ends.join(' and ')})`);
    }
    default:
      throw new Error(`The bench asks no ${condition.test}`);
  }
}

export const FEEL: Peer = {
  name: 'feelin',
  prepare(conditions) {
    const asked = `for r in records return [${conditions.map(feelOf).join(', ')}]`;
    return (facts) => Promise.resolve(evaluate(asked, { records: facts }).value as boolean[][]);
  },
};
