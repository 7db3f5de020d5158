import { bindCondition } from '../condition/bind-condition';
import type { RulePlace, Scope } from '../condition/scope';
import { lookKey } from '../gate/gate';
import { type ReadyGate } from '../gate/pass-gates';
import type { Organisation } from '../people/people';
import { COUNTRY_BY_FOLDED_NAME } from '../record/country';
import { fold } from '../record/fold';
import type { ReadyRoute, ReadyStream } from '../route/match-route';
import type { Destination } from '../route/route';
import type { ReadyScoreSet } from '../score/score-record';
import type { ReadySignal } from '../signal/signal';
import type { Axis } from '../signal/signal';
import type { ScoredKind } from '../score/score-set';
import { type Coverage, coverageOf, insideOf } from '../territory/territory';
import type { Surroundings } from '../people/world';
import type { Charter } from './charter';
import { type Problem, Spot } from '../document/problem';

/** A charter bound to fields and people: all its conditions can be judged. */
export interface ReadyCharter {
  readonly charter: Charter;
  /** Those for leads. */
  readonly scoreSets: readonly ReadyScoreSet[];
  readonly companySets: readonly ReadyScoreSet[];
  readonly gates: readonly ReadyGate[];
  readonly streams: readonly ReadyStream[];
  readonly coverage: Coverage;
}

export type Binding =
  { readonly ok: true; readonly ready: ReadyCharter } | { readonly ok: false; readonly problems: readonly Problem[] };

/** The things outside the charter that conditions may name. */
export type ScopeAround = Pick<Surroundings, 'fields' | 'kinds'> & {
  readonly reps: ReadonlyMap<string, unknown>;
  readonly teams: ReadonlyMap<string, unknown>;
};

/** The subjects that a condition may ask about at its place in a charter. */
export function readableIn(charter: Charter, around: ScopeAround, place: RulePlace): Scope {
  const sets = charter.scoreSets.filter((set) => set.of === 'lead');
  const bands = (axis: Axis): string[] => [...new Set(sets.flatMap(({ grid }) => grid[axis].names))];
  return {
    place,
    fields: around.fields,
    baseCurrency: charter.baseCurrency,
    kinds: around.kinds,
    owners: [...around.reps.keys()],
    teams: [...around.teams.keys()],
    sets: sets.map(({ key }) => key),
    bands: { fit: bands('fit'), engagement: bands('engagement') },
    stages: charter.stages.map((stage) => stage.key),
    territories: charter.territories.list.map((territory) => territory.key),
    inside: insideOf(charter.territories.list),
  };
}

function checkDestination(to: Destination, people: Organisation, spot: Spot): void {
  switch (to.kind) {
    case 'rep':
      if (!people.reps.has(to.rep)) spot.at('rep').say(`no such rep: ${to.rep}`);
      return;
    case 'team':
      if (!people.teams.has(to.team)) spot.at('team').say(`no such team: ${to.team}`);
      return;
    case 'queue':
      if (!people.queues.has(to.queue)) spot.at('queue').say(`no such queue: ${to.queue}`);
  }
}

/**
 * Binds a charter to the fields and people it names.
 *
 * The table of subjects says which of them each condition may ask about. Anything else is a problem, named with the
 * path to it.
 */
export function bindCharter(charter: Charter, people: Surroundings): Binding {
  const { fields, kinds } = people;
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const inSignals = readableIn(charter, people, 'signal');
  const inGates = readableIn(charter, people, 'gate');
  const inRoutes = readableIn(charter, people, 'route');

  const sets = charter.scoreSets.map((set, i): ReadyScoreSet => {
    const at = spot.at('scoreSets').at(i);
    const signals = set.signals.map((signal, j): ReadySignal => {
      if (signal.kind !== 'attribute') return signal;
      return { ...signal, ready: bindCondition(signal.when, inSignals, at.at('signals').at(j).at('when')) };
    });
    return { ...set, ready: bindCondition(set.when, inSignals, at.at('when')), signals, kinds };
  });
  const gates = charter.gates.map((gate, i): ReadyGate => ({
    ...gate,
    look: lookKey(gate),
    ready: bindCondition(gate.when, inGates, spot.at('gates').at(i).at('when')),
  }));
  if (fields.get(charter.territories.field)?.type !== 'country') {
    spot.at('territories').at('field').say(`is no field that holds a country: ${charter.territories.field}`);
  }
  const streams = charter.streams.map((stream, i): ReadyStream => {
    const at = spot.at('streams').at(i);
    const routes = stream.routes.map((route, j): ReadyRoute => {
      const routeAt = at.at('routes').at(j);
      checkDestination(route.to, people, routeAt.at('to'));
      return { ...route, ready: bindCondition(route.when, inRoutes, routeAt.at('when')) };
    });
    return { ...stream, ready: bindCondition(stream.when, inRoutes, at.at('when')), routes };
  });
  if (!people.queues.has(charter.lastResort)) spot.at('lastResort').say(`no such queue: ${charter.lastResort}`);

  if (problems.length > 0) return { ok: false, problems };
  const coverage = coverageOf(charter.territories.list, (country) => COUNTRY_BY_FOLDED_NAME.get(fold(country)));
  const of = (kind: ScoredKind): ReadyScoreSet[] => sets.filter((set) => set.of === kind);
  return { ok: true, ready: { charter, scoreSets: of('lead'), companySets: of('company'), gates, streams, coverage } };
}
