import { splitChoices } from '../record/choices';
import { countBits } from '../column/bits';
import type { CodeColumn } from '../column/column';
import type { Population } from '../sweep/population';
import type { World } from '../people/world';

/** The values of a field as they are in the data. */
export interface FieldValues {
  /** Folded texts or currencies with how many records have each; the first 300. */
  readonly values: readonly { readonly value: string; readonly count: number }[];
  /** Smallest and largest number, scaled, or day since 1970. */
  readonly extent: readonly [least: number, most: number] | null;
  readonly filled: number;
}

/**
 * The values of a field in a population, with how many records have each.
 *
 * @param base the currency in which amounts are compared
 */
export function fieldValues(
  field: string,
  population: Population,
  world: Pick<World, 'fields' | 'rates'>,
  base: string,
): FieldValues {
  const column = population.columns.get(field);
  if (column === undefined) return { values: [], extent: null, filled: 0 };
  const codes = column.kind === 'money' ? column.currencies : column.kind === 'codes' ? column : null;
  const values = codes === null ? [] : countedTexts(codes, world.fields.get(field)?.type === 'choices');
  const extent =
    column.kind === 'money'
      ? column.inBase(world.rates, base).extent()
      : column.kind === 'numbers'
        ? column.extent()
        : null;
  const blanks = column.kind === 'money' ? column.currencies.blanks() : column.blanks();
  return { values: values.slice(0, 300), extent, filled: population.size - countBits(blanks) };
}

/** The texts of a column, most frequent first; of several options at once each by itself. */
function countedTexts(codes: CodeColumn, isCombined: boolean): FieldValues['values'] {
  const counts = new Map<string, number>();
  codes.counts().forEach((count, d) => {
    const text = codes.dictionary[d] ?? '';
    for (const one of isCombined ? splitChoices(text) : [text]) counts.set(one, (counts.get(one) ?? 0) + count);
  });
  return [...counts].map(([value, count]) => ({ value, count })).sort((a, b) => b.count - a.count);
}
