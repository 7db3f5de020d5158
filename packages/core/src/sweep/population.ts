import type { RecordKind } from '../record/kind';
import type { Test } from '../condition/condition';
import type { Mask } from '../column/mask';
import type { CodeColumn, Column } from '../column/column';
import type { Events } from '../column/events';
import type { Bits } from '../column/bits';

/** Where the records stand as they are stored: what "on enact" begins from. */
export interface StandingColumns {
  /** Codes into `keys`, one more each; 0: none. */
  readonly stage: Uint32Array;
  readonly owner: Uint32Array;
  readonly queue: Uint32Array;
  readonly pin: Uint32Array;
  /** The pipeline that its way in named; none: the first. */
  readonly cameInto: Uint32Array;
  /** When each entered its stage; NaN: with its arrival. */
  readonly stageSince: Float64Array;
  readonly keys: readonly string[];
  /** The number of the charter that gave each its values; 0: it is not known. */
  readonly charter: Uint32Array;
  readonly open: Bits;
  readonly inBay: Bits;
  /** Leads of which a deal is open. */
  readonly dealt: Bits;
  /** Records for which a gate was true at its last look, by look key. */
  readonly looks: ReadonlyMap<string, Bits>;
}

/** All records by columns, in ascending order of their ids. */
export interface Population {
  /** All are of this kind. */
  readonly kind: RecordKind;
  readonly size: number;
  readonly ids: Uint32Array;
  readonly arrived: Float64Array;
  /** When it was closed; NaN while it is open. */
  readonly closed: Float64Array;
  /** When something last happened with it: came in, was edited, or did something. */
  readonly touched: Float64Array;
  /** By which way it came in. */
  readonly way: CodeColumn;
  /** By field. A field that no record has filled may be missing. */
  readonly columns: ReadonlyMap<string, Column>;
  /** By kind of activity; those with certain properties, once they are given, by their {@link happeningKey}. */
  readonly events: Map<string, Events>;
  readonly standing: StandingColumns;
  /** Fields that are not in it, or only by their domain, since they tell who it is. */
  readonly withheld: ReadonlyMap<string, Withheld>;
  /** Answers to tests of what is withheld, by {@link testKey}. */
  readonly given: Map<string, Mask>;
}

export type Withheld = 'all' | 'all but the domain';

/** Under which the answer to a test of what is withheld is kept. */
export function testKey(test: Test): string {
  return JSON.stringify(test);
}
