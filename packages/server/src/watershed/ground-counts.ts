import {
  countryOfRegion,
  type GroundCount,
  keyOfRole,
  NO_LEADS,
  type Rates,
  type Status,
  type TerritoryKey,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { readGoverning } from '../store/governing';

/** Leads that are alike in ground, territory, and the currency and day of their amount. */
interface Row {
  /** Folded. */
  readonly country: string | null;
  /** Folded. */
  readonly region: string | null;
  readonly territory: TerritoryKey | null;
  readonly status: Status;
  readonly leads: string | number;
  readonly currency: string | null;
  readonly day: string | null;
  readonly minor: string | null;
}

/** A country and a region in it; a region alone tells its country. */
function groundOf({ country, region }: Row): Pick<GroundCount, 'country' | 'region'> | null {
  const code = region?.toUpperCase() ?? null;
  const at = country?.toUpperCase() ?? (code === null ? null : countryOfRegion(code));
  if (at === null) return null;
  return { country: at, region: code !== null && countryOfRegion(code) === at ? code : null };
}

function plus(
  known: GroundCount,
  { status, leads, currency, day, minor }: Row,
  rates: Rates,
  base: string,
): GroundCount {
  const more = Number(leads);
  const money = { minor: Number(minor), currency: currency ?? '', enteredOn: day ?? '' };
  return {
    ...known,
    leads: known.leads + more,
    open: known.open + (status === 'open' ? more : 0),
    won: known.won + (status === 'won' ? more : 0),
    closed: known.closed + (status === 'won' || status === 'lost' ? more : 0),
    value: known.value + (currency === null ? 0 : (rates.toBase(money, base) ?? 0)),
  };
}

/**
 * Leads by the country and region of their address, and the territory in which they lie. Amounts of one currency and day are added
 * before they are converted.
 */
export async function groundCounts(manager: EntityManager): Promise<GroundCount[]> {
  const { ready, world } = await readGoverning(manager, 'none');
  const { baseCurrency, territories } = ready.charter;
  const amount = keyOfRole(world.fields, 'lead', 'amount');
  const [column, joined] =
    amount === null
      ? ['NULL AS currency, NULL AS day, NULL AS minor', '']
      : [
          'm.currency, m.day, SUM(m.number) AS minor',
          "LEFT JOIN field_value m ON m.record = l.id AND m.field = ? AND m.kind = 'money' AND l.status = 'open'",
        ];
  // By the folded texts: they are short and compared byte by byte.
  const rows = await manager.query<Row[]>(
    `SELECT c.folded AS country, r.folded AS region, l.territory, l.status, COUNT(*) AS leads, ${column}
     FROM \`lead\` l
     LEFT JOIN field_value c ON c.record = l.id AND c.field = ? AND c.kind = 'text'
     LEFT JOIN field_value r ON r.record = l.id AND r.field = ? AND r.kind = 'text'
     ${joined}
     GROUP BY 1, 2, 3, 4${amount === null ? '' : ', 6, 7'}`,
    [territories.field, territories.regionField ?? '', ...(amount === null ? [] : [amount])],
  );
  const counts = new Map<string, GroundCount>();
  for (const row of rows) {
    const ground = groundOf(row);
    if (ground === null) continue;
    const name = `${ground.country} ${ground.region ?? ''} ${row.territory ?? ''}`;
    const known = counts.get(name) ?? { ...ground, territory: row.territory, ...NO_LEADS };
    counts.set(name, plus(known, row, world.rates, baseCurrency));
  }
  return [...counts.values()];
}
