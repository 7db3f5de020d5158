import {
  dealQuerySchema,
  leadQuerySchema,
  type LeadQuery,
  partyQuerySchema,
  type RecordQuery,
  type SavedView,
  saveViewSchema,
} from '@relvik/contracts';
import { namesFrom, nameListsOf, type UnroutedKind, UNROUTED_KINDS } from '@relvik/core';
import { type Table, writeCsv, writeCsvRows } from '@relvik/formats';
import type { DataSource } from 'typeorm';
import { bytes, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { type CsvWording, csvOfLeads, csvOfRecords } from '../list/list-csv';
import { listLeads } from '../list/lead-list';
import { listRecords } from '../list/record-list';
import { Refused } from '../problem/refused';
import type { User } from '../session/session-store';
import { type Sight, sightOf } from '../session/sight';
import { PersonEntity } from '../store/entity/people.entity';
import { SavedViewEntity } from '../store/entity/saved-view.entity';
import { readGoverning } from '../store/governing';
import { retiredPeople } from '../store/organisation';
import { RECORD_PATHS } from './record-paths';

interface TablePage {
  readonly table: Table;
  readonly next: string | null;
}

/** A file is written page by page. */
const PAGE = 100;

/** Lists kept under a name, a person's own or shared by all, and a list as a file. */
export function viewEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;

  async function views({ key }: User): Promise<SavedView[]> {
    const rows = await manager.find(SavedViewEntity, {
      where: [{ person: key }, { shared: true }],
      order: { name: 'ASC', id: 'ASC' },
    });
    const people = await manager.find(PersonEntity, { select: { key: true, name: true } });
    return rows.map(({ id, person, name, shared, kind, query }) => ({
      id,
      name,
      shared,
      kind,
      query,
      own: person === key,
      by: people.find((one) => one.key === person)?.name ?? person,
    }));
  }

  /** A view that the user may change: their own; an admin also takes shared ones away. */
  async function mine(user: User, id: number): Promise<SavedViewEntity> {
    const view = await manager.findOneBy(SavedViewEntity, { id });
    if (view === null || (view.person !== user.key && !view.shared)) throw Refused.notFound();
    if (view.person !== user.key && user.role !== 'admin') throw Refused.as('forbidden');
    return view;
  }

  async function csvWording(sight: Sight): Promise<CsvWording> {
    const { ready, world } = await readGoverning(manager, 'none');
    const lists = nameListsOf(ready.charter, world);
    return {
      names: namesFrom(
        sight.all
          ? { ...lists, reps: [...lists.reps, ...(await retiredPeople(manager))] }
          : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) },
      ),
      timeZone: ready.charter.timeZone,
      pipelines: new Map(ready.charter.pipelines.map(({ key, name }) => [key, name])),
    };
  }

  /**
   * All records of a list as CSV, however many they are. What keeps it from beginning is an answer; later it breaks off.
   *
   * @param pageAfter a page of the list: its table, and where the next begins
   */
  async function file(
    pageAfter: (after: string | undefined) => Promise<TablePage>,
  ): Promise<AsyncIterable<Uint8Array>> {
    const first = await pageAfter(undefined);
    return (async function* pages() {
      yield Buffer.from(writeCsv(first.table));
      for (let { next } = first; next !== null;) {
        const page = await pageAfter(next);
        yield Buffer.from(writeCsvRows(page.table.rows));
        ({ next } = page);
      }
    })();
  }

  async function leadFile(user: User, query: LeadQuery, now: Date): Promise<AsyncIterable<Uint8Array>> {
    const sight = await sightOf(manager, user);
    const wording = await csvWording(sight);
    return file(async (after) => {
      const { rows, next } = await listLeads(manager, sight, { ...query, size: PAGE, after }, now);
      return { table: csvOfLeads(rows, query, wording), next };
    });
  }

  async function recordFile(
    kind: UnroutedKind,
    user: User,
    query: RecordQuery,
    now: Date,
  ): Promise<AsyncIterable<Uint8Array>> {
    const sight = await sightOf(manager, user);
    const wording = await csvWording(sight);
    return file(async (after) => {
      const { rows, next } = await listRecords(manager, kind, sight, { ...query, size: PAGE, after }, now);
      return { table: csvOfRecords(kind, rows, query, wording), next };
    });
  }

  return [
    endpoint({
      method: 'get',
      path: '/api/views',
      who: EVERYONE,
      answer: json<SavedView[]>(),
      call: ({ caller }) => views(caller),
    }),
    endpoint({
      method: 'post',
      path: '/api/views',
      who: EVERYONE,
      body: saveViewSchema,
      answer: json<SavedView[]>(201),
      async call({ caller, body }) {
        await manager.insert(SavedViewEntity, { ...body, person: caller.key });
        return views(caller);
      },
    }),
    endpoint({
      method: 'put',
      path: '/api/views/:id',
      who: EVERYONE,
      params: byId,
      body: saveViewSchema,
      answer: json<SavedView[]>(),
      async call({ caller, params, body }) {
        const { id } = await mine(caller, params.id);
        await manager.save(SavedViewEntity, { id, ...body });
        return views(caller);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/views/:id',
      who: EVERYONE,
      params: byId,
      answer: json<SavedView[]>(),
      async call({ caller, params }) {
        await manager.delete(SavedViewEntity, { id: (await mine(caller, params.id)).id });
        return views(caller);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads.csv',
      who: EVERYONE,
      query: leadQuerySchema,
      answer: bytes('text/csv'),
      call: ({ caller, query, now }) => leadFile(caller, query, now),
    }),
    ...UNROUTED_KINDS.map((kind) =>
      endpoint({
        method: 'get',
        path: `${RECORD_PATHS[kind]}.csv`,
        who: EVERYONE,
        query: kind === 'deal' ? dealQuerySchema : partyQuerySchema,
        answer: bytes('text/csv'),
        call: ({ caller, query, now }) => recordFile(kind, caller, query, now),
      }),
    ),
  ];
}
