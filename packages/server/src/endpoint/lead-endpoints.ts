import {
  type Accepted,
  editLeadSchema,
  settleSaidSchema,
  type JoinPreview,
  type LeadRow,
  joinSchema,
  type LeadDetail,
  type LeadPage,
  leadQuerySchema,
  newLeadSchema,
  type Reasoning,
  type RecordDocument,
  type Tagged,
  tagManySchema,
  type NextLeads,
  nextLeadsSchema,
} from '@relvik/contracts';
import { readAcrossTies, type RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { handOf } from '../act/cause';
import { editLead } from '../act/edit-lead';
import { settleSaid } from '../act/said-values';
import { joinLeads, undoJoin } from '../act/join-leads';
import { tagRecords } from '../act/tag-records';
import { removeTest } from '../act/remove-test';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json, nothing } from '../http/endpoint';
import { byId, byIds } from '../http/read';
import type { LeadWriter } from '../intake/intake-writer';
import { leadInSight, listLeads } from '../list/lead-list';
import { LIST_KINDS } from '../list/list-kinds';
import { countOf } from '../list/page';
import { documentOf, nextLeads } from '../reasoning/next-leads';
import { Refused } from '../problem/refused';
import { previewJoin } from '../reasoning/join-preview';
import { detailOf, leadAfterwards, reasoningOf } from '../reasoning/lead-detail';
import { ownerRefusal } from '../session/rights';
import type { User } from '../session/session-store';
import { sightOf } from '../session/sight';
import type { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { readFields } from '../store/governing';
import { handlingByHand } from '../store/ways-in';
import { loadLeads, withTiedValues } from '../store/load-leads';
import { markOf } from './intake-endpoints';

/** Leads: lists, one lead, its reasoning, and what people do with it by hand. */
export function leadEndpoints(source: DataSource, writer: Pick<LeadWriter, 'accept'>): Endpoint[] {
  const { manager } = source;

  async function seen(user: User, id: number): Promise<LeadEntity> {
    return leadInSight(manager, await sightOf(manager, user), id);
  }

  /** Who is named as the owner must be someone to whom this user may give leads. */
  async function refuseOwner(user: User, owner: string): Promise<void> {
    if (user.role === 'rep' && owner !== user.key)
      throw Refused.invalid([{ path: '/owner', message: 'a rep may bring in leads only for themselves' }]);
    const person = (await manager.findOneBy(PersonEntity, { key: owner, retired: false })) ?? undefined;
    const refusal = ownerRefusal(person, await sightOf(manager, user));
    if (refusal !== null) throw Refused.invalid([{ path: '/owner', message: refusal }]);
  }

  /** Of a lead that stands in the way nothing is told to whom it is out of sight. */
  async function discreet(error: unknown, user: User): Promise<unknown> {
    if (!(error instanceof Refused) || error.problem.other === undefined) return error;
    const inSight = await seen(user, error.problem.other).catch(() => null);
    return inSight === null
      ? Refused.as('email-taken', { detail: 'It is outside what you may see: ask an admin.' })
      : error;
  }

  return [
    endpoint({
      method: 'get',
      path: '/api/leads',
      who: EVERYONE,
      query: leadQuerySchema,
      answer: json<LeadPage>(),
      call: async ({ caller, query, now }) => listLeads(manager, await sightOf(manager, caller), query, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/lead-count',
      who: EVERYONE,
      query: leadQuerySchema,
      answer: json<{ count: number }>(),
      call: async ({ caller, query, now }) => ({
        count: await countOf(manager, LIST_KINDS.lead, await sightOf(manager, caller), query, now),
      }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads',
      who: EVERYONE,
      body: newLeadSchema,
      answer: json<Accepted>(201),
      async call({ caller, body, header, now }) {
        const { values, pipeline = null, owner = null, test = false, handling = await handlingByHand(manager) } = body;
        if (owner !== null) await refuseOwner(caller, owner);
        return writer.accept(
          {
            ...{ cause: handOf(caller), at: now, values, pipeline, owner: owner as RepKey | null },
            ...{ trusted: true, test, handling },
          },
          markOf(`hand ${caller.key}`, header('idempotency-key'), body),
        );
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/tags',
      who: EVERYONE,
      patience: 60_000,
      body: tagManySchema,
      answer: json<Tagged>(),
      call: ({ caller, body, now }) => tagRecords(source, 'lead', body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      async call({ caller, params, now }) {
        return detailOf(manager, await seen(caller, params.id), await sightOf(manager, caller), caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/reasoning',
      who: EVERYONE,
      params: byId,
      answer: json<Reasoning>(),
      async call({ caller, params, now }) {
        return reasoningOf(manager, await seen(caller, params.id), caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/record',
      who: ADMIN,
      params: byId,
      answer: json<RecordDocument>(),
      async call({ caller, params }) {
        const lead = await seen(caller, params.id);
        const fields = readAcrossTies((await readFields(manager)).keys(), 'lead');
        const [stored] = await withTiedValues(manager, await loadLeads(manager, [lead.id], 'none'), fields);
        if (stored === undefined) throw Refused.notFound();
        return documentOf(stored);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/next-leads',
      who: ADMIN,
      body: nextLeadsSchema,
      answer: json<NextLeads>(),
      call: ({ body }) => nextLeads(manager, body.written),
    }),
    endpoint({
      method: 'patch',
      path: '/api/leads/:id',
      who: EVERYONE,
      params: byId,
      body: editLeadSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body, now }) {
        try {
          await editLead(source, id, body, { user: caller, at: now });
        } catch (error) {
          throw await discreet(error, caller);
        }
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/said',
      who: EVERYONE,
      params: byId,
      body: settleSaidSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body: { field, take }, now }) {
        await settleSaid(source, id, field, take, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/join/:to',
      who: EVERYONE,
      params: byIds,
      answer: json<JoinPreview<LeadRow>>(),
      async call({ caller, params: { id, to } }) {
        await seen(caller, id);
        await seen(caller, to);
        return previewJoin(manager, id, to);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/join',
      who: EVERYONE,
      params: byId,
      body: joinSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body: { other, take }, now }) {
        return leadAfterwards(
          manager,
          await joinLeads(source, [id, other], take, { user: caller, at: now }),
          caller,
          now,
        );
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/joins/:id',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, now }) {
        await undoJoin(source, id, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/leads/:id/test',
      who: EVERYONE,
      params: byId,
      answer: nothing(),
      call: ({ caller, params: { id }, now }) => removeTest(source, id, { user: caller, at: now }),
    }),
  ];
}
