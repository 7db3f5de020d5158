import type { Charter } from '../charter/charter';
import type { TerritoryKey } from '../record/keys';
import { fold } from '../record/fold';
import { type Coverage, territoryOf } from '../territory/coverage';
import { type Bits, clearBit } from '../column/bits';
import { CodeColumn } from '../column/column';
import type { Population } from './population';

/** The territory of every record, as texts: blank on open ground and without an address, unreadable like the address. */
export function territoryColumn(
  population: Population,
  territories: Charter['territories'],
  coverage: Coverage,
): CodeColumn {
  const keys = territories.list.map((territory) => territory.key);
  const codeOf = new Map<string, number>(keys.map((key, k) => [key, k + 1]));
  const codes = new Uint32Array(population.size);
  const country = population.columns.get(territories.field);
  let unreadable: Bits | null = null;
  if (country?.kind === 'codes') {
    const byCountry = Uint32Array.of(
      0,
      ...country.dictionary.map((folded) => {
        const answer = territoryOf(coverage, null, { kind: 'text', text: folded, folded });
        return answer.found === 'covered' ? (codeOf.get(answer.territory) ?? 0) : 0;
      }),
    );
    for (let i = 0; i < codes.length; i += 1) codes[i] = byCountry[country.codes[i] as number] as number;
    unreadable = country.unreadable?.slice() ?? null;
  }
  const { pin, keys: known } = population.standing;
  const pinned = Uint32Array.of(0, ...known.map((key) => codeOf.get(key as TerritoryKey) ?? 0));
  for (let i = 0; i < codes.length; i += 1) {
    if (pin[i] === 0) continue;
    codes[i] = pinned[pin[i] as number] as number;
    if (unreadable !== null) clearBit(unreadable, i);
  }
  return new CodeColumn(codes, keys.map(fold), unreadable);
}
