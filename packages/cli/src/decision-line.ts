import {
  showValue,
  type AnyRecord,
  type AxisScore,
  type Decision,
  type Graded,
  type Instant,
  reasonsOf,
  type Wording,
} from '@relvik/core';

function axis(score: AxisScore) {
  if (!score.judged) return { score: null, positive: null, negative: null, unjudged: score.fields };
  return { score: score.score, positive: score.positive, negative: score.negative };
}

function graded({ score, rank, grade }: Graded) {
  return {
    scoreSet: score.set,
    fit: axis(score.fit),
    engagement: axis(score.engagement),
    beside: score.beside.map((one) => ({
      set: one.set,
      fit: axis(one.fit),
      engagement: axis(one.engagement),
    })),
    rank,
    grade: grade?.name ?? null,
    verdict: grade?.verdict ?? null,
  };
}

/** The grade of a contact or company as one line of the output. */
export function gradeLine({ id, kind }: AnyRecord, given: Graded, asOf: Instant) {
  return { id, kind, asOf: new Date(asOf).toISOString(), ...graded(given) };
}

/** The grade of a deal, and what gates make of it, as one line of the output. */
export function gatedLine(record: AnyRecord, decision: Decision, wording: Wording) {
  return {
    ...gradeLine(record, decision, decision.asOf),
    ...{ stage: decision.stage, status: decision.status },
    ...gatesOf(decision),
    ...madeBy(decision),
    warnings: decision.warnings,
    reasons: reasonsOf(decision, wording).filter(({ step }) => step === 'value' || step === 'gate'),
  };
}

function gatesOf({ gates }: Decision) {
  return {
    asks: gates.asks.map(({ gate, pick }) => ({ gate, pick })),
    changes: gates.changes.map(({ field, value, gate }) => ({ field, value: showValue(value), gate })),
  };
}

function madeBy({ tasks = [], deal }: Decision) {
  return {
    tasks: tasks.map(({ due, ...task }) => ({ ...task, due: new Date(due).toISOString() })),
    deal: deal ?? null,
  };
}

/** A decision as one line of the output; docs/decide-format.md describes each member. */
export function decisionLine(decision: Decision, wording: Wording) {
  const { place, territory, routing } = decision;
  const match = routing?.match;
  return {
    id: decision.record,
    asOf: new Date(decision.asOf).toISOString(),
    ...graded(decision),
    stage: decision.stage,
    territory: 'territory' in territory ? territory.territory : null,
    route: match?.kind === 'matched' ? match.route : null,
    place: place.kind,
    owner: place.kind === 'owner' ? place.rep : null,
    queue: place.kind === 'queue' ? place.queue : null,
    bay: place.kind === 'bay' ? place.reason : null,
    ...gatesOf(decision),
    ...madeBy(decision),
    warnings: decision.warnings,
    reasons: reasonsOf(decision, wording),
  };
}
