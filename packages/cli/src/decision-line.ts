import { type AxisScore, type Decision, reasonsOf, type Wording } from '@relvik/core';

function axis(score: AxisScore) {
  if (!score.judged) return { score: null, positive: null, negative: null, unjudged: score.fields };
  return { score: score.score, positive: score.positive, negative: score.negative };
}

/** A decision as one line of the output; docs/decide-format.md describes each member. */
export function decisionLine(decision: Decision, wording: Wording) {
  const { place, territory, routing, grade } = decision;
  const match = routing?.match;
  return {
    id: decision.record,
    asOf: new Date(decision.asOf).toISOString(),
    scoreSet: decision.score.set,
    fit: axis(decision.score.fit),
    engagement: axis(decision.score.engagement),
    beside: decision.score.beside.map((one) => ({
      set: one.set,
      fit: axis(one.fit),
      engagement: axis(one.engagement),
    })),
    rank: decision.rank,
    grade: grade?.name ?? null,
    verdict: grade?.verdict ?? null,
    stage: decision.stage,
    territory: 'territory' in territory ? territory.territory : null,
    route: match?.kind === 'matched' ? match.route : null,
    place: place.kind,
    owner: place.kind === 'owner' ? place.rep : null,
    queue: place.kind === 'queue' ? place.queue : null,
    bay: place.kind === 'bay' ? place.reason : null,
    warnings: decision.warnings,
    reasons: reasonsOf(decision, wording),
  };
}
