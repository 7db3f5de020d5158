import {
  type Enact,
  enactSchema,
  type NewDraft,
  newDraftSchema,
  type SaveDraft,
  saveDraftSchema,
  type WordingDocument,
} from '@relvik/contracts';
import { nameListsOf } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { distributionOf, ruleCounts } from '../home/counts';
import { charterState, discardDraft, enactDraft, latestJob, newDraft, saveDraft } from './charter-life';
import { sightOf } from '../people/sight';
import type { User } from '../session/session-store';
import { charterInForce, readWorldOutside } from './charter-store';
import { finishRescores } from './rescore';

const ADMIN: readonly Who[] = ['admin'];

/** Names for the reasoning: of people only those in sight. */
async function wordingFor(manager: EntityManager, user: User): Promise<WordingDocument> {
  const { body } = await charterInForce(manager, 'none');
  const world = await readWorldOutside(manager);
  const sight = await sightOf(manager, user);
  const lists = nameListsOf(body, world.fields, world);
  const names = sight.all ? lists : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) };
  return {
    names,
    fields: [...world.fields.values()],
    baseCurrency: body.baseCurrency,
    timeZone: body.timeZone,
    engagementBands: body.scoreSet.grid.engagement.names.length,
  };
}

/** The charter in force, the draft, enacting, and what the rules come to. */
export function charterEndpoints(source: DataSource, now: () => Date, report: (error: unknown) => void): Endpoint[] {
  const { manager } = source;
  return [
    { method: 'get', path: '/api/charters', who: ADMIN, handle: async () => ({ body: await charterState(manager) }) },
    {
      method: 'get',
      path: '/api/wording',
      who: ['admin', 'manager', 'rep'],
      handle: async (asked) => ({ body: await wordingFor(manager, userOf(asked)) }),
    },
    {
      method: 'post',
      path: '/api/drafts',
      who: ADMIN,
      async handle(asked) {
        const { name } = await read<NewDraft>(newDraftSchema, asked.body);
        await newDraft(source, name, userOf(asked).name, asked.now);
        return { status: 201, body: await charterState(manager) };
      },
    },
    {
      method: 'put',
      path: '/api/drafts/:id',
      who: ADMIN,
      async handle(asked) {
        const { version, charter } = await read<SaveDraft>(saveDraftSchema, asked.body);
        await saveDraft(source, idOf(asked), version, charter, userOf(asked).name, asked.now);
        return { body: await charterState(manager) };
      },
    },
    {
      method: 'delete',
      path: '/api/drafts/:id',
      who: ADMIN,
      async handle(asked) {
        await discardDraft(source, idOf(asked));
        return { body: await charterState(manager) };
      },
    },
    {
      method: 'post',
      path: '/api/drafts/:id/enact',
      who: ADMIN,
      async handle(asked) {
        const { version, reason } = await read<Enact>(enactSchema, asked.body);
        const job = await enactDraft(source, idOf(asked), version, reason, userOf(asked).name, asked.now);
        // The answer does not wait for it: its progress is asked for.
        finishRescores(source, now).catch(report);
        return { status: 202, body: job };
      },
    },
    { method: 'get', path: '/api/jobs/latest', who: ADMIN, handle: async () => ({ body: await latestJob(manager) }) },
    {
      method: 'get',
      path: '/api/distribution',
      who: ADMIN,
      handle: async () => ({ body: await distributionOf(manager) }),
    },
    { method: 'get', path: '/api/rule-counts', who: ADMIN, handle: async () => ({ body: await ruleCounts(manager) }) },
  ];
}
