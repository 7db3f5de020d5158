import { dequal } from 'dequal/lite';
import type { CodeColumn } from '../column/column';
import type { AddressFields, Drawn } from '../territory/territory';

/** Number of sets of territories whose columns are kept: those of the charter in force, and of drafts. */
const KEPT = 4;

/** Territories, and the fields by which they are found. */
type Territories = AddressFields & { readonly list: readonly Drawn[] };

/** The territories of all records. */
export interface TerritoryColumn {
  readonly drawn: Territories;
  readonly column: CodeColumn;
  /** Other territories have another number. */
  readonly number: number;
}

/** The columns of territories over one population; charters with the same territories share one. */
export class TerritoryColumns {
  /** Those used last come first. */
  private readonly kept: TerritoryColumn[] = [];
  private last = 0;

  of(drawn: Territories, make: () => CodeColumn): TerritoryColumn {
    const at = this.kept.findIndex((one) => dequal(one.drawn, drawn));
    const [known] = at < 0 ? [] : this.kept.splice(at, 1);
    const column = known ?? { drawn, column: make(), number: (this.last += 1) };
    this.kept.unshift(column);
    // The longest unused gives way.
    this.kept.length = Math.min(this.kept.length, KEPT);
    return column;
  }
}
