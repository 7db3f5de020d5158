import type { ReadyCharter, ReadyRules } from '../charter/ready-charter';
import { judge } from '../condition/judge';
import type { ReadyCondition } from '../condition/ready';
import { turningInstants } from '../condition/turning-instants';
import type { Appraisal, Decision } from './decision';
import { enteredAt, type FactsAround, GatheredFacts, withChangedValues } from './facts';
import type { Instant } from '../record/keys';
import type { MovingRecord } from '../record/record';
import { routesOnEntering } from '../route/match-route';
import { scoresChangeAt } from './scores-change-at';

/** The parts of a decision from which the next change by time is computed. */
type Decided = Pick<Appraisal, 'gates' | 'stage' | 'score' | 'grade' | 'territory'> & Pick<Decision, 'place'>;

/**
 * The earliest instant after `asOf` at which anything that would be asked of a record is another by the passing of time
 * alone: a score, as {@link scoresChangeAt} says, the condition of a gate of its stage, or of a stream or route while it
 * waits in the bay or streams ask again as time passes. Where nothing changes for ten years, those ten years.
 *
 * @param before the record as the decision found it
 * @param decision the one made of it at `asOf`
 */
export function changesAt(
  charter: ReadyCharter,
  before: MovingRecord,
  decision: Decided,
  around: FactsAround,
  asOf: Instant,
): Instant {
  const record = withChangedValues(before, decision.gates.changes);
  const last = scoresChangeAt(charter, record, around, asOf);
  const asked = askedByTime(charter.rules[record.kind], decision);
  const stageSince = enteredAt(record, decision.gates.moves.length > 0, asOf);
  const standing = { ...record.standing, stage: decision.stage, stageSince, place: decision.place };
  const stands: MovingRecord = { ...record, standing };
  const { timeZone } = charter.charter;
  const turns = turningInstants(asked, { record, timeZone, kinds: around.kinds, stageSince }).filter(
    (at) => at > asOf && at < last,
  );
  if (turns.length === 0) return last;

  const { score, grade, stage, territory } = decision;
  const answersAt = (at: Instant): string => {
    const own = GatheredFacts.of(stands, around, charter, at);
    // Until `last` the scores stay what they are, so that only days turn.
    const facts = own.withScore(score, grade).withStage(stage, false).withTerritory(territory);
    return asked.map((condition) => judge(condition, facts)).join();
  };
  const answers = answersAt(asOf);
  return turns.find((at) => answersAt(at) !== answers) ?? last;
}

function askedByTime(rules: ReadyRules, { stage, place }: Pick<Decided, 'stage' | 'place'>): ReadyCondition[] {
  const gates = rules.gates
    .filter(({ on, from, decider }) => on && from === stage && decider.kind !== 'person')
    .map(({ ready }) => ready);
  const streams = rules.streams.filter((stream) => routesOnEntering([stream], stage));
  if (place.kind !== 'bay' && !streams.some(({ again = [] }) => again.includes('time'))) return gates;
  return [
    ...gates,
    ...streams.flatMap((stream) => [stream.ready, ...stream.routes.filter(({ on }) => on).map(({ ready }) => ready)]),
  ];
}
