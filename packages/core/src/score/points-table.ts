import type { Condition } from '../condition/condition';
import { fold } from '../record/fold';
import type { AttributeSignal, Signal } from '../signal/signal';

/** A fit signal that is given for some values of one field, so that a table of points can show it. */
interface ValueSignal extends AttributeSignal {
  readonly when: Extract<Condition, { test: 'one-of' }>;
}

/** One that is off, capped in a group, or asks for more, stands in no table. */
function isOf(field: string, signal: Signal): signal is ValueSignal {
  return (
    signal.kind === 'attribute' &&
    signal.axis === 'fit' &&
    signal.on &&
    signal.group === null &&
    signal.when.test === 'one-of' &&
    signal.when.subject.kind === 'field' &&
    signal.when.subject.field === field
  );
}

function has(signal: ValueSignal, value: string): boolean {
  return signal.when.values.some((one) => fold(one) === fold(value));
}

const inHundredths = (points: number): number => Math.round(points * 100) / 100;

/**
 * The points that fit signals give for values of a field alone, by folded value. A value that several of them name has their sum.
 *
 * @example pointsByValue(signals, 'industry').get('brewery') // 20
 */
export function pointsByValue(signals: readonly Signal[], field: string): ReadonlyMap<string, number> {
  const points = new Map<string, number>();
  for (const signal of signals)
    if (isOf(field, signal))
      for (const value of new Set(signal.when.values.map(fold)))
        points.set(value, inHundredths((points.get(value) ?? 0) + signal.points));
  return points;
}

/**
 * Signals by which a value of a field gives so many points; other values keep theirs.
 *
 * A signal for this value alone keeps its key and name. Else the value joins the signal that gives as many points for the field, or
 * gets one of its own behind those for the field.
 *
 * @param points at most two decimals; null, or 0: none
 * @param fresh the key and name of a new signal
 */
export function withPointsFor(
  signals: readonly Signal[],
  field: string,
  value: string,
  points: number | null,
  fresh: () => Pick<Signal, 'key' | 'name'>,
): readonly Signal[] {
  const naming = signals.filter((one): one is ValueSignal => isOf(field, one) && has(one, value));
  const [own] = naming;
  if (points !== null && points !== 0 && own !== undefined && naming.length === 1 && own.when.values.length === 1)
    return signals.map((one) => (one === own ? { ...own, points } : one));
  const without = signals.flatMap((one): Signal[] => {
    if (!isOf(field, one) || !has(one, value)) return [one];
    const values = one.when.values.filter((other) => fold(other) !== fold(value));
    return values.length === 0 ? [] : [{ ...one, when: { ...one.when, values } }];
  });
  if (points === null || points === 0) return without;
  const like = without.find((one): one is ValueSignal => isOf(field, one) && one.points === points);
  if (like !== undefined)
    return without.map((one) =>
      one === like ? { ...like, when: { ...like.when, values: [...like.when.values, value] } } : one,
    );
  const made: AttributeSignal = {
    ...fresh(),
    ...{ kind: 'attribute', axis: 'fit', on: true, points, group: null },
    when: { test: 'one-of', subject: { kind: 'field', field }, values: [value] },
  };
  const last = without.findLastIndex((one) => isOf(field, one));
  return last < 0 ? [...without, made] : [...without.slice(0, last + 1), made, ...without.slice(last + 1)];
}
