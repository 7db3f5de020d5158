import { computed, inject, Injectable } from '@angular/core';
import { coverageOf, type TerritoryKey } from '@relvik/core';
import { CharterService } from '../charter/charter.service';

/** A territory as it is offered in a list. */
export interface TerritoryOption {
  readonly key: TerritoryKey | null;
  readonly name: string;
}

export function sameOptions(one: readonly TerritoryOption[], other: readonly TerritoryOption[]): boolean {
  return (
    one.length === other.length && one.every(({ key, name }, i) => key === other[i]?.key && name === other[i].name)
  );
}

/** The territories of the charter that is shown, and their coverage, computed once for all parts of the page. */
@Injectable({ providedIn: 'root' })
export class TerritoryDrawing {
  private readonly charters = inject(CharterService);
  readonly list = computed(() => this.charters.shown()?.territories.list ?? []);
  readonly coverage = computed(() => coverageOf(this.list()));
  /** The coverage of the charter in force. */
  readonly inForce = computed(() => coverageOf(this.charters.inForce()?.charter.territories.list ?? []));
  /** Keys and names, the same list as long as no name changes. */
  readonly options = computed(() => this.list().map(({ key, name }): TerritoryOption => ({ key, name })), {
    equal: sameOptions,
  });
  private readonly names = computed(() => new Map<string, string>(this.list().map(({ key, name }) => [key, name])));

  /** The name of a territory, or of none. */
  nameOf(key: string | null | undefined): string {
    return (key ?? '') === '' ? 'open ground' : (this.names().get(key ?? '') ?? key ?? '');
  }
}
