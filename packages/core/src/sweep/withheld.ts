import { type Condition, type Test, testsIn } from '../condition/condition';
import { readKey } from '../condition/explain';
import { happeningKey, type PropertyTest } from '../activity/property-test';
import type { Signal } from '../signal/signal';
import type { Lookup } from './lookup';
import { type Population, testKey, type Withheld } from './population';

/** Whether a test can be answered by what is there of a withheld field. */
function canAnswer(test: Test, withheld: Withheld): boolean {
  if (withheld === 'all') return false;
  switch (test.test) {
    case 'blank':
      return true;
    case 'ends-with':
      // Up to the @ every end of an address is an end of its domain.
      return test.values.every((value) => value.trim().lastIndexOf('@') <= 0);
    case 'contains':
      return test.values.every((value) => value.trim().startsWith('@'));
    default:
      return false;
  }
}

/** What conditions and signals ask that a population can't answer yet, since it is withheld from it. */
export function missingAnswers(
  conditions: Iterable<Condition>,
  signals: Iterable<Signal>,
  population: Population,
): Lookup[] {
  const missing = new Map<string, Lookup>();
  const happened = (kind: string, having: readonly PropertyTest[]): void => {
    const key = happeningKey(kind, having);
    if (having.length > 0 && population.events.has(kind) && !population.events.has(key))
      missing.set(key, { of: 'activities', kind, having });
  };
  for (const condition of conditions) {
    for (const test of testsIn(condition)) {
      const withheld = population.withheld.get(readKey(test));
      const key = testKey(test);
      if (withheld !== undefined && !population.given.has(key) && !canAnswer(test, withheld))
        missing.set(key, { of: 'test', test });
      if (test.subject.kind === 'happened') happened(test.subject.activity, test.subject.having);
    }
  }
  for (const signal of signals) if (signal.kind === 'activity') happened(signal.activity, signal.having);
  return [...missing.values()];
}
