import { conditionOf } from '../gate/gate';
import { conditionOfRoute } from '../route/company-owner';
import type { Charter } from '../charter/charter';
import type { Decision } from './decision';
import type { GateLook } from '../gate/pass-gates';
import type { Instant } from '../record/keys';
import type { RouteLook, Routing } from '../route/match-route';
import type { Score } from '../score/score-by-sets';
import type { SetScore } from '../score/score-record';
import type { SignalOutcome } from '../signal/points-at';
import { type CondensedAccount, condenseAccount, type FieldRead, restoreAccount } from '../condition/condensed-account';

/** The outcome of a signal: the account of an attribute signal, from which its points follow; else counts. */
type CondensedSignal = readonly [signal: string, CondensedAccount] | readonly [signal: string, ...Seen];

/** Points and counts of an activity or silence signal; empty if all are zero. */
type Seen = readonly [] | readonly [points: number, count: number, counted: number, newest: Instant | null];

type WithSignals<T> = Omit<T, 'signals'> & { readonly signals: readonly CondensedSignal[] };

/**
 * A decision without what the charter that made it says: a quarter of its length. Conditions, axes and points of attributes are
 * left out, since a charter that was in force is never changed.
 */
export interface CondensedDecision extends Omit<Decision, 'score' | 'gates' | 'routing'> {
  /** The value read of each field, as shown. */
  readonly reads: readonly FieldRead[];
  readonly score: WithSignals<Omit<Score, 'beside'>> & { readonly beside: readonly WithSignals<SetScore>[] };
  readonly gates: Omit<Decision['gates'], 'looked'> & {
    readonly looked: readonly (readonly [gate: string, answer: GateLook['answer'], CondensedAccount])[];
  };
  readonly routing:
    | (Pick<Routing, 'match' | 'stays'> & {
        readonly looked: readonly (readonly [stream: string, route: RouteLook['route'], CondensedAccount])[];
      })
    | null;
}

/** Leaves out of a decision what its charter says. {@link restoreDecision} gives it back. */
export function condenseDecision(decision: Decision): CondensedDecision {
  const reads = new Map<string, string>();
  const condensed = (signals: readonly SignalOutcome[]): CondensedSignal[] =>
    signals.map((outcome) =>
      outcome.account === null
        ? [outcome.signal, ...seenBy(outcome)]
        : [outcome.signal, condenseAccount(outcome.account, reads)],
    );
  const { score, gates, routing } = decision;
  return {
    ...decision,
    score: {
      ...score,
      signals: condensed(score.signals),
      beside: score.beside.map((side) => ({ ...side, signals: condensed(side.signals) })),
    },
    gates: {
      ...gates,
      looked: gates.looked.map(({ gate, answer, account }) => [gate, answer, condenseAccount(account, reads)]),
    },
    routing: routing && {
      ...routing,
      looked: routing.looked.map(({ stream, route, account }) => [stream, route, condenseAccount(account, reads)]),
    },
    reads: [...reads],
  };
}

/**
 * The whole decision again.
 *
 * @param charter the one that made it
 * @throws Error if the decision names what the charter does not have
 */
export function restoreDecision(condensed: CondensedDecision, charter: Charter): Decision {
  const { reads: kept, score, gates, routing, ...rest } = condensed;
  const reads = new Map(kept);
  return {
    ...rest,
    score: {
      ...score,
      signals: restoreSignals(score, charter, reads),
      beside: score.beside.map((side) => ({ ...side, signals: restoreSignals(side, charter, reads) })),
    },
    gates: {
      ...gates,
      looked: gates.looked.map(([gate, answer, account]) => ({
        gate,
        answer,
        account: restoreAccount(account, conditionOf(byKey(charter.gates, gate)), reads),
      })),
    },
    routing: routing && {
      ...routing,
      looked: routing.looked.map(([stream, route, account]): RouteLook => {
        const entered = byKey(charter.streams, stream);
        const when = route === null ? entered.when : conditionOfRoute(byKey(entered.routes, route));
        return { stream, route, account: restoreAccount(account, when, reads) };
      }),
    },
  };
}

function seenBy({ points, seen }: SignalOutcome): Seen {
  if (seen === null || (points === 0 && seen.count === 0 && seen.counted === 0 && seen.newest === null)) return [];
  return [points, seen.count, seen.counted, seen.newest];
}

function restoreSignals(
  { set, signals }: WithSignals<Pick<Score, 'set' | 'signals'>>,
  charter: Charter,
  reads: ReadonlyMap<string, string>,
): SignalOutcome[] {
  if (set === null) return [];
  const asked = byKey(charter.scoreSets, set).signals;
  return signals.map(([key, ...found]): SignalOutcome => {
    const signal = byKey(asked, key);
    const { axis } = signal;
    if (signal.kind === 'attribute') {
      const account = restoreAccount(found[0] as CondensedAccount, signal.when, reads);
      const { answer } = account;
      return { signal: key, axis, answer, points: answer === 'yes' ? signal.points : 0, account, seen: null };
    }
    const [points = 0, count = 0, counted = 0, newest = null] = found as Seen;
    const of = signal.kind === 'silence' ? 'silence' : 'activities';
    const seen = { of, count, counted, newest } as const;
    return { signal: key, axis, answer: counted > 0 ? 'yes' : 'no', points, account: null, seen };
  });
}

function byKey<T extends { readonly key: string }>(list: readonly T[], key: string): T {
  const found = list.find((one) => one.key === key);
  if (found === undefined) throw new Error(`The charter has no ${key}`);
  return found;
}
