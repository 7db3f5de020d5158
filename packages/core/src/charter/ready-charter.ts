import type { RulePlace, Scope } from '../condition/scope';
import { type Problem, Spot } from '../document/problem';
import type { ReadyGate } from '../gate/pass-gates';
import { stagesOf } from '../gate/pipeline';
import type { Surroundings } from '../people/world';
import type { ReadyStream } from '../route/match-route';
import type { ReadyScoreSet } from '../score/score-record';
import type { Axis } from '../signal/signal';
import type { Coverage } from '../territory/coverage';
import { insideOf } from '../territory/territory';
import type { Charter } from './charter';
import type { CharterPart } from './part/part';
import { eachPart } from './parts';

/** The parts of a charter that are bound to fields and people. */
export interface ReadyParts {
  /** Those for leads. */
  readonly scoreSets: readonly ReadyScoreSet[];
  readonly companySets: readonly ReadyScoreSet[];
  readonly gates: readonly ReadyGate[];
  readonly streams: readonly ReadyStream[];
  readonly coverage: Coverage;
}

/** A charter bound to fields and people: all its conditions can be judged. */
export interface ReadyCharter extends ReadyParts {
  readonly charter: Charter;
}

export type Binding =
  { readonly ok: true; readonly ready: ReadyCharter } | { readonly ok: false; readonly problems: readonly Problem[] };

/** The things outside the charter that conditions may name. */
export type ScopeAround = Pick<Surroundings, 'fields' | 'kinds'> & {
  readonly reps: ReadonlyMap<string, unknown>;
  readonly teams: ReadonlyMap<string, unknown>;
};

/** The keys of the bands of all score sets for leads. */
export function bandKeysOf({ scoreSets }: Charter, axis: Axis): readonly string[] {
  const sets = scoreSets.filter(({ of }) => of === 'lead');
  return [...new Set(sets.flatMap(({ grid }) => grid[axis].bands.map(({ key }) => key)))];
}

/** The subjects that a condition may ask about at its place in a charter. */
export function readableIn(charter: Charter, around: ScopeAround, place: RulePlace): Scope {
  const sets = charter.scoreSets.filter((set) => set.of === 'lead');
  return {
    place,
    fields: around.fields,
    baseCurrency: charter.baseCurrency,
    kinds: around.kinds,
    owners: [...around.reps.keys()],
    teams: [...around.teams.keys()],
    sets: sets.map(({ key }) => key),
    bands: { fit: bandKeysOf(charter, 'fit'), engagement: bandKeysOf(charter, 'engagement') },
    stages: stagesOf(charter).map((stage) => stage.key),
    territories: charter.territories.list.map((territory) => territory.key),
    inside: insideOf(charter.territories.list),
  };
}

const NOTHING: ReadyParts = { scoreSets: [], companySets: [], gates: [], streams: [], coverage: new Map() };

/**
 * Binds a charter to the fields and people it names.
 *
 * The table of subjects says which of them each condition may ask about. Anything else is a problem, named with the
 * path to it.
 */
export function bindCharter(charter: Charter, people: Surroundings): Binding {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const scope = (place: RulePlace): Scope => readableIn(charter, people, place);
  const around = {
    people,
    scopes: { signal: scope('signal'), gate: scope('gate'), route: scope('route'), list: scope('list') },
  };
  let ready = NOTHING;
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    ready = { ...ready, ...part.bind?.(charter[key], around, spot.at(key)) };
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, ready: { charter, ...ready } };
}
