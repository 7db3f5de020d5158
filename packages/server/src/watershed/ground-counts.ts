import type { GroundCount } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { charterInForce } from '../store/governing';

/** Leads by the country and region of their address, and the territory in which they lie. */
export async function groundCounts(manager: EntityManager): Promise<GroundCount[]> {
  const { body } = await charterInForce(manager, 'none');
  const { field, regionField } = body.territories;
  const rows = await manager.query<
    {
      country: string;
      region: string | null;
      territory: string | null;
      leads: string | number;
      open: string;
      won: string;
      closed: string;
    }[]
  >(
    `SELECT a.country, a.region, a.territory, COUNT(*) AS leads, SUM(a.status = 'open') AS open,
       SUM(a.status = 'won') AS won, SUM(a.status IN ('won', 'lost')) AS closed
     FROM (
       SELECT COALESCE(c.shown, LEFT(r.shown, 2)) AS country, l.territory, l.status,
         IF(c.shown IS NULL OR r.shown LIKE CONCAT(c.shown, '-%'), r.shown, NULL) AS region
       FROM \`lead\` l
       LEFT JOIN field_value c ON c.record = l.id AND c.field = ? AND c.kind = 'text'
       LEFT JOIN field_value r ON r.record = l.id AND r.field = ? AND r.kind = 'text'
     ) a
     WHERE a.country IS NOT NULL GROUP BY a.country, a.region, a.territory`,
    [field, regionField ?? ''],
  );
  return rows.map(({ country, region, territory, leads, open, won, closed }) => ({
    ...{ country, region, territory: territory as GroundCount['territory'], leads: Number(leads) },
    ...{ open: Number(open), won: Number(won), closed: Number(closed) },
  }));
}
