import {
  type CharterState,
  type Distribution,
  enactSchema,
  importDraftSchema,
  type Job,
  type JournalRow,
  keyText,
  newDraftSchema,
  noteDraftSchema,
  type PipelineFigures,
  type RuleCounts,
  saveDraftSchema,
  type WordingDocument,
} from '@relvik/contracts';
import { type Charter, type GroundCount, nameListsOf } from '@relvik/core';
import { type CharterFile, charterPatch } from '@relvik/formats';
import type { DataSource, EntityManager } from 'typeorm';
import { object } from 'yup';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId, byIds } from '../http/read';
import type { WatershedCounts } from '../watershed/watershed-counts';
import {
  charterState,
  discardDraft,
  exportCharter,
  importDraft,
  noteDraft,
  openDraft,
  readAnyCharter,
  saveDraft,
  upToDate,
} from '../charter/charter-life';
import { newDraft } from '../charter/restore';
import { cancelJob, enactDraft, latestJob } from '../charter/enact-draft';
import { readJournal } from '../charter/journal';
import { sightOf } from '../session/sight';
import type { User } from '../session/session-store';
import { charterInForce, readWorldOutside } from '../store/governing';
import { retiredPeople } from '../store/organisation';
import { handlingByHand } from '../store/ways-in';
import type { Background } from '../job/background-worker';

/** Names for the reasoning: of people only those in sight. */
async function wordingFor(manager: EntityManager, user: User): Promise<WordingDocument> {
  const { body } = await charterInForce(manager, 'none');
  const world = await readWorldOutside(manager);
  const sight = await sightOf(manager, user);
  const byHand = await handlingByHand(manager);
  const lists = nameListsOf(body, world);
  const names = sight.all ? lists : { ...lists, reps: lists.reps.filter(({ key }) => sight.owners.includes(key)) };
  const retired = sight.all ? await retiredPeople(manager) : [];
  return {
    ...{ names, retired, byHand },
    fields: [...world.fields.values()],
    kinds: [...world.kinds.values()],
    pipelines: body.pipelines.map(({ key, name, of, stages, entry }) => ({ key, name, of, stages, entry })),
    baseCurrency: body.baseCurrency,
    timeZone: body.timeZone,
    grids: body.scoreSets.map(({ key, of, grid }) => ({
      set: key,
      of,
      fit: grid.fit.bands,
      engagement: grid.engagement.bands,
    })),
  };
}

/** The charter in force, drafts and past ones, enacting, and what the rules come to. */
export function charterEndpoints(source: DataSource, background: Background, counts: WatershedCounts): Endpoint[] {
  const { manager } = source;
  const state = (user: User): Promise<CharterState> => charterState(manager, user);
  const reading = [
    endpoint({
      method: 'get',
      path: '/api/charters',
      who: ADMIN,
      answer: json<CharterState>(),
      call: ({ caller }) => state(caller),
    }),
    endpoint({
      method: 'get',
      path: '/api/wording',
      who: EVERYONE,
      answer: json<WordingDocument>(),
      call: ({ caller }) => wordingFor(manager, caller),
    }),
    endpoint({
      method: 'get',
      path: '/api/charters/:id',
      who: ADMIN,
      params: byId,
      answer: json<Charter>(),
      call: ({ params }) => readAnyCharter(manager, params.id),
    }),
    endpoint({
      method: 'get',
      path: '/api/charters/:id/file',
      who: ADMIN,
      params: byId,
      answer: json<CharterFile>(),
      call: ({ params }) => exportCharter(manager, params.id),
    }),
    endpoint({
      method: 'get',
      path: '/api/charters/:id/patch/:to',
      who: ADMIN,
      params: byIds,
      answer: json<ReturnType<typeof charterPatch>>(),
      call: async ({ params }) =>
        charterPatch(await readAnyCharter(manager, params.id), await readAnyCharter(manager, params.to)),
    }),
    endpoint({
      method: 'get',
      path: '/api/journal',
      who: ADMIN,
      answer: json<JournalRow[]>(),
      call: () => readJournal(manager),
    }),
    endpoint({
      method: 'get',
      path: '/api/score-sets/:set/distribution',
      who: ADMIN,
      params: object({ set: keyText().required() }),
      answer: json<Distribution>(),
      call: ({ params }) => counts.distribution(params.set),
    }),
    endpoint({
      method: 'get',
      path: '/api/rule-counts',
      who: ADMIN,
      answer: json<RuleCounts>(),
      call: () => counts.rules(),
    }),
    endpoint({
      method: 'get',
      path: '/api/ground-counts',
      who: ADMIN,
      answer: json<GroundCount[]>(),
      call: () => counts.grounds(),
    }),
    endpoint({
      method: 'get',
      path: '/api/pipelines',
      who: ADMIN,
      answer: json<PipelineFigures>(),
      call: () => counts.pipelines(),
    }),
  ];
  const drafting = [
    endpoint({
      method: 'post',
      path: '/api/drafts',
      who: ADMIN,
      body: newDraftSchema,
      answer: json<CharterState>(201),
      async call({ caller, body, now }) {
        await newDraft(source, body, caller, now);
        return state(caller);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/drafts/import',
      who: ADMIN,
      body: importDraftSchema,
      answer: json<CharterState>(201),
      async call({ caller, body, now }) {
        await importDraft(source, body.text, caller, now);
        return state(caller);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/drafts/close',
      who: ADMIN,
      answer: json<CharterState>(),
      async call({ caller }) {
        await openDraft(source, null, caller);
        return state(caller);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/drafts/:id/open',
      who: ADMIN,
      params: byId,
      answer: json<CharterState>(),
      async call({ caller, params }) {
        await openDraft(source, params.id, caller);
        return state(caller);
      },
    }),
    endpoint({
      method: 'put',
      path: '/api/drafts/:id',
      who: ADMIN,
      params: byId,
      body: saveDraftSchema,
      answer: json<CharterState>(),
      async call({ caller, params, body, now }) {
        await saveDraft(source, params.id, body, caller, now);
        return state(caller);
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/drafts/:id',
      who: ADMIN,
      params: byId,
      body: noteDraftSchema,
      answer: json<CharterState>(),
      async call({ caller, params, body }) {
        await noteDraft(source, params.id, body.note ?? null);
        return state(caller);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/drafts/:id',
      who: ADMIN,
      params: byId,
      answer: json<CharterState>(),
      async call({ caller, params, now }) {
        await discardDraft(source, params.id, caller, now);
        return state(caller);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/drafts/:id/up-to-date',
      who: ADMIN,
      params: byId,
      answer: json<Awaited<ReturnType<typeof upToDate>>>(),
      call: ({ params }) => upToDate(manager, params.id),
    }),
    endpoint({
      method: 'post',
      path: '/api/drafts/:id/enact',
      who: ADMIN,
      params: byId,
      body: enactSchema,
      answer: json<Job>(202),
      async call({ caller, params, body, now }) {
        const job = await enactDraft(source, params.id, body, caller, now);
        // The answer does not wait for it: its progress is asked for.
        background.wake();
        return job;
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/jobs/latest',
      who: ADMIN,
      answer: json<Job | null>(),
      call: ({ now }) => latestJob(manager, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/jobs/:id/cancel',
      who: ADMIN,
      params: byId,
      answer: json<Job>(),
      call: ({ caller, params, now }) => cancelJob(source, params.id, caller, now),
    }),
  ];
  return [...reading, ...drafting];
}
