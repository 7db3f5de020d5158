import type { Condition } from '../condition/condition';
import type { Decider, Gate } from '../gate/gate';
import type { Stream } from '../route/stream';
import type { Charter } from './charter';

/** A gate, stream or route that names something. */
export interface RuleMention {
  readonly kind: 'gate' | 'stream' | 'route';
  readonly key: string;
  readonly name: string;
}

/**
 * The gates, streams and routes that name something: in their conditions, or beside them.
 *
 * @param asks whether a condition names it
 * @param beside whether a gate or stream names it elsewhere
 */
export function rulesNaming(
  { gates, streams }: Pick<Charter, 'gates' | 'streams'>,
  asks: (when: Condition) => boolean,
  beside: { readonly gate: (gate: Gate) => boolean; readonly stream: (stream: Stream) => boolean } = {
    gate: () => false,
    stream: () => false,
  },
): readonly RuleMention[] {
  const mention = (kind: RuleMention['kind'], { key, name }: Omit<RuleMention, 'kind'>): RuleMention => ({
    kind,
    key,
    name,
  });
  return [
    ...gates
      .filter((gate) => beside.gate(gate) || conditionsOfGate(gate).some(asks))
      .map((gate) => mention('gate', gate)),
    ...streams.flatMap((stream) => [
      ...(beside.stream(stream) || asks(stream.when) ? [mention('stream', stream)] : []),
      ...stream.routes.filter(({ when }) => asks(when)).map((route) => mention('route', route)),
    ]),
  ];
}

/** The gates and streams of a charter with each condition changed, those of routes included. */
export function withConditions(
  { gates, streams }: Pick<Charter, 'gates' | 'streams'>,
  change: (when: Condition) => Condition,
): Pick<Charter, 'gates' | 'streams'> {
  return {
    gates: gates.map((gate) => ({ ...gate, when: change(gate.when), decider: changedDecider(gate.decider, change) })),
    streams: streams.map((stream) => ({
      ...stream,
      when: change(stream.when),
      routes: stream.routes.map((route) => ({ ...route, when: change(route.when) })),
    })),
  };
}

function conditionsOfGate({ when, decider }: Gate): readonly Condition[] {
  return [when, ...(decider.kind === 'asks' ? decider.alternatives.map((one) => one.when) : [])];
}

function changedDecider(decider: Decider, change: (when: Condition) => Condition): Decider {
  if (decider.kind !== 'asks') return decider;
  return { ...decider, alternatives: decider.alternatives.map(({ to, when }) => ({ to, when: change(when) })) };
}
