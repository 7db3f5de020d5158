import type { Charter } from '../charter/charter';
import { type Condition, type Test, testsIn } from '../condition/condition';
import { readKeyOf } from '../condition/subject-table';
import { fieldOf, type GateEffect } from '../gate/effect';
import { fold } from '../record/fold';
import type { Finding } from './finding';

/**
 * Signals, and entry conditions, of score sets for leads that read what a gate changes: of tags by the tag, of all else by the
 * field. A score that a gate changes would let the next gate act on its own work.
 */
export function scoresReadingGates({ scoreSets, gates }: Pick<Charter, 'scoreSets' | 'gates'>): Finding[] {
  const effects = gates
    .filter(({ on }) => on)
    .flatMap((gate) => gate.effects.map((effect) => ({ gate: gate.key, effect })));
  if (effects.length === 0) return [];
  const conflicts = (set: string, signal: string | null, when: Condition): Finding[] => {
    const tests = [...testsIn(when)];
    return effects
      .filter(({ effect }) => tests.some((test) => readsChange(test, effect)))
      .map((one) => ({ code: 'scores-read-gate', severity: 'error', set, signal, ...one }));
  };
  return scoreSets
    .filter(({ of, on }) => of === 'lead' && on)
    .flatMap(({ key, when, signals }) => [
      ...conflicts(key, null, when),
      ...signals.flatMap((signal) =>
        signal.kind === 'attribute' && signal.on ? conflicts(key, signal.key, signal.when) : [],
      ),
    ]);
}

function readsChange(test: Test, effect: GateEffect): boolean {
  if (readKeyOf(test.subject) !== fieldOf(effect)) return false;
  if (effect.kind === 'set' || !('values' in test)) return true;
  return test.values.some((value) => fold(value) === fold(effect.tag));
}
