import type { Charter } from '../charter/charter';
import { type Condition, type Test, testsIn } from '../condition/condition';
import { readKeyOf } from '../condition/subject-table';
import { fieldOf, isOfValues, type ValueEffect } from '../gate/effect';
import { kindOfStage } from '../gate/pipeline';
import { fold } from '../record/fold';
import type { RecordKind } from '../record/kind';
import type { Finding } from './finding';

/**
 * Signals, and entry conditions, of score sets that read what a gate changes on records of their kind: of tags by the tag, of all
 * else by the field. A score that a gate changes would let the next gate act on its own work.
 */
export function scoresReadingGates({
  scoreSets,
  gates,
  pipelines,
}: Pick<Charter, 'scoreSets' | 'gates' | 'pipelines'>): Finding[] {
  const effects = gates
    .filter(({ on }) => on)
    .flatMap((gate) =>
      gate.effects
        .filter(isOfValues)
        .map((effect) => ({ kind: kindOfStage({ pipelines }, gate.from), gate: gate.key, effect })),
    );
  if (effects.length === 0) return [];
  const conflicts = (of: RecordKind, set: string, signal: string | null, when: Condition): Finding[] => {
    const tests = [...testsIn(when)];
    return effects
      .filter(({ kind, effect }) => kind === of && tests.some((test) => readsChange(test, effect, kind)))
      .map(({ gate, effect }) => ({ code: 'scores-read-gate', severity: 'error', set, signal, gate, effect }));
  };
  return scoreSets
    .filter(({ on }) => on)
    .flatMap(({ key, of, when, signals }) => [
      ...conflicts(of, key, null, when),
      ...signals.flatMap((signal) =>
        signal.kind === 'attribute' && signal.on ? conflicts(of, key, signal.key, signal.when) : [],
      ),
    ]);
}

function readsChange(test: Test, effect: ValueEffect, kind: RecordKind): boolean {
  if (readKeyOf(test.subject) !== fieldOf(effect, kind)) return false;
  if (effect.kind === 'set' || !('values' in test)) return true;
  return test.values.some((value) => fold(value) === fold(effect.tag));
}
