import type { Charter } from '../charter/charter';
import { kindInWords } from '../activity/activity-kind';
import type { Surroundings } from '../people/world';

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
  group(key: string): string;
  activity(key: string): string;
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
  owner: 'Owner',
  team: 'Owner’s teams',
};

interface Named {
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
  readonly groups: readonly Named[];
  readonly activities: readonly Named[];
}

/** What a charter names, and the world around it. */
export function nameListsOf(charter: Charter, world: Surroundings): NameLists {
  const only = ({ key, name }: Named): Named => ({ key, name });
  return {
    fields: [...world.fields.values()].map(only),
    stages: charter.stages.map(only),
    gates: charter.gates.map(only),
    sets: charter.scoreSets.map(only),
    signals: charter.scoreSets.flatMap((set) => set.signals).map(only),
    verdicts: charter.verdicts.map(only),
    territories: charter.territories.list.map(only),
    routes: charter.streams.flatMap((stream) => stream.routes).map(only),
    reps: [...world.reps.values()].map(only),
    teams: [...world.teams.values()].map(only),
    queues: [...world.queues.values()].map(only),
    groups: charter.scoreSets.flatMap((set) => set.groups).map(only),
    activities: [...world.kinds.values()].map(only),
  };
}

/** The names of a charter's own parts put over those known: a draft has parts that the charter in force lacks. */
export function withNamesOf(charter: Charter, known: Names): Names {
  const over = (list: readonly Named[], otherwise: (key: string) => string) => byKey(list, otherwise);
  return {
    ...known,
    stage: over(charter.stages, known.stage),
    gate: over(charter.gates, known.gate),
    set: over(charter.scoreSets, known.set),
    signal: over(
      charter.scoreSets.flatMap(({ signals }) => signals),
      known.signal,
    ),
    territory: over(charter.territories.list, known.territory),
    route: over(
      charter.streams.flatMap(({ routes }) => routes),
      known.route,
    ),
  };
}

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
    group: byKey(lists.groups),
    activity: byKey(lists.activities, kindInWords),
  };
}

/** The names of a charter, and of the world around it. */
export function namesOf(charter: Charter, world: Surroundings): Names {
  return namesFrom(nameListsOf(charter, world));
}
