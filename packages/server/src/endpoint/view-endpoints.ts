import { type LeadPage, leadQuerySchema, type LeadQuery, type SavedView, saveViewSchema } from '@relvik/contracts';
import { namesFrom, nameListsOf } from '@relvik/core';
import { type Table, writeCsv, writeCsvRows } from '@relvik/formats';
import type { DataSource } from 'typeorm';
import { bytes, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { type CsvWording, csvOfLeads } from '../list/lead-csv';
import { listLeads } from '../list/lead-list';
import { Refused } from '../problem/refused';
import type { User } from '../session/session-store';
import { sightOf } from '../session/sight';
import { PersonEntity } from '../store/entity/people.entity';
import { SavedViewEntity } from '../store/entity/saved-view.entity';
import { readGoverning } from '../store/governing';

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
    return rows.map(({ id, person, name, shared, query }) => ({
      id,
      name,
      shared,
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

  /** All leads of a list as CSV, however many they are. What keeps it from beginning is an answer; later it breaks off. */
  async function file(user: User, query: LeadQuery, now: Date): Promise<AsyncIterable<Uint8Array>> {
    const sight = await sightOf(manager, user);
    const { ready, world } = await readGoverning(manager, 'none');
    const lists = nameListsOf(ready.charter, world);
    const wording: CsvWording = {
      names: namesFrom(
        sight.all ? lists : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) },
      ),
      timeZone: ready.charter.timeZone,
    };
    const pageAfter = (after: string | undefined): Promise<LeadPage> =>
      listLeads(manager, sight, { ...query, size: PAGE, after }, now);
    const tableOf = ({ rows }: LeadPage): Table => csvOfLeads(rows, query, wording);
    const first = await pageAfter(undefined);
    return (async function* pages() {
      yield Buffer.from(writeCsv(tableOf(first)));
      for (let { next } = first; next !== null;) {
        const page = await pageAfter(next);
        yield Buffer.from(writeCsvRows(tableOf(page).rows));
        ({ next } = page);
      }
    })();
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
      call: ({ caller, query, now }) => file(caller, query, now),
    }),
  ];
}
