import type { TerritoryKey } from '../record/keys';

/** A range of codes of one length, both ends included, and the territory that claims it. */
interface Claimed {
  readonly from: string;
  readonly to: string;
  readonly keys: readonly TerritoryKey[];
}

/** Sorts before a code, and after one, that it follows. */
const [BEGINS, AT, ENDS] = ['\u0000', '\u0001', '\u0002'] as const;

interface Stretches<C> {
  /** Where ranges of one length begin and end, in order. */
  readonly marks: readonly string[];
  /** Between the n-th mark and the one after it: the range that counts there. */
  readonly counting: readonly (C | undefined)[];
}

/** Finds the range that counts for a code by halving, however many there are. */
export class RangeIndex<C extends Claimed> {
  /** Made when something is looked for: a sweep of all records looks at ranges another way. */
  private byLength: ReadonlyMap<number, Stretches<C>> | null = null;

  /** @param ranges in the order in which they count */
  constructor(private readonly ranges: readonly C[]) {}

  find(code: string): C | null {
    const found = (this.byLength ??= stretchesByLength(this.ranges)).get(code.length);
    return found?.counting[countBelow(found.marks, `${code}${AT}`)] ?? null;
  }
}

function stretchesByLength<C extends Claimed>(ranges: readonly C[]): Map<number, Stretches<C>> {
  const lengths = [...new Set(ranges.map(({ from }) => from.length))];
  return new Map(lengths.map((length) => [length, stretchesOf(ranges.filter(({ from }) => from.length === length))]));
}

function stretchesOf<C extends Claimed>(ranges: readonly C[]): Stretches<C> {
  const marks = [...new Set(ranges.flatMap(({ from, to }) => [`${from}${BEGINS}`, `${to}${ENDS}`]))].sort();
  const counting: (C | undefined)[] = new Array<C | undefined>(marks.length + 1).fill(undefined);
  // The first counts: it is laid down last.
  for (const range of [...ranges].reverse())
    counting.fill(range, countBelow(marks, `${range.from}${AT}`), countBelow(marks, `${range.to}${AT}`) + 1);
  return { marks, counting };
}

/** How many of some sorted texts stand before another. */
function countBelow(sorted: readonly string[], text: string): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((sorted[middle] as string) < text) low = middle + 1;
    else high = middle;
  }
  return low;
}
