import {
  dealQuerySchema,
  type DealSums,
  editRecordSchema,
  findSchema,
  type FoundRecord,
  knownBySchema,
  type LeadsMade,
  makeLeadsSchema,
  moveDealSchema,
  newRecordSchema,
  noteActivitySchema,
  noCompanySchema,
  type NoCompanyRow,
  ownRecordSchema,
  partyQuerySchema,
  type RecordDetail,
  type RecordDocument,
  type RecordPage,
  settleSaidSchema,
  type Tagged,
  tagManySchema,
} from '@relvik/contracts';
import { type Cycle, TIE_KINDS, UNROUTED_KINDS, type UnroutedKind } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { editRecord, settleRecordSaid } from '../act/change-record';
import { addKnownBy, readNoCompany, removeKnownBy, writeNoCompany } from '../act/known-by';
import { usualCycle } from '../act/make-deals';
import { makeLeads } from '../act/make-leads';
import { makeRecord } from '../act/make-record';
import { moveDeal } from '../act/move-deal';
import { noteActivity } from '../act/note-activity';
import { ownRecord } from '../act/own-record';
import { tagRecords } from '../act/tag-records';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { dealSums } from '../list/deal-sums';
import type { LeadWriter } from '../intake/intake-writer';
import { findRecords } from '../list/find-records';
import { LIST_KINDS } from '../list/list-kinds';
import { countOf } from '../list/page';
import { listRecords } from '../list/record-list';
import type { PopulationDesk } from '../population/population-desk';
import { recordDocument } from '../reasoning/record-document';
import { recordDetail } from '../reasoning/record-detail';
import type { User } from '../session/session-store';
import { sightOf } from '../session/sight';
import { deskEndpoints } from './desk-endpoints';
import { RECORD_PATHS } from './record-paths';

/** A desk for each kind: what a draft makes of all its records. */
export type Desks = Readonly<Record<UnroutedKind, PopulationDesk>>;

/** Contacts, companies and deals: lists, one of them, what people do with it by hand, and what a draft makes of all. */
export function recordEndpoints(source: DataSource, desks: Desks, writer: Pick<LeadWriter, 'accept'>): Endpoint[] {
  return [
    ...TIE_KINDS.map((kind) =>
      endpoint({
        method: 'post',
        path: `${RECORD_PATHS[kind]}/leads`,
        who: EVERYONE,
        patience: 60_000,
        body: makeLeadsSchema,
        answer: json<LeadsMade>(),
        call: ({ caller, body, now }) =>
          makeLeads(source, (inquiry) => writer.accept(inquiry), kind, body, { user: caller, at: now }),
      }),
    ),
    ...UNROUTED_KINDS.flatMap((kind) => endpointsOf(source, kind, desks[kind])),
    ...dealEndpoints(source),
    ...companyNames(source),
    endpoint({
      method: 'get',
      path: '/api/find',
      who: EVERYONE,
      query: findSchema,
      answer: json<readonly FoundRecord[]>(),
      call: async ({ caller, query: { text } }) =>
        findRecords(source.manager, await sightOf(source.manager, caller), text),
    }),
  ];
}

/** A record as it is after work on it. */
async function after(source: DataSource, kind: UnroutedKind, id: number, user: User, now: Date): Promise<RecordDetail> {
  // All of it as of one instant: what comes in meanwhile must not look like what is out of sight.
  return source.transaction('REPEATABLE READ', async (manager) =>
    recordDetail(manager, kind, id, await sightOf(manager, user), user, now),
  );
}

