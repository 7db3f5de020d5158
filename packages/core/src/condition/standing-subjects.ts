import { key, object, oneOf, type Read } from '../document/read-json';
import { VERDICT_KEYS } from '../grade/verdict';
import type { Computed } from '../record/field';
import { choicesOf } from '../record/choices';
import { ageInHours } from '../record/hours';
import { wholeDays } from '../record/stage-days';
import { BLANK } from '../record/value';
import type { RulePlace, Scope } from './scope';
import { BAND_AXES, SCORE_AXES, type Subject, type SubjectOf } from './subject';
import { AFTER_GATES, AFTER_SCORES, type Holds, holding, type SubjectRow, textValue } from './subject-row';

// Subjects that Relvik computes for a record, and its position.

/** Something that the way of a record computes, under one key. */
function computedRow<S extends Subject>(
  words: string,
  places: readonly RulePlace[],
  read: Read<S>,
  keyOf: (subject: S) => Computed,
  holds: (subject: S, scope: Scope) => Holds,
  all: readonly S[],
): SubjectRow<S> {
  return {
    words,
    places,
    read,
    holds,
    value: (subject, facts) => facts.computed(keyOf(subject)),
    reads: keyOf,
    shown: (subject, facts) => facts.computed(keyOf(subject)),
    all: () => all,
  };
}

export const SCORE: SubjectRow<SubjectOf<'score'>> = computedRow(
  'fit, engagement, rank',
  AFTER_SCORES,
  object<SubjectOf<'score'>>({ kind: oneOf(['score']), axis: oneOf(SCORE_AXES) }),
  ({ axis }) => axis,
  ({ axis }) => holding(axis, 'number'),
  SCORE_AXES.map((axis) => ({ kind: 'score', axis })),
);

export const SET_SCORE: SubjectRow<SubjectOf<'set-score'>> = {
  words: 'a score of one set',
  places: AFTER_SCORES,
  read: object<SubjectOf<'set-score'>>({ kind: oneOf(['set-score']), set: key(), axis: oneOf(SCORE_AXES) }),
  holds({ set, axis }, { sets }, spot) {
    if (!sets.includes(set)) spot.at('set').say(`no such score set for these records: ${set}`);
    return holding(`${set}.${axis}`, 'number');
  },
  value: ({ set, axis }, facts) => facts.setScore(set, axis),
  reads: ({ set, axis }) => `${set}.${axis}`,
  shown: ({ set, axis }, facts) => facts.setScore(set, axis),
  all: ({ sets }) => sets.flatMap((set) => SCORE_AXES.map((axis) => ({ kind: 'set-score', set, axis }))),
};

export const BAND: SubjectRow<SubjectOf<'band'>> = computedRow(
  'fit_band, engagement_band',
  AFTER_SCORES,
  object<SubjectOf<'band'>>({ kind: oneOf(['band']), axis: oneOf(BAND_AXES) }),
  ({ axis }) => `${axis}_band`,
  ({ axis }, { bands }) => holding(`${axis}_band`, 'choice', bands[axis]),
  BAND_AXES.map((axis) => ({ kind: 'band', axis })),
);

export const VERDICT: SubjectRow<SubjectOf<'verdict'>> = computedRow(
  'verdict',
  AFTER_SCORES,
  object<SubjectOf<'verdict'>>({ kind: oneOf(['verdict']) }),
  () => 'verdict',
  () => holding('verdict', 'choice', VERDICT_KEYS),
  [{ kind: 'verdict' }],
);

export const STAGE: SubjectRow<SubjectOf<'stage'>> = computedRow(
  'stage',
  AFTER_SCORES,
  object<SubjectOf<'stage'>>({ kind: oneOf(['stage']) }),
  () => 'stage',
  (_, { stages }) => holding('stage', 'choice', stages),
  [{ kind: 'stage' }],
);

export const DAYS_IN_STAGE: SubjectRow<SubjectOf<'days-in-stage'>> = {
  words: 'days in the stage',
  places: AFTER_SCORES,
  read: object<SubjectOf<'days-in-stage'>>({ kind: oneOf(['days-in-stage']) }),
  holds: () => holding('days_in_stage', 'number', [], 0),
  value: (_, { stageSince, asOf, timeZone }) => ({
    kind: 'number',
    scaled: wholeDays(stageSince, asOf, timeZone),
    decimals: 0,
  }),
  reads: () => 'days_in_stage',
  shown: (subject, facts) => DAYS_IN_STAGE.value(subject, facts),
  all: () => [{ kind: 'days-in-stage' }],
};

export const HOURS_IN_STAGE: SubjectRow<SubjectOf<'hours-in-stage'>> = {
  words: 'hours in the stage',
  places: AFTER_SCORES,
  read: object<SubjectOf<'hours-in-stage'>>({ kind: oneOf(['hours-in-stage']) }),
  holds: () => holding('hours_in_stage', 'number', [], 0),
  value: (_, { stageSince, asOf }) => ({
    kind: 'number',
    scaled: Math.max(0, ageInHours(stageSince, asOf)),
    decimals: 0,
  }),
  reads: () => 'hours_in_stage',
  shown: (subject, facts) => HOURS_IN_STAGE.value(subject, facts),
  all: () => [{ kind: 'hours-in-stage' }],
};

export const OWNER: SubjectRow<SubjectOf<'owner'>> = {
  words: 'the owner',
  places: AFTER_SCORES,
  read: object<SubjectOf<'owner'>>({ kind: oneOf(['owner']) }),
  holds: (_, { owners }) => holding('owner', 'choice', owners),
  value: (_, { owner }) => textValue(owner),
  reads: () => 'owner',
  shown: (_, { owner }) => textValue(owner),
  all: ({ owners }) => (owners.length === 0 ? [] : [{ kind: 'owner' }]),
};

export const TEAM: SubjectRow<SubjectOf<'team'>> = {
  words: 'the owner’s teams',
  places: AFTER_SCORES,
  read: object<SubjectOf<'team'>>({ kind: oneOf(['team']) }),
  holds: (_, { teams }) => holding('team', 'choices', teams),
  value: (_, { teams }) => (teams.length === 0 ? BLANK : { kind: 'choices', ...choicesOf(teams) }),
  reads: () => 'team',
  shown: (subject, facts) => TEAM.value(subject, facts),
  all: ({ teams }) => (teams.length === 0 ? [] : [{ kind: 'team' }]),
};

export const TERRITORY: SubjectRow<SubjectOf<'territory'>> = computedRow(
  'territory',
  AFTER_GATES,
  object<SubjectOf<'territory'>>({ kind: oneOf(['territory']) }),
  () => 'territory',
  (_, { territories }) => holding('territory', 'choice', territories),
  [{ kind: 'territory' }],
);
