import { showValue } from '../record/value';
import { allOf, type Answer, anyOf, notOf } from './answer';
import type { Test } from './condition';
import type { Facts } from './facts';
import { judgeTest } from './judge';
import type { ReadyCondition } from './ready';
import { readKeyOf, rowOf } from './subject-table';

/** How a condition came to its answer: the same tree, each part with its own answer and the value it read. */
export type Account =
  | { readonly test: 'all' | 'any'; readonly answer: Answer; readonly of: readonly Account[] }
  | { readonly test: 'not'; readonly answer: Answer; readonly of: readonly [Account] }
  | { readonly test: 'one'; readonly answer: Answer; readonly asked: Test; readonly read: string };

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
        test: 'one',
        answer: judgeTest(condition, facts),
        asked: condition.source,
        read: showValue(rowOf(condition.subject).shown(condition.subject, facts)),
      };
  }
}

/** Under which key what a test read is kept: that of a field, or of something computed. */
export function readKey({ subject }: Test): string {
  return readKeyOf(subject);
}

/** The fields that keep an unjudged condition from an answer; empty when it has one. */
export function unjudgedFields(account: Account, into = new Set<string>()): Set<string> {
  if (account.answer !== 'unjudged') return into;
  if (account.test === 'one') into.add(readKey(account.asked));
  else for (const part of account.of) unjudgedFields(part, into);
  return into;
}
