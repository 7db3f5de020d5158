import type { Axis } from '../signal/signal';
import { type Bits, eachBit, hasBit } from '../column/bits';
import type { CourseCounts, FacetName, Spread, SweptAccount } from './account';
import { Facet } from './facet';

/** The results of one charter for the records that it governs; each record is governed by one. */
export interface Part {
  readonly account: SweptAccount;
  /** Null: all records. */
  readonly governs: Bits | null;
}

/** All records, each as the charter that governs it has it: one side of an impact. */
export class Side {
  constructor(
    readonly parts: readonly [Part, ...Part[]],
    private readonly size: number,
  ) {}

  /** The results of the charter that governs a record. */
  of(record: number): SweptAccount {
    const [first] = this.parts;
    if (first.governs === null) return first.account;
    return (this.parts.find(({ governs }) => governs !== null && hasBit(governs, record)) ?? first).account;
  }

  facet(name: FacetName): Facet {
    const [first] = this.parts;
    if (first.governs === null) return first.account.facets[name];
    const labels = [...new Set(['', ...this.parts.flatMap(({ account }) => account.facets[name].labels)])];
    const codes = new Uint16Array(this.size);
    for (const { account, governs } of this.parts) {
      const facet = account.facets[name];
      const code = facet.labels.map((label) => labels.indexOf(label));
      if (governs !== null)
        eachBit(governs, (i) => {
          codes[i] = code[facet.codes[i] as number] as number;
        });
    }
    return new Facet(labels, codes);
  }

  /** The keys of the sets that any of its charters has on. */
  get sets(): string[] {
    return this.parts.flatMap(({ account }) => [...account.spreads.keys()]);
  }

  /** How scores spread, by the key of each set; null: it is off, or not there. */
  spread(set: string, axis: Axis): Spread | null {
    const spreads = this.parts.flatMap(({ account }) => account.spreads.get(set)?.[axis] ?? []);
    const [first, ...others] = spreads;
    return first === undefined ? null : others.reduce(together, first);
  }

  get course(): CourseCounts {
    const [first, ...others] = this.parts.map(({ account }) => account.course);
    return others.reduce(
      (sum, one) => ({
        intake: sum.intake + one.intake,
        score: sum.score + one.score,
        grade: sum.grade + one.grade,
        gates: sum.gates + one.gates,
        territories: sum.territories + one.territories,
        routes: sum.routes + one.routes,
        people: null,
      }),
      first as CourseCounts,
    );
  }
}

/** Two spreads as one with the steps of the first: where their bounds differ, what lies beyond counts at its ends. */
function together(first: Spread, other: Spread): Spread {
  const counts = [...first.counts];
  other.counts.forEach((count, i) => {
    const step = Math.floor((other.from + i * other.width - first.from) / first.width);
    const at = Math.min(Math.max(step, 0), counts.length - 1);
    counts[at] = (counts[at] ?? 0) + count;
  });
  return { ...first, counts };
}
