import {
  type Accepted,
  assignSchema,
  closeSchema,
  editLeadSchema,
  type LeadDetail,
  type LeadPage,
  leadQuerySchema,
  newLeadSchema,
  type Reasoning,
  type RecordDocument,
} from '@relvik/contracts';
import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { refusalOf } from '../act/accept-leads';
import { freeBay } from '../act/free-bay';
import { assignLead, closeLead, editLead, pickUpLead } from '../act/work-on-lead';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import type { IntakeWriter } from '../intake/intake-writer';
import { countLeads, leadInSight, listLeads } from '../list/lead-list';
import { Refused } from '../problem/refused';
import { detailOf, mayOn, reasoningOf } from '../reasoning/lead-detail';
import type { User } from '../session/session-store';
import { type Sight, sightOf } from '../session/sight';
import type { LeadEntity } from '../store/entity/lead.entity';
import { readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { markOf } from './intake-endpoints';

/** Leads: lists, one lead, its reasoning, and what people do with it by hand. */
export function leadEndpoints(source: DataSource, writer: IntakeWriter): Endpoint[] {
  const { manager } = source;

  async function seen(user: User, id: number): Promise<{ lead: LeadEntity; sight: Sight }> {
    const sight = await sightOf(manager, user);
    return { lead: await leadInSight(manager, sight, id), sight };
  }

  /** Does work on a lead if the user may, and answers with the lead as it is then. */
  async function work(
    user: User,
    id: number,
    may: keyof LeadDetail['may'],
    act: (lead: LeadEntity, sight: Sight) => Promise<void>,
  ): Promise<LeadDetail> {
    const { lead, sight } = await seen(user, id);
    const allowed = mayOn(lead, sight, user);
    if (!allowed[may]) {
      if (lead.status !== 'open') throw Refused.as('lead-closed', { detail: `It was closed as ${lead.status}.` });
      if (may === 'pickUp' && lead.place !== 'queue') throw Refused.as('picked-up-already');
      throw Refused.as('forbidden');
    }
    await act(lead, sight);
    const after = await leadInSight(manager, { all: true }, lead.id);
    return detailOf(manager, after, sight, user);
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
        count: await countLeads(manager, await sightOf(manager, caller), query, now),
      }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads',
      who: EVERYONE,
      body: newLeadSchema,
      answer: json<Accepted>(201),
      async call({ caller, body, header, now }) {
        const { values, owner = null } = body;
        const governing = await readGoverning(manager, 'none');
        const refusals = refusalOf(values, governing, null);
        if (refusals.length > 0)
          throw Refused.invalid(refusals.map(({ field, message }) => ({ path: `/values/${field}`, message })));
        const person = owner === null ? null : governing.world.reps.get(owner as RepKey);
        if (person === undefined) throw Refused.invalid([{ path: '/owner', message: 'is nobody here' }]);
        if (caller.role === 'rep' && owner !== null && owner !== caller.key)
          throw Refused.invalid([{ path: '/owner', message: 'a rep may bring in leads only for themselves' }]);
        return writer.accept(
          { way: 'hand', by: caller.name, at: now, values, owner: person?.key ?? null },
          markOf(`hand ${caller.key}`.slice(0, 20), header('idempotency-key'), body),
        );
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      async call({ caller, params }) {
        const { lead, sight } = await seen(caller, params.id);
        return detailOf(manager, lead, sight, caller);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/reasoning',
      who: EVERYONE,
      params: byId,
      answer: json<Reasoning>(),
      async call({ caller, params, now }) {
        const { lead } = await seen(caller, params.id);
        return reasoningOf(manager, lead, caller, now);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/leads/:id/record',
      who: ADMIN,
      params: byId,
      answer: json<RecordDocument>(),
      async call({ caller, params }) {
        const { lead } = await seen(caller, params.id);
        const [stored] = await loadLeads(manager, [lead.id], 'none');
        if (stored === undefined) throw Refused.notFound();
        const { arrived, pin, values, activities } = stored.record;
        return { id: lead.id, arrived, pin, values: [...values], activities };
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/leads/:id',
      who: EVERYONE,
      params: byId,
      body: editLeadSchema,
      answer: json<LeadDetail>(),
      call: ({ caller, params, body: { version, values }, now }) =>
        work(caller, params.id, 'edit', async (lead) => {
          await editLead(source, lead.id, version, values, { name: caller.name, at: now });
        }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/assign',
      who: ['admin', 'manager'],
      params: byId,
      body: assignSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params, body: { rep }, now }) {
        const answer = await work(caller, params.id, 'assign', async (lead, sight) => {
          if (!sight.all && !sight.owners.includes(rep))
            throw Refused.invalid([{ path: '/rep', message: 'is not in your teams' }]);
          await assignLead(source, lead.id, rep as RepKey, { name: caller.name, at: now });
        });
        // Whoever had it before may be free for the next one now.
        await freeBay(source, now);
        return answer;
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/pick-up',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      call: ({ caller, params, now }) =>
        work(caller, params.id, 'pickUp', async (lead) => {
          await pickUpLead(source, lead.id, caller.key as RepKey, { name: caller.name, at: now });
        }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/close',
      who: EVERYONE,
      params: byId,
      body: closeSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params, body: { outcome, reason }, now }) {
        const answer = await work(caller, params.id, 'close', async (lead) => {
          await closeLead(source, lead.id, outcome, reason, { name: caller.name, at: now });
        });
        await freeBay(source, now);
        return answer;
      },
    }),
  ];
}
