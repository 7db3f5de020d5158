import { showValue } from '../record/value';
import { allOf, type Answer, anyOf, notOf } from './answer';
import type { FieldTest } from './condition';
import { type Facts, judgeTest } from './judge';
import type { ReadyCondition } from './ready';

/** How a condition came to its answer: the same tree, each part with its own answer and the value it read. */
export type Account =
  | { readonly test: 'all' | 'any'; readonly answer: Answer; readonly of: readonly Account[] }
  | { readonly test: 'not'; readonly answer: Answer; readonly of: readonly [Account] }
  | { readonly test: 'field'; readonly answer: Answer; readonly asked: FieldTest; readonly read: string };

/** Judges a condition and keeps the whole account; its answer is always that of `judge`. */
export function explain(condition: ReadyCondition, facts: Facts): Account {
  switch (condition.kind) {
    case 'all':
    case 'any': {
      const of = condition.of.map((part) => explain(part, facts));
      const answers = of.map((part) => part.answer);
      return { test: condition.kind, answer: condition.kind === 'all' ? allOf(answers) : anyOf(answers), of };
    }
    case 'not': {
      const of = explain(condition.of, facts);
      return { test: 'not', answer: notOf(of.answer), of: [of] };
    }
    default:
      return {
        test: 'field',
        answer: judgeTest(condition, facts),
        asked: condition.source,
        read: showValue(facts.value(condition.field)),
      };
  }
}

/** The fields that keep an unjudged condition from an answer; empty when it has one. */
export function unjudgedFields(account: Account, into = new Set<string>()): Set<string> {
  if (account.answer !== 'unjudged') return into;
  if (account.test === 'field') into.add(account.asked.field);
  else for (const part of account.of) unjudgedFields(part, into);
  return into;
}
