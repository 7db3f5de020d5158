import type { Charter } from '../charter/charter';
import { readableIn, type ScopeAround } from '../charter/ready-charter';
import { bindCondition } from '../condition/bind-condition';
import { type ReadyCondition, readyTestsIn, type ReadyTest } from '../condition/ready';
import type { Subject, SubjectKind } from '../condition/subject';
import type { Holds } from '../condition/subject-row';
import { holdsOf, readKeyOf } from '../condition/subject-table';
import type { Scope } from '../condition/scope';
import { type Problem, Spot } from '../document/problem';
import type { Field } from '../record/field';
import type { RouteKey } from '../record/keys';
import { currencyDecimals } from '../record/money';
import { COMPANY_OWNER, readyConditionOfRoute } from '../route/company-owner';
import type { Stream } from '../route/stream';
import type { RouteFinding, Witness } from './finding';
import { type Assignment, partly, search, type Variable } from './reach';
import { type Region, regionsOf, valueIn, writtenAt } from './region';

interface Bound {
  readonly key: RouteKey;
  readonly ready: ReadyCondition;
}

/**
 * Routes that no record can come to, and numbers that fall between two routes.
 *
 * Sound: subjects are assumed independent, so an impossible record may be assumed possible, and then a finding is missed. Over a stream whose subjects are independent nothing is missed. Values that can't be
 * judged are left aside: they go to the bay.
 *
 * A charter whose conditions can't be bound has no findings.
 */
export function routeFindings(charter: Charter, around: ScopeAround): readonly RouteFinding[] {
  const scope = readableIn(charter, around, 'route', 'lead');
  return charter.streams.flatMap((stream) => (stream.on ? streamFindings(stream, scope) : []));
}

const OWNER_FIELD: Field = { key: COMPANY_OWNER, name: '', type: 'text', options: [], retired: false };

function streamFindings(stream: Stream, readable: Scope): readonly RouteFinding[] {
  const scope = { ...readable, fields: new Map([...readable.fields, [COMPANY_OWNER, OWNER_FIELD]]) };
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const entry = bindCondition(stream.when, scope, spot);
  const routes = stream.routes
    .filter(({ on }) => on)
    .map(({ key, to, when }): Bound => ({ key, ready: readyConditionOfRoute(to, bindCondition(when, scope, spot)) }));
  if (problems.length > 0) return [];
  const space = new Space([entry, ...routes.map(({ ready }) => ready)], scope);
  return [
    ...routes.flatMap((_, r) => neverReached(stream.key, entry, routes, r, space)),
    ...space.numbers().flatMap((subject) => gapsOf(stream.key, entry, routes, subject, space)),
  ];
}

/** One subject, its variable, and what it holds. */
interface Dimension extends Variable {
  readonly subject: Subject;
  readonly holds: Holds;
}

/** All that some conditions ask about, each split into regions. */
class Space {
  private readonly dimensions = new Map<string, Dimension>();
  readonly keyOf = ({ subject }: ReadyTest): string => JSON.stringify(subject);
  readonly baseDecimals: number;
  private readonly baseCurrency: string;

  constructor(conditions: readonly ReadyCondition[], scope: Scope) {
    this.baseCurrency = scope.baseCurrency;
    this.baseDecimals = currencyDecimals(scope.baseCurrency) ?? 2;
    const bySubject = new Map<string, ReadyTest[]>();
    for (const condition of conditions)
      for (const test of readyTestsIn(condition)) {
        const key = this.keyOf(test);
        bySubject.set(key, [...(bySubject.get(key) ?? []), test]);
      }
    for (const [key, tests] of bySubject) {
      const subject = (tests[0] as ReadyTest).subject;
      const holds = holdsOf(subject, scope, Spot.root([]));
      const regions = holds && regionsOf(holds, tests);
      if (holds && regions) this.dimensions.set(key, { key, subject, holds, regions });
    }
  }

  /** The variables that some conditions ask about, those of the first first; null: one has too many regions. */
  variables(conditions: readonly ReadyCondition[]): readonly Dimension[] | null {
    const found = new Map<string, Dimension>();
    for (const condition of conditions)
      for (const test of readyTestsIn(condition)) {
        const dimension = this.dimensions.get(this.keyOf(test));
        if (dimension === undefined) return null;
        found.set(dimension.key, dimension);
      }
    return [...found.values()];
  }

  /** Subjects whose values are numbers or days. */
  numbers(): readonly Dimension[] {
    return [...this.dimensions.values()].filter(({ regions }) => regions.some(({ kind }) => kind === 'span'));
  }

