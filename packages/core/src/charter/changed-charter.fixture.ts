import type { ScoreSet } from '../score/score-set';
import type { Charter } from './charter';

/** A charter after a change to each of its score sets. */
export function withSets(charter: Charter, change: (set: ScoreSet) => ScoreSet): Charter {
  return { ...charter, scoreSets: charter.scoreSets.map(change) };
}

/** A charter after one signal was given other points. */
export function withPoints(charter: Charter, key: string, points: number): Charter {
  return withSets(charter, (set) => ({
    ...set,
    signals: set.signals.map((one) => (one.key === key ? { ...one, points } : one)),
  }));
}
