import {
  concordanceQuerySchema,
  decideProposalsSchema,
  type DoneEach,
  type GateConcordance,
  moveLeadsSchema,
  type ProposalDetail,
  type ProposalPage,
  proposalQuerySchema,
  undoProposalsSchema,
} from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { decideProposals, undoProposals } from '../act/decide-proposals';
import { moveLeads } from '../act/move-leads';
import { type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId } from '../http/read';
import { countProposals } from '../list/count-proposals';
import { concordance, listProposals, proposalDetail } from '../reasoning/proposals';
import { sightOf } from '../session/sight';

/** Proposals, their decisions, and moves of leads by hand. */
export function proposalEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/proposals',
      who: EVERYONE,
      query: proposalQuerySchema,
      answer: json<ProposalPage>(),
      call: async ({ caller, query, now }) =>
        listProposals(manager, await sightOf(manager, caller), caller, query, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/proposal-count',
      who: EVERYONE,
      answer: json<{ count: number }>(),
      async call({ caller }) {
        const { count } = await countProposals(manager, await sightOf(manager, caller), caller);
        return { count };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/proposals/decide',
      who: EVERYONE,
      patience: 60_000,
      body: decideProposalsSchema,
      answer: json<DoneEach>(),
      call: ({ caller, body, now }) => decideProposals(source, body, { user: caller, at: now }),
    }),
    endpoint({
      method: 'post',
      path: '/api/proposals/undo',
      who: EVERYONE,
      patience: 60_000,
      body: undoProposalsSchema,
      answer: json<DoneEach>(),
      call: ({ caller, body: { ids }, now }) => undoProposals(source, ids, { user: caller, at: now }),
    }),
    endpoint({
      method: 'get',
      path: '/api/proposals/:id',
      who: EVERYONE,
      params: byId,
      answer: json<ProposalDetail>(),
      call: async ({ caller, params: { id }, now }) =>
        proposalDetail(manager, await sightOf(manager, caller), caller, id, now),
    }),
    endpoint({
      method: 'get',
      path: '/api/concordance',
      who: ['admin', 'manager'],
      query: concordanceQuerySchema,
      answer: json<GateConcordance>(),
      call: async ({ caller, query: { gate, days }, now }) =>
        concordance(manager, await sightOf(manager, caller), gate, days, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/leads/move',
      who: EVERYONE,
      patience: 60_000,
      body: moveLeadsSchema,
      answer: json<DoneEach>(),
      call: ({ caller, body, now }) => moveLeads(source, body, { user: caller, at: now }),
    }),
  ];
}
