import type { Watershed, WatershedLink } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { EntityManager, SelectQueryBuilder } from 'typeorm';
import { TeamMemberEntity } from '../store/entity/people.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import type { LeadEntity } from '../store/entity/lead.entity';

type Pair = readonly [from: string | null, to: string | null, count: number];

async function pairs(query: SelectQueryBuilder<LeadEntity>, from: string, to: string): Promise<Pair[]> {
  const rows = await query
    .select(from, 'from')
    .addSelect(to, 'to')
    .addSelect('COUNT(*)', 'count')
    .groupBy('1')
    .addGroupBy('2')
    .getRawMany<{ from: string | number | null; to: string | number | null; count: string }>();
  const text = (one: string | number | null): string | null => (one === null ? null : String(one));
  return rows.map(({ from: was, to: is, count }) => [text(was), text(is), Number(count)]);
}

/** Bands of several sets may have one key: they are one to the eye. */
const BAND = 'lead.fitBand';

/** A place as the picture tells it: a team, a queue, the bay; those not handed over do not reach it. */
const PLACE =
  "CASE lead.place WHEN 'owner' THEN CONCAT('owner:', lead.owner) WHEN 'queue' THEN CONCAT('queue:', lead.queue) WHEN 'bay' THEN 'bay' END";

/**
 * How leads run from source through fit, stage and territory to people: counts between neighbours.
 *
 * @param leads begins a query over the leads in sight
 * @param charter the one in force
 * @param source the key of the field that says where leads came from; null: none does
 */
export async function watershedOf(
  manager: EntityManager,
  leads: () => SelectQueryBuilder<LeadEntity>,
  { streams }: Charter,
  source: string | null,
): Promise<Watershed> {
  const stages = streams.flatMap((stream) => stream.entering);
  const fit = (key: string | null): string => `fit:${key ?? ''}`;
  const handedOver = (): SelectQueryBuilder<LeadEntity> => leads().andWhere('lead.stage IN (:...stages)', { stages });
  const [sources, fits, territories, places, members] = await Promise.all([
    pairs(
      leads().innerJoin(FieldValueEntity, 'value', 'value.record = lead.id AND value.field = :source', {
        source,
      }),
      'value.shown',
      BAND,
    ),
    pairs(leads(), BAND, 'lead.stage'),
    stages.length === 0 ? [] : pairs(handedOver(), 'lead.stage', 'lead.territory'),
    stages.length === 0 ? [] : pairs(handedOver(), 'lead.territory', PLACE),
    manager.find(TeamMemberEntity, { order: { team: 'ASC' } }),
  ]);
  const teamOf = new Map([...members].reverse().map(({ person, team }) => [person, team]));
  const place = (code: string | null): string | null => {
    if (code === null || code === 'bay') return code;
    const [kind, key = ''] = code.split(':');
    const team = kind === 'owner' ? teamOf.get(key) : undefined;
    return kind === 'owner' ? (team === undefined ? `rep:${key}` : `team:${team}`) : code;
  };
  const grouped = new Map<string, WatershedLink>();
  const add = (from: string, to: string, count: number): void => {
    const key = JSON.stringify([from, to]);
    grouped.set(key, { from, to, count: (grouped.get(key)?.count ?? 0) + count });
  };
  for (const [from, to, count] of sources) add(`source:${from ?? ''}`, fit(to), count);
  for (const [from, to, count] of fits) add(fit(from), `stage:${to ?? ''}`, count);
  for (const [from, to, count] of territories) add(`stage:${from ?? ''}`, `territory:${to ?? ''}`, count);
  for (const [territory, code, count] of places) {
    const to = place(code);
    if (to !== null) add(`territory:${territory ?? ''}`, to, count);
  }
  return { links: [...grouped.values()] };
}
