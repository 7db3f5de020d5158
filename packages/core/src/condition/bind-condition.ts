import type { Spot } from '../document/problem';
import { bindPredicate, SUITING } from './bind-predicate';
import type { Condition, Test } from './condition';
import type { PredicateKind } from './predicate';
import type { ReadyCondition } from './ready';
import type { Scope } from './scope';
import type { Subject } from './subject';
import type { Holds } from './subject-row';
import { holdsOf } from './subject-table';

const NEVER: ReadyCondition = { kind: 'any', of: [] };

/** The predicates that suit a subject, the most usual first: by what it holds, and of a territory also what it lies in. */
export function suiting(subject: Subject, holds: Holds): readonly PredicateKind[] {
  return subject.kind === 'territory' ? ['one-of', 'inside', ...SUITING[holds.type].slice(1)] : SUITING[holds.type];
}

function bindTest(test: Test, scope: Scope, spot: Spot): ReadyCondition {
  const { subject } = test;
  const holds = holdsOf(subject, scope, spot.at('subject'));
  if (holds === null) return NEVER;
  if (!suiting(subject, holds).includes(test.test)) {
    spot.at('test').say(`does not suit ${holds.key}, which holds ${holds.type}`);
    return NEVER;
  }
  return { subject, source: test, ...bindPredicate(test, holds, scope, spot) };
}

/**
 * Makes a condition ready to be judged: looks its subjects up, folds and scales its literals.
 *
 * @returns the ready condition; where something is wrong it is said at `spot`, and a stand-in that never holds is put there
 */
export function bindCondition(condition: Condition, scope: Scope, spot: Spot): ReadyCondition {
  switch (condition.test) {
    case 'all':
    case 'any':
      return {
        kind: condition.test,
        of: condition.of.map((part, i) => bindCondition(part, scope, spot.at('of').at(i))),
      };
    case 'not':
      return { kind: 'not', of: bindCondition(condition.of, scope, spot.at('of')) };
    default:
      return bindTest(condition, scope, spot);
  }
}