  /** A record that agrees with an assignment; what is not settled may be anything, and what has no known value is left out. */
  witness(settled: Assignment): readonly Witness[] {
    return [...settled].flatMap(([key, region]): Witness[] => {
      const dimension = this.dimensions.get(key);
      const value = dimension && valueIn(region, dimension.holds, this.baseDecimals);
      if (dimension === undefined || value === undefined || value === null) return [];
      const currency = dimension.holds.type === 'money' && value !== '' ? ` ${this.baseCurrency}` : '';
      return [{ subject: dimension.subject, value: `${value}${currency}` }];
    });
  }
}

function neverReached(
  stream: string,
  entry: ReadyCondition,
  routes: readonly Bound[],
  r: number,
  space: Space,
): RouteFinding[] {
  const { key: route, ready } = routes[r] as Bound;
  const before = routes.slice(0, r);
  const isReached = (others: readonly Bound[]): boolean => {
    // A record comes to it if it enters, matches, and none of the others does.
    const reached: ReadyCondition = {
      kind: 'all',
      of: [ready, entry, { kind: 'not', of: { kind: 'any', of: others.map((one) => one.ready) } }],
    };
    const variables = space.variables([reached]);
    return variables === null || search(variables, (settled) => partly(reached, settled, space.keyOf)) !== 'none';
  };
  if (isReached(before)) return [];
  const taker = isReached([]) ? (before.find((one) => !isReached([one]))?.key ?? 'several') : null;
  return [{ code: 'route-never-reached', severity: 'warning', stream, route, takenBy: taker }];
}

/** Subjects that vary independently: values, and the territory, which may be pinned. */
const FREE: ReadonlySet<SubjectKind> = new Set([
  'field',
  'currency',
  'amount',
  'days-since',
  'arrived',
  'way-in',
  'territory',
]);

/** Whether a record can be made up that agrees with an assignment: nothing in it follows from something else in it. */
function isPossible(subjects: readonly Subject[]): boolean {
  const reads = subjects.map(readKeyOf);
  return subjects.every(({ kind }) => FREE.has(kind)) && new Set(reads).size === reads.length;
}

/** With more spans than this, only gaps of one span are looked for. */
const MANY_SPANS = 30;

/** Stretches of numbers that no route takes, between numbers that two routes take from records alike in all else. */
function gapsOf(
  stream: string,
  entry: ReadyCondition,
  routes: readonly Bound[],
  dimension: Dimension,
  space: Space,
): RouteFinding[] {
  const { key, subject, holds } = dimension;
  const spans = dimension.regions.filter((region): region is Region & { kind: 'span' } => region.kind === 'span');
  const any: ReadyCondition = { kind: 'any', of: routes.map(({ ready }) => ready) };
  const others = space.variables([any, entry])?.filter((one) => one.key !== key);
  if (others === undefined || !isPossible([subject, ...others.map((one) => one.subject)])) return [];
  const taken: ReadyCondition = { kind: 'all', of: [entry, any] };
  const left: ReadyCondition = { kind: 'all', of: [entry, { kind: 'not', of: any }] };
  const said = (settled: Assignment, region: Region, condition: ReadyCondition) =>
    partly(condition, new Map([...settled, [key, region]]), space.keyOf);

  const found: RouteFinding[] = [];
  for (let first = 1; first < spans.length - 1; first += 1)
    for (let last = first; last < spans.length - 1; last += 1) {
      if (last > first && spans.length > MANY_SPANS) break;
      const [below, above] = [spans[first - 1] as Region, spans[last + 1] as Region];
      const gap = spans.slice(first, last + 1);
      const taking = (settled: Assignment, region: Region) =>
        routes.find(({ ready }) => said(settled, region, ready) === 'yes')?.key;
      const proof = search(others, (settled) => {
        const claims = [
          said(settled, below, taken),
          said(settled, above, taken),
          ...gap.map((span) => said(settled, span, left)),
        ];
        if (claims.includes('no')) return 'no';
        if (claims.includes('open')) return 'open';
        // One and the same route around it leaves something out on purpose.
        return taking(settled, below) === taking(settled, above) ? 'no' : 'yes';
      });
      if (typeof proof === 'string') continue;
      const [low, high] = [taking(proof.found, below), taking(proof.found, above)];
      const [from, to] = [gap[0], gap.at(-1)];
      if (low === undefined || high === undefined || from === undefined || to === undefined) continue;
      const written = (at: number): string => writtenAt(at, holds, space.baseDecimals);
      found.push({
        code: 'gap-between-numbers',
        severity: 'warning',
        stream,
        below: low,
        above: high,
        subject,
        from: written(from.first),
        to: written(to.last),
        witness: space.witness(new Map([...proof.found, [key, from]])),
      });
    }
  return found;
}
