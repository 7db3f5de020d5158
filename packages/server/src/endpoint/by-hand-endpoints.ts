import {
  assignSchema,
  closeSchema,
  type DoneEach,
  type Given,
  giveBackSchema,
  giveSchema,
  type LeadDetail,
  pinSchema,
} from '@relvik/contracts';
import type { RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { acceptLead } from '../act/acceptance';
import { assignLead } from '../act/assign-lead';
import { closeLead } from '../act/close-lead';
import { giveLeads, previewGive } from '../act/give-leads';
import { pinLeads } from '../act/pin-leads';
import { giveBack, pickNext, pickUpLead } from '../act/queue-work';
import { type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId, byKey } from '../http/read';
import { leadAfterwards } from '../reasoning/lead-detail';

/** Work on leads by hand: give them to someone, accept, pick up, give back, pin and close them. */
export function byHandEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'post',
      path: '/api/leads/pin',
      who: EVERYONE,
      patience: 60_000,
      body: pinSchema,
      answer: json<DoneEach>(),
      call: ({ caller, body, now }) => pinLeads(source, body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/give',
      who: ['admin', 'manager'],
      patience: 60_000,
      body: giveSchema,
      answer: json<Given>(),
      call: ({ caller, body, now }) => giveLeads(source, body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/give-preview',
      who: ['admin', 'manager'],
      body: giveSchema,
      answer: json<Given>(),
      call: ({ caller, body, now }) => previewGive(source, body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/assign',
      who: ['admin', 'manager'],
      params: byId,
      body: assignSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body: { rep }, now }) {
        await assignLead(source, id, rep as RepKey, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/pick-up',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, now }) {
        await pickUpLead(source, id, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/give-back',
      who: EVERYONE,
      params: byId,
      body: giveBackSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body: { reason }, now }) {
        await giveBack(source, id, reason, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/accept',
      who: EVERYONE,
      params: byId,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, now }) {
        await acceptLead(source, id, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/queues/:key/next',
      who: EVERYONE,
      params: byKey,
      answer: json<LeadDetail>(),
      async call({ caller, params: { key }, now }) {
        return leadAfterwards(manager, await pickNext(source, key, { user: caller, at: now }), caller, now);
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/:id/close',
      who: EVERYONE,
      params: byId,
      body: closeSchema,
      answer: json<LeadDetail>(),
      async call({ caller, params: { id }, body, now }) {
        await closeLead(source, id, body, { user: caller, at: now });
        return leadAfterwards(manager, id, caller, now);
      },
    }),
  ];
}