function endpointsOf(source: DataSource, kind: UnroutedKind, desk: PopulationDesk): Endpoint[] {
  const { manager } = source;
  const path = RECORD_PATHS[kind];
  const query = kind === 'deal' ? dealQuerySchema : partyQuerySchema;
  return [
    endpoint({
      method: 'get',
      path,
      who: EVERYONE,
      query,
      answer: json<RecordPage>(),
      call: async ({ caller, query: by, now }) => listRecords(manager, kind, await sightOf(manager, caller), by, now),
    }),
    endpoint({
      method: 'get',
      path: `/api/${kind}-count`,
      who: EVERYONE,
      query,
      answer: json<{ count: number }>(),
      call: async ({ caller, query: by, now }) => ({
        count: await countOf(manager, LIST_KINDS[kind], await sightOf(manager, caller), by, now),
      }),
    }),
    endpoint({
      method: 'post',
      path,
      who: EVERYONE,
      body: newRecordSchema,
      answer: json<RecordDetail>(201),
      async call({ caller, body, now }) {
        const id = await makeRecord(source, kind, body, { user: caller, at: now });
        return after(source, kind, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: `${path}/tags`,
      who: EVERYONE,
      patience: 60_000,
      body: tagManySchema,
      answer: json<Tagged>(),
      call: ({ caller, body, now }) => tagRecords(source, kind, body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'get',
      path: `${path}/:id`,
      who: EVERYONE,
      params: byId,
      answer: json<RecordDetail>(),
      call: ({ caller, params: { id }, now }) => after(source, kind, id, caller, now),
    }),
    endpoint({
      method: 'get',
      path: `${path}/:id/record`,
      who: ADMIN,
      params: byId,
      answer: json<RecordDocument>(),
      call: ({ params: { id } }) => recordDocument(manager, kind, id),
    }),
    endpoint({
      method: 'patch',
      path: `${path}/:id`,
      who: EVERYONE,
      params: byId,
      body: editRecordSchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body, now }) {
        await editRecord(source, kind, id, body, { user: caller, at: now });
        return after(source, kind, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: `${path}/:id/owner`,
      who: ['admin', 'manager'],
      params: byId,
      body: ownRecordSchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body: { owner }, now }) {
        await ownRecord(source, kind, id, owner, { user: caller, at: now });
        return after(source, kind, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: `${path}/:id/activities`,
      who: EVERYONE,
      params: byId,
      body: noteActivitySchema,
      answer: json<RecordDetail>(201),
      async call({ caller, params: { id }, body, now }) {
        await noteActivity(source, kind, id, body, { user: caller, at: now });
        return after(source, kind, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: `${path}/:id/said`,
      who: EVERYONE,
      params: byId,
      body: settleSaidSchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body: { field, take }, now }) {
        await settleRecordSaid(source, kind, id, field, take, { user: caller, at: now });
        return after(source, kind, id, caller, now);
      },
    }),
    ...deskEndpoints(path, desk),
  ];
}

function dealEndpoints(source: DataSource): Endpoint[] {
  return [
    endpoint({
      method: 'get',
      path: '/api/deal-sums',
      who: EVERYONE,
      query: dealQuerySchema,
      answer: json<DealSums>(),
      call: async ({ caller, query, now }) =>
        dealSums(source.manager, await sightOf(source.manager, caller), query, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/cycle',
      who: ADMIN,
      answer: json<Cycle>(),
      call: ({ now }) => usualCycle(source.manager, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/deals/:id/stage',
      who: EVERYONE,
      params: byId,
      body: moveDealSchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body, now }) {
        await moveDeal(source, id, body, { user: caller, at: now });
        return after(source, 'deal', id, caller, now);
      },
    }),
  ];
}

/** Alias names and domains of companies, and words that name none. */
function companyNames(source: DataSource): Endpoint[] {
  return [
    endpoint({
      method: 'post',
      path: '/api/companies/:id/known-by',
      who: EVERYONE,
      params: byId,
      body: knownBySchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body, now }) {
        await addKnownBy(source, id, body, { user: caller, at: now });
        return after(source, 'company', id, caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/companies/:id/known-by',
      who: EVERYONE,
      params: byId,
      body: knownBySchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body, now }) {
        await removeKnownBy(source, id, body, { user: caller, at: now });
        return after(source, 'company', id, caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/no-companies',
      who: ADMIN,
      answer: json<NoCompanyRow[]>(),
      call: () => readNoCompany(source.manager),
    }),
    endpoint({
      method: 'post',
      path: '/api/no-companies',
      who: ADMIN,
      body: noCompanySchema,
      answer: json<NoCompanyRow[]>(201),
      async call({ body }) {
        await writeNoCompany(source.manager, body, 'add');
        return readNoCompany(source.manager);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/no-companies',
      who: ADMIN,
      body: noCompanySchema,
      answer: json<NoCompanyRow[]>(),
      async call({ body }) {
        await writeNoCompany(source.manager, body, 'remove');
        return readNoCompany(source.manager);
      },
    }),
  ];
}
