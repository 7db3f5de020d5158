import {
  type Enact,
  enactSchema,
  type ImportDraft,
  importDraftSchema,
  type NewDraft,
  newDraftSchema,
  type NoteDraft,
  noteDraftSchema,
  type SaveDraft,
  saveDraftSchema,
  type WordingDocument,
} from '@relvik/contracts';
import { nameListsOf } from '@relvik/core';
import { charterPatch } from '@relvik/formats';
import type { DataSource, EntityManager } from 'typeorm';
import { type Asked, type Answer, type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { distributionOf, ruleCounts } from '../home/counts';
import {
  charterState,
  discardDraft,
  exportCharter,
  importDraft,
  newDraft,
  noteDraft,
  openDraft,
  readAnyCharter,
  saveDraft,
  upToDate,
} from './charter-life';
import { cancelJob, enactDraft, latestJob } from './enact-draft';
import { readJournal } from './journal';
import { sightOf } from '../people/sight';
import type { User } from '../session/session-store';
import { charterInForce, readWorldOutside } from './charter-store';
import type { Tending } from '../tend/tending';

const ADMIN: readonly Who[] = ['admin'];

/** Names for the reasoning: of people only those in sight. */
async function wordingFor(manager: EntityManager, user: User): Promise<WordingDocument> {
  const { body } = await charterInForce(manager, 'none');
  const world = await readWorldOutside(manager);
  const sight = await sightOf(manager, user);
  const lists = nameListsOf(body, world);
  const names = sight.all ? lists : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) };
  return {
    names,
    fields: [...world.fields.values()],
    kinds: [...world.kinds.values()],
    baseCurrency: body.baseCurrency,
    timeZone: body.timeZone,
    grids: body.scoreSets.map(({ key, of, grid }) => ({
      set: key,
      of,
      fit: grid.fit.names,
      engagement: grid.engagement.names,
    })),
  };
}

/** The charter in force, drafts and past ones, enacting, and what the rules come to. */
export function charterEndpoints(source: DataSource, tending: Tending): Endpoint[] {
  const { manager } = source;
  const admin = (method: Endpoint['method'], path: string, handle: Endpoint['handle']): Endpoint => ({
    method,
    path,
    who: ADMIN,
    handle,
  });
  const state = async (asked: Asked, status = 200): Promise<Answer> => ({
    status,
    body: await charterState(manager, userOf(asked)),
  });
  return [
    admin('get', '/api/charters', (asked) => state(asked)),
    {
      method: 'get',
      path: '/api/wording',
      who: ['admin', 'manager', 'rep'],
      handle: async (asked) => ({ body: await wordingFor(manager, userOf(asked)) }),
    },
    admin('get', '/api/charters/:id', async (asked) => ({ body: await readAnyCharter(manager, idOf(asked)) })),
    admin('get', '/api/charters/:id/file', async (asked) => ({ body: await exportCharter(manager, idOf(asked)) })),
    admin('get', '/api/charters/:id/patch/:to', async (asked) => ({
      body: charterPatch(await readAnyCharter(manager, idOf(asked)), await readAnyCharter(manager, idOf(asked, 'to'))),
    })),
    admin('get', '/api/journal', async () => ({ body: await readJournal(manager) })),
    admin('post', '/api/drafts', async (asked) => {
      await newDraft(source, await read<NewDraft>(newDraftSchema, asked.body), userOf(asked), asked.now);
      return state(asked, 201);
    }),
    admin('post', '/api/drafts/import', async (asked) => {
      const { text } = await read<ImportDraft>(importDraftSchema, asked.body);
      await importDraft(source, text, userOf(asked), asked.now);
      return state(asked, 201);
    }),
    admin('post', '/api/drafts/close', async (asked) => {
      await openDraft(source, null, userOf(asked));
      return state(asked);
    }),
    admin('post', '/api/drafts/:id/open', async (asked) => {
      await openDraft(source, idOf(asked), userOf(asked));
      return state(asked);
    }),
    admin('put', '/api/drafts/:id', async (asked) => {
      await saveDraft(
        source,
        idOf(asked),
        await read<SaveDraft>(saveDraftSchema, asked.body),
        userOf(asked),
        asked.now,
      );
      return state(asked);
    }),
    admin('patch', '/api/drafts/:id', async (asked) => {
      const { note } = await read<NoteDraft>(noteDraftSchema, asked.body);
      await noteDraft(source, idOf(asked), note);
      return state(asked);
    }),
    admin('delete', '/api/drafts/:id', async (asked) => {
      await discardDraft(source, idOf(asked), userOf(asked), asked.now);
      return state(asked);
    }),
    admin('get', '/api/drafts/:id/up-to-date', async (asked) => ({ body: await upToDate(manager, idOf(asked)) })),
    admin('post', '/api/drafts/:id/enact', async (asked) => {
      const enact = await read<Enact>(enactSchema, asked.body);
      const job = await enactDraft(source, idOf(asked), enact, userOf(asked), asked.now);
      // The answer does not wait for it: its progress is asked for.
      tending.wake();
      return { status: 202, body: job };
    }),
    admin('get', '/api/jobs/latest', async ({ now: at }) => ({ body: await latestJob(manager, at) })),
    admin('post', '/api/jobs/:id/cancel', async (asked) => ({
      body: await cancelJob(source, idOf(asked), userOf(asked), asked.now),
    })),
    admin('get', '/api/score-sets/:set/distribution', async ({ params }) => ({
      body: await distributionOf(manager, params['set'] ?? ''),
    })),
    admin('get', '/api/rule-counts', async () => ({ body: await ruleCounts(manager) })),
  ];
}
