import type { Charter } from '../charter/charter';
import type { Organisation } from '../people/people';
import type { Catalogue } from '../record/field';

/** What things are called, for words that people read. A key without a name stands for itself. */
export interface Names {
  field(key: string): string;
  stage(key: string): string;
  gate(key: string): string;
  signal(key: string): string;
  verdict(key: string): string;
  territory(key: string): string;
  route(key: string): string;
  rep(key: string): string;
  team(key: string): string;
  queue(key: string): string;
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
};

function byKey(...lists: (readonly { readonly key: string; readonly name: string }[])[]): (key: string) => string {
  const names = new Map(lists.flat().map(({ key, name }) => [key, name]));
  return (key) => names.get(key) ?? key;
}

/** The names of a charter, and of the fields and people around it. */
export function namesOf(charter: Charter, fields: Catalogue, people: Organisation): Names {
  const field = byKey([...fields.values()]);
  return {
    field: (key) => COMPUTED_NAMES[key] ?? field(key),
    stage: byKey(charter.stages),
    gate: byKey(charter.gates),
    signal: byKey(charter.scoreSet.signals),
    verdict: byKey(charter.verdicts),
    territory: byKey(charter.territories.list),
    route: byKey(...charter.streams.map((stream) => stream.routes)),
    rep: byKey([...people.reps.values()]),
    team: byKey([...people.teams.values()]),
    queue: byKey([...people.queues.values()]),
  };
}
