import {
  countActivities,
  countSilence,
  type FactsAround,
  gradeOf,
  judge,
  GatheredFacts,
  type MovingRecord,
  type ReadyCharter,
  type ReadyScoreSet,
  type Score,
  silentSince,
  type StageKey,
  territoryOf,
  toMicro,
  total,
  entryOf,
  addressOf,
} from '@relvik/core';

/** What the sweep gives for a record. */
export interface Outcome {
  readonly fit: number | null;
  readonly engagement: number | null;
  readonly stage: StageKey;
  readonly route: string | null;
}

/** The score set of a charter that has one, which admits all. */
export function onlySet({ rules }: ReadyCharter): ReadyScoreSet {
  const { scoreSets } = rules.lead;
  const [set] = scoreSets;
  if (set === undefined || scoreSets.length > 1) throw new Error('The bench is for one score set');
  return set;
}

/** The way of one record up to its route by `judge`, with no account of anything: the peer of the sweep. */
export function judgeOne(charter: ReadyCharter, record: MovingRecord, around: FactsAround, asOf: number): Outcome {
  const own = GatheredFacts.of(record, around, charter, asOf);
  const scoreSet = onlySet(charter);
  const parts = { fit: [] as number[], engagement: [] as number[] };
  const open = { fit: false, engagement: false };
  for (const signal of scoreSet.signals) {
    if (signal.kind === 'attribute') {
      const answer = judge(signal.ready, own);
      if (answer === 'unjudged') open[signal.axis] = true;
      else if (answer === 'yes') parts[signal.axis].push(toMicro(signal.points));
    } else if (signal.kind === 'activity')
      parts[signal.axis].push(countActivities(signal, record.activities, asOf).micro);
    else
      parts[signal.axis].push(
        countSilence(signal, silentSince(scoreSet.kinds, record.activities, record.arrived, asOf), asOf).micro,
      );
  }
  const axis = (of: 'fit' | 'engagement'): Score['fit'] =>
    open[of] ? { judged: false, fields: [] } : { judged: true, ...total(parts[of], scoreSet[of]) };
  const score: Score = {
    admitted: 'yes',
    set: scoreSet.key,
    fit: axis('fit'),
    engagement: axis('engagement'),
    signals: [],
    held: [],
    beside: [],
  };
  const { fit, engagement } = score;
  const grade = fit.judged && engagement.judged ? gradeOf(scoreSet.grid, fit.score, engagement.score) : null;
  const graded = own.withScore(score, grade);
  let stage = entryOf(charter.charter, 'lead');
  for (let moved = true, begun = false; moved; begun = true) {
    moved = false;
    const facts = graded.withStage(stage, begun);
    for (const gate of charter.rules.lead.gates) {
      if (gate.from !== stage || judge(gate.ready, facts) !== 'yes') continue;
      stage = gate.to;
      moved = true;
      break;
    }
  }
  const outcome = {
    fit: fit.judged ? fit.score : null,
    engagement: engagement.judged ? engagement.score : null,
    stage,
  };
  const territory = territoryOf(
    charter.coverage,
    record.standing.pin,
    addressOf(charter.charter.territories, (field) => own.value(field)),
  );
  const facts = graded.withStage(stage, true).withTerritory(territory);
  if (grade !== null)
    for (const stream of charter.rules.lead.streams) {
      if (!stream.entering.includes(stage)) continue;
      for (const route of stream.routes) {
        const answer = judge(route.ready, facts);
        if (answer === 'unjudged') return { ...outcome, route: 'unjudged' };
        if (answer === 'yes') return { ...outcome, route: route.key };
      }
      return { ...outcome, route: 'none' };
    }
  return { ...outcome, route: null };
}
