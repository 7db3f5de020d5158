import {
  type Accepted,
  type Assign,
  assignSchema,
  type CloseLead,
  closeSchema,
  type EditLead,
  editLeadSchema,
  type LeadQuery,
  leadQuerySchema,
  type NewLead,
  newLeadSchema,
} from '@relvik/contracts';
import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { type Asked, type Endpoint, idOf, read, userOf, type Who } from '../api/endpoint';
import { Refused } from '../api/refused';
import { readGoverning } from '../charter/charter-store';
import { freeBay } from '../decide/free-bay';
import { refusalOf } from '../intake/accept-leads';
import type { IntakeWriter } from '../intake/intake-writer';
import { type Sight, sightOf } from '../people/sight';
import { assignLead, closeLead, editLead, pickUpLead } from '../work/work-on-lead';
import { detailOf, mayOn, reasoningOf } from './lead-detail';
import type { LeadEntity } from './lead.entity';
import { countLeads, leadInSight, listLeads } from './lead-list';
import type { LeadDetail, RecordDocument } from '@relvik/contracts';
import { loadLeads } from './lead-store';

const EVERYONE: readonly Who[] = ['admin', 'manager', 'rep'];

/** Leads: lists, one lead, its reasoning, and what people do with it by hand. */
export function leadEndpoints(source: DataSource, writer: IntakeWriter): Endpoint[] {
  const { manager } = source;

  async function seen(asked: Asked): Promise<{ lead: LeadEntity; sight: Sight }> {
    const sight = await sightOf(manager, userOf(asked));
    return { lead: await leadInSight(manager, sight, idOf(asked)), sight };
  }

  /** Does work on a lead if the user may, and answers with the lead as it is then. */
  async function work(
    asked: Asked,
    may: keyof LeadDetail['may'],
    act: (lead: LeadEntity, sight: Sight) => Promise<void>,
  ): Promise<{ body: LeadDetail | { id: number } }> {
    const user = userOf(asked);
    const { lead, sight } = await seen(asked);
    const allowed = mayOn(lead, sight, user);
    if (!allowed[may]) {
      if (lead.status !== 'open') throw Refused.conflict('The lead is closed', `It was closed as ${lead.status}.`);
      if (may === 'pickUp' && lead.place !== 'queue')
        throw Refused.conflict(
          'It was picked up already',
          'Someone was quicker. The next one in the queue is yours to take.',
        );
      throw Refused.forbidden();
    }
    await act(lead, sight);
    const after = await leadInSight(manager, { all: true }, lead.id);
    return { body: await detailOf(manager, after, sight, user) };
  }

  return [
    {
      method: 'get',
      path: '/api/leads',
      who: EVERYONE,
      async handle(asked) {
        const query = await read<LeadQuery>(leadQuerySchema, asked.query);
        return { body: await listLeads(manager, await sightOf(manager, userOf(asked)), query, asked.now) };
      },
    },
    {
      method: 'get',
      path: '/api/lead-count',
      who: EVERYONE,
      async handle(asked) {
        const query = await read<LeadQuery>(leadQuerySchema, asked.query);
        return { body: { count: await countLeads(manager, await sightOf(manager, userOf(asked)), query, asked.now) } };
      },
    },
    {
      method: 'post',
      path: '/api/leads',
      who: EVERYONE,
      async handle(asked) {
        const user = userOf(asked);
        const { values, owner = null } = await read<NewLead>(newLeadSchema, asked.body);
        const governing = await readGoverning(manager, 'none');
        const refusals = refusalOf(values, governing, null);
        if (refusals.length > 0)
          throw Refused.invalid(refusals.map(({ field, message }) => ({ path: `/values/${field}`, message })));
        const person = owner === null ? null : governing.world.reps.get(owner as RepKey);
        if (person === undefined) throw Refused.invalid([{ path: '/owner', message: 'is nobody here' }]);
        if (user.role === 'rep' && owner !== null && owner !== user.key)
          throw Refused.invalid([{ path: '/owner', message: 'a rep may bring in leads only for themselves' }]);
        const accepted: Accepted = await writer.accept({
          way: 'hand',
          by: user.name,
          at: asked.now,
          values,
          owner: person?.key ?? null,
        });
        return { status: 201, body: accepted };
      },
    },
    {
      method: 'get',
      path: '/api/leads/:id',
      who: EVERYONE,
      async handle(asked) {
        const { lead, sight } = await seen(asked);
        return { body: await detailOf(manager, lead, sight, userOf(asked)) };
      },
    },
    {
      method: 'get',
      path: '/api/leads/:id/reasoning',
      who: EVERYONE,
      async handle(asked) {
        const { lead } = await seen(asked);
        return { body: await reasoningOf(manager, lead, userOf(asked), asked.now) };
      },
    },
    {
      method: 'get',
      path: '/api/leads/:id/record',
      who: ['admin'],
      async handle(asked) {
        const { lead } = await seen(asked);
        const [stored] = await loadLeads(manager, [lead.id], 'none');
        if (stored === undefined) throw Refused.notFound();
        const { arrived, pin, values, activities } = stored.record;
        const document: RecordDocument = { id: lead.id, arrived, pin, values: [...values], activities };
        return { body: document };
      },
    },
    {
      method: 'patch',
      path: '/api/leads/:id',
      who: EVERYONE,
      async handle(asked) {
        const { version, values } = await read<EditLead>(editLeadSchema, asked.body);
        return work(asked, 'edit', async (lead) => {
          await editLead(source, lead.id, version, values, { name: userOf(asked).name, at: asked.now });
        });
      },
    },
    {
      method: 'post',
      path: '/api/leads/:id/assign',
      who: ['admin', 'manager'],
      async handle(asked) {
        const { rep } = await read<Assign>(assignSchema, asked.body);
        const answer = await work(asked, 'assign', async (lead, sight) => {
          if (!sight.all && !sight.owners.includes(rep))
            throw Refused.invalid([{ path: '/rep', message: 'is not in your teams' }]);
          await assignLead(source, lead.id, rep as RepKey, { name: userOf(asked).name, at: asked.now });
        });
        // Whoever had it before may be free for the next one now.
        await freeBay(source, asked.now);
        return answer;
      },
    },
    {
      method: 'post',
      path: '/api/leads/:id/pick-up',
      who: EVERYONE,
      handle: (asked) =>
        work(asked, 'pickUp', async (lead) => {
          const user = userOf(asked);
          await pickUpLead(source, lead.id, user.key as RepKey, { name: user.name, at: asked.now });
        }),
    },
    {
      method: 'post',
      path: '/api/leads/:id/close',
      who: EVERYONE,
      async handle(asked) {
        const { outcome, reason } = await read<CloseLead>(closeSchema, asked.body);
        const answer = await work(asked, 'close', async (lead) => {
          await closeLead(source, lead.id, outcome, reason, { name: userOf(asked).name, at: asked.now });
        });
        await freeBay(source, asked.now);
        return answer;
      },
    },
  ];
}
