import {
  ownRegionSchema,
  regionPlaceSchema,
  renameRegionSchema,
  type SpellingRow,
  spellingsFileSchema,
  type SpellingsRead,
  takeBackSchema,
  type TakenBack,
  takeSchema,
  type Taken,
  type TakePreview,
} from '@relvik/contracts';
import type { OwnRegion } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { addOwnRegion, removeOwnRegion, renameOwnRegion } from '../act/own-regions';
import { readSpellingsFile } from '../act/spellings-file';
import { previewTake, spellingRows, takeBackSpelling, takeSpelling } from '../act/take-spelling';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { OwnRegionEntity } from '../store/entity/catalogue.entity';
import type { WatershedCounts } from '../watershed/watershed-counts';

/** Correcting all that waits may take this long. */
const PATIENCE = 180_000;

/** Spellings of options, countries and regions, and regions of the admin's own: outside the charter, effective at once. */
export function spellingEndpoints(source: DataSource, counts: Pick<WatershedCounts, 'unjudgedNow'>): Endpoint[] {
  const { manager } = source;
  const regions = (): Promise<OwnRegion[]> => manager.find(OwnRegionEntity, { order: { name: 'ASC' } });
  return [
    endpoint({
      method: 'get',
      path: '/api/spellings',
      who: ADMIN,
      answer: json<SpellingRow[]>(),
      call: () => spellingRows(manager),
    }),
    endpoint({
      method: 'post',
      path: '/api/spellings/preview',
      who: ADMIN,
      body: takeSchema,
      answer: json<TakePreview>(),
      call: ({ body }) => previewTake(manager, body),
    }),
    endpoint({
      method: 'post',
      path: '/api/spellings',
      who: ADMIN,
      patience: PATIENCE,
      body: takeSchema,
      answer: json<Taken>(),
      async call({ caller, body, now }) {
        const { spelling, corrected } = await takeSpelling(source, body, { user: caller, at: now });
        const { list, written, means } = spelling;
        return { spelling: { list, written, means }, corrected, rows: await counts.unjudgedNow() };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/spellings/take-back',
      who: ADMIN,
      patience: PATIENCE,
      body: takeBackSchema,
      answer: json<TakenBack>(),
      async call({ caller, body, now }) {
        const restored = await takeBackSpelling(source, body, { user: caller, at: now });
        return { restored, spellings: await spellingRows(manager), rows: await counts.unjudgedNow() };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/spellings/file',
      who: ADMIN,
      patience: PATIENCE,
      body: spellingsFileSchema,
      answer: json<SpellingsRead>(),
      async call({ caller, body, now }) {
        const read = await readSpellingsFile(source, body, { user: caller, at: now });
        if (read.corrected > 0) await counts.unjudgedNow();
        return { ...read, spellings: await spellingRows(manager) };
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/own-regions',
      who: ADMIN,
      answer: json<OwnRegion[]>(),
      call: () => regions(),
    }),
    endpoint({
      method: 'post',
      path: '/api/own-regions',
      who: ADMIN,
      patience: PATIENCE,
      body: ownRegionSchema,
      answer: json<OwnRegion[]>(201),
      async call({ caller, body, now }) {
        await addOwnRegion(source, body, { user: caller, at: now });
        await counts.unjudgedNow();
        return regions();
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/own-regions/:code',
      who: ADMIN,
      patience: PATIENCE,
      params: regionPlaceSchema,
      body: renameRegionSchema,
      answer: json<OwnRegion[]>(),
      async call({ caller, params, body, now }) {
        await renameOwnRegion(source, params.code, body.name, { user: caller, at: now });
        await counts.unjudgedNow();
        return regions();
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/own-regions/:code',
      who: ADMIN,
      params: regionPlaceSchema,
      answer: json<OwnRegion[]>(),
      async call({ params }) {
        await removeOwnRegion(source, params.code);
        return regions();
      },
    }),
  ];
}
