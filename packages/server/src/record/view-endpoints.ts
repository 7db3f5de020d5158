import { type LeadQuery, leadQuerySchema, type SavedView, type SaveView, saveViewSchema } from '@relvik/contracts';
import { namesFrom, nameListsOf } from '@relvik/core';
import { writeCsv } from '@relvik/formats';
import type { DataSource } from 'typeorm';
import { type Asked, type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { Refused } from '../api/refused';
import { readGoverning } from '../charter/charter-store';
import { PersonEntity } from '../people/people.entity';
import { sightOf } from '../people/sight';
import { type CsvWording, csvOfLeads } from './lead-csv';
import { listLeads } from './lead-list';
import { SavedViewEntity } from './saved-view.entity';

const EVERYONE: readonly Who[] = ['admin', 'manager', 'rep'];
/** A file has at most so many leads. */
const CSV_LEADS = 10_000;
const PAGE = 100;

/** Lists kept under a name, a person's own or shared by all, and a list as a file. */
export function viewEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;

  async function views(asked: Asked): Promise<SavedView[]> {
    const { key } = userOf(asked);
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
  async function mine(asked: Asked): Promise<SavedViewEntity> {
    const user = userOf(asked);
    const view = await manager.findOneBy(SavedViewEntity, { id: idOf(asked) });
    if (view === null || (view.person !== user.key && !view.shared)) throw Refused.notFound();
    if (view.person !== user.key && user.role !== 'admin') throw Refused.forbidden();
    return view;
  }

  async function file(asked: Asked): Promise<string> {
    const query = await read<LeadQuery>(leadQuerySchema, asked.query);
    const sight = await sightOf(manager, userOf(asked));
    const { ready, world } = await readGoverning(manager, 'none');
    const lists = nameListsOf(ready.charter, world);
    const wording: CsvWording = {
      names: namesFrom(
        sight.all ? lists : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) },
      ),
      timeZone: ready.charter.timeZone,
    };
    const rows = [];
    let after: string | undefined;
    do {
      const page = await listLeads(manager, sight, { ...query, size: PAGE, after }, asked.now);
      rows.push(...page.rows);
      after = page.next ?? undefined;
    } while (after !== undefined && rows.length < CSV_LEADS);
    return writeCsv(csvOfLeads(rows, query, wording));
  }

  return [
    { method: 'get', path: '/api/views', who: EVERYONE, handle: async (asked) => ({ body: await views(asked) }) },
    {
      method: 'post',
      path: '/api/views',
      who: EVERYONE,
      async handle(asked) {
        const view = await read<SaveView>(saveViewSchema, asked.body);
        await manager.insert(SavedViewEntity, { ...view, person: userOf(asked).key });
        return { status: 201, body: await views(asked) };
      },
    },
    {
      method: 'put',
      path: '/api/views/:id',
      who: EVERYONE,
      async handle(asked) {
        const view = await read<SaveView>(saveViewSchema, asked.body);
        const { id } = await mine(asked);
        await manager.save(SavedViewEntity, { id, ...view });
        return { body: await views(asked) };
      },
    },
    {
      method: 'delete',
      path: '/api/views/:id',
      who: EVERYONE,
      async handle(asked) {
        await manager.delete(SavedViewEntity, { id: (await mine(asked)).id });
        return { body: await views(asked) };
      },
    },
    {
      method: 'get',
      path: '/api/leads.csv',
      who: EVERYONE,
      handle: async (asked) => ({ text: { type: 'text/csv', content: await file(asked) } }),
    },
  ];
}
