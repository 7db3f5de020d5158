import type { RulePlace, Scope } from '../condition/scope';
import { tiedFields } from '../condition/tied-fields';
import { COMPANY_OWNER } from '../route/company-owner';
import { type Problem, Spot } from '../document/problem';
import type { ReadyGate } from '../gate/pass-gates';
import { pipelinesOf, stagesOf } from '../gate/pipeline';
import type { Stage } from '../gate/stage';
import type { Surroundings } from '../people/world';
import { readableFields } from '../record/catalogue';
import type { StageKey } from '../record/keys';
import type { RecordKind } from '../record/kind';
import type { ReadyStream } from '../route/match-route';
import type { ReadyScoreSet } from '../score/score-record';
import type { Axis } from '../signal/signal';
import { type Coverage, NO_COVERAGE } from '../territory/coverage';
import { insideOf } from '../territory/territory';
import type { Charter } from './charter';
import { conditionsIn } from './conditions-in';
import type { CharterPart } from './part/part';
import { eachPart } from './parts';

/** The parts of a charter that are bound to fields and people, for records of all kinds. */
export interface ReadyParts {
  readonly scoreSets: readonly ReadyScoreSet[];
  readonly gates: readonly ReadyGate[];
  readonly streams: readonly ReadyStream[];
  readonly coverage: Coverage;
}

/** The part of a charter that governs the records of one kind. */
export interface ReadyRules {
  readonly of: RecordKind;
  readonly scoreSets: readonly ReadyScoreSet[];
  /** Those of its pipelines, in order; none for a kind that has no pipeline. */
  readonly stages: readonly Stage[];
  /** The stage that a new record enters, by pipeline, the first of which is the usual one; none for a kind without pipelines. */
  readonly entries: ReadonlyMap<string, StageKey>;
  readonly gates: readonly ReadyGate[];
  readonly streams: readonly ReadyStream[];
  /** The fields of contacts and companies that its conditions read across a tie, by key. */
  readonly tied: readonly string[];
}

/** A charter bound to fields and people: all its conditions can be judged. */
export interface ReadyCharter {
  readonly charter: Charter;
  readonly rules: Readonly<Record<RecordKind, ReadyRules>>;
  readonly coverage: Coverage;
}

export type Binding =
  { readonly ok: true; readonly ready: ReadyCharter } | { readonly ok: false; readonly problems: readonly Problem[] };

/** The things outside the charter that conditions may name. */
export type ScopeAround = Pick<Surroundings, 'fields' | 'kinds'> & {
  readonly reps: ReadonlyMap<string, unknown>;
  readonly teams: ReadonlyMap<string, unknown>;
};

/** The keys of the bands of all score sets for records of a kind. */
export function bandKeysOf({ scoreSets }: Charter, kind: RecordKind, axis: Axis): readonly string[] {
  const sets = scoreSets.filter(({ of }) => of === kind);
  return [...new Set(sets.flatMap(({ grid }) => grid[axis].bands.map(({ key }) => key)))];
}

/**
 * The subjects that a condition may ask about at its place in a charter.
 *
 * @param kind of the records that it is asked of
 */
export function readableIn(charter: Charter, around: ScopeAround, place: RulePlace, kind: RecordKind): Scope {
  const sets = charter.scoreSets.filter((set) => set.of === kind);
  return {
    place,
    fields: readableFields(around.fields, kind),
    baseCurrency: charter.baseCurrency,
    kinds: around.kinds,
    owners: [...around.reps.keys()],
    teams: [...around.teams.keys()],
    sets: sets.map(({ key }) => key),
    bands: { fit: bandKeysOf(charter, kind, 'fit'), engagement: bandKeysOf(charter, kind, 'engagement') },
    stages: stagesOf(charter, kind).map((stage) => stage.key),
    territories: charter.territories.list.map((territory) => territory.key),
    inside: insideOf(charter.territories.list),
  };
}

const NOTHING: ReadyParts = { scoreSets: [], gates: [], streams: [], coverage: NO_COVERAGE };

function rulesFor(kind: RecordKind, charter: Charter, { scoreSets, gates, streams }: ReadyParts): ReadyRules {
  const stages = stagesOf(charter, kind);
  const keys = new Set<StageKey>(stages.map(({ key }) => key));
  const leadsToOwner = charter.streams.some(
    ({ of, routes }) => of === kind && routes.some(({ to }) => to.kind === 'company-owner'),
  );
  return {
    of: kind,
    scoreSets: scoreSets.filter(({ of }) => of === kind),
    stages,
    entries: new Map(pipelinesOf(charter, kind).map(({ key, entry }) => [key, entry])),
    gates: gates.filter(({ from }) => keys.has(from)),
    streams: streams.filter(({ of }) => of === kind),
    tied: [...tiedFields(conditionsIn(charter, kind), kind), ...(leadsToOwner ? [COMPANY_OWNER] : [])],
  };
}

/**
 * Binds a charter to the fields and people it names.
 *
 * The table of subjects says which of them each condition may ask about. Anything else is a problem, named with the
 * path to it.
 */
export function bindCharter(charter: Charter, people: Surroundings): Binding {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const scopes = new Map<string, Scope>();
  const around = {
    people,
    scope(place: RulePlace, kind: RecordKind): Scope {
      const scope = scopes.get(`${place} ${kind}`) ?? readableIn(charter, people, place, kind);
      scopes.set(`${place} ${kind}`, scope);
      return scope;
    },
  };
  let parts = NOTHING;
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    parts = { ...parts, ...part.bind?.(charter[key], around, spot.at(key), charter) };
  });
  if (problems.length > 0) return { ok: false, problems };
  const rules: ReadyCharter['rules'] = {
    lead: rulesFor('lead', charter, parts),
    contact: rulesFor('contact', charter, parts),
    company: rulesFor('company', charter, parts),
    deal: rulesFor('deal', charter, parts),
  };
  return { ok: true, ready: { charter, rules, coverage: parts.coverage } };
}
