import { kindInWords } from '../activity/activity-kind';
import { COMPANY_OWNER } from '../route/company-owner';

/** What things are called, for words that people read. A key without a name stands for itself. */
export interface Names {
  field(key: string): string;
  stage(key: string): string;
  gate(key: string): string;
  set(key: string): string;
  signal(key: string): string;
  verdict(key: string): string;
  territory(key: string): string;
  route(key: string): string;
  rep(key: string): string;
  team(key: string): string;
  queue(key: string): string;
  /** A list of skills. */
  skill(key: string): string;
  group(key: string): string;
  activity(key: string): string;
  fitBand(key: string): string;
  engagementBand(key: string): string;
}

const COMPUTED_NAMES: Readonly<Record<string, string>> = {
  fit: 'Fit',
  engagement: 'Engagement',
  rank: 'Rank',
  fit_band: 'Fit band',
  engagement_band: 'Engagement band',
  verdict: 'Verdict',
  stage: 'Stage',
  territory: 'Territory',
  arrived: 'Arrived',
  last_activity: 'Last activity',
  way_in: 'Way in',
  days_in_stage: 'Days in this stage',
  hours_in_stage: 'Hours in this stage',
  owner: 'Owner',
  team: 'Owner’s teams',
  [COMPANY_OWNER]: 'Owner of the company',
};

export interface Named {
  readonly key: string;
  readonly name: string;
}

/** Everything that has a name, as lists. */
export interface NameLists {
  readonly fields: readonly Named[];
  readonly stages: readonly Named[];
  readonly gates: readonly Named[];
  readonly sets: readonly Named[];
  readonly signals: readonly Named[];
  readonly verdicts: readonly Named[];
  readonly territories: readonly Named[];
  readonly routes: readonly Named[];
  readonly reps: readonly Named[];
  readonly teams: readonly Named[];
  readonly queues: readonly Named[];
  /** Missing: none has a name. */
  readonly skills?: readonly Named[];
  readonly groups: readonly Named[];
  readonly activities: readonly Named[];
  readonly fitBands: readonly Named[];
  readonly engagementBands: readonly Named[];
}

export const NO_NAMES: NameLists = {
  fields: [],
  stages: [],
  gates: [],
  sets: [],
  signals: [],
  verdicts: [],
  territories: [],
  routes: [],
  reps: [],
  teams: [],
  queues: [],
  groups: [],
  activities: [],
  fitBands: [],
  engagementBands: [],
};

function byKey(named: readonly Named[], missing: (key: string) => string = (key) => key): (key: string) => string {
  const names = new Map(named.map(({ key, name }) => [key, name]));
  return (key) => names.get(key) ?? missing(key);
}

/** Looks names up in lists. */
export function namesFrom(lists: NameLists): Names {
  return {
    field: byKey(lists.fields, (key) => COMPUTED_NAMES[key] ?? key),
    stage: byKey(lists.stages),
    gate: byKey(lists.gates),
    set: byKey(lists.sets),
    signal: byKey(lists.signals),
    verdict: byKey(lists.verdicts),
    territory: byKey(lists.territories),
    route: byKey(lists.routes),
    // Who is not listed is outside the reader's sight.
    rep: byKey(lists.reps, () => 'a colleague'),
    team: byKey(lists.teams),
    queue: byKey(lists.queues),
    skill: byKey(lists.skills ?? []),
    group: byKey(lists.groups),
    activity: byKey(lists.activities, kindInWords),
    fitBand: byKey(lists.fitBands),
    engagementBand: byKey(lists.engagementBands),
  };
}

/** Some names put over those known. */
export function namesOver(lists: Partial<NameLists>, known: Names): Names {
  const over = (list: readonly Named[] | undefined, otherwise: (key: string) => string) =>
    list === undefined ? otherwise : byKey(list, otherwise);
  return {
    field: over(lists.fields, known.field),
    stage: over(lists.stages, known.stage),
    gate: over(lists.gates, known.gate),
    set: over(lists.sets, known.set),
    signal: over(lists.signals, known.signal),
    verdict: over(lists.verdicts, known.verdict),
    territory: over(lists.territories, known.territory),
    route: over(lists.routes, known.route),
    rep: over(lists.reps, known.rep),
    team: over(lists.teams, known.team),
    queue: over(lists.queues, known.queue),
    skill: over(lists.skills, known.skill),
    group: over(lists.groups, known.group),
    activity: over(lists.activities, known.activity),
    fitBand: over(lists.fitBands, known.fitBand),
    engagementBand: over(lists.engagementBands, known.engagementBand),
  };
}
