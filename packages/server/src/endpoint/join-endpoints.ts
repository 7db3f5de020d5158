import { type JoinPreview, joinSchema, type RecordDetail, type RecordRow, type SuggestionRow } from '@relvik/contracts';
import { TIE_KINDS, type TieKind } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { joinParties } from '../act/join-parties';
import { undoPartyJoin } from '../act/undo-party-join';
import { ADMIN, type Endpoint, endpoint, EVERYONE, json } from '../http/endpoint';
import { byId, byIds } from '../http/read';
import { suggestionRows } from '../list/suggestions';
import { Refused } from '../problem/refused';
import { previewPartyJoin } from '../reasoning/party-join-preview';
import { recordDetail } from '../reasoning/record-detail';
import { sightOf } from '../session/sight';
import { SuggestionEntity } from '../store/entity/suggestion.entity';
import { RECORD_PATHS } from './record-paths';

/** Two contacts, or two companies, that are one: suggested, previewed, joined, taken apart again. */
export function joinEndpoints(source: DataSource): Endpoint[] {
  return [...TIE_KINDS.flatMap((kind) => joining(source, kind)), ...suggesting(source)];
}

function joining(source: DataSource, kind: TieKind): Endpoint[] {
  const { manager } = source;
  const path = RECORD_PATHS[kind];
  return [
    endpoint({
      method: 'get',
      path: `${path}/:id/join/:to`,
      who: EVERYONE,
      params: byIds,
      answer: json<JoinPreview<RecordRow>>(),
      call: async ({ caller, params: { id, to } }) =>
        previewPartyJoin(manager, kind, [id, to], await sightOf(manager, caller)),
    }),
    endpoint({
      method: 'post',
      path: `${path}/:id/join`,
      who: EVERYONE,
      params: byId,
      body: joinSchema,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, body: { other, take }, now }) {
        const older = await joinParties(source, kind, [id, other], take, { user: caller, at: now });
        return recordDetail(manager, kind, older, await sightOf(manager, caller), caller, now);
      },
    }),
    endpoint({
      method: 'delete',
      path: `${path}/:id/joined`,
      who: EVERYONE,
      params: byId,
      answer: json<RecordDetail>(),
      async call({ caller, params: { id }, now }) {
        await undoPartyJoin(source, id, { user: caller, at: now });
        return recordDetail(manager, kind, id, await sightOf(manager, caller), caller, now);
      },
    }),
  ];
}

function suggesting(source: DataSource): Endpoint[] {
  const { manager } = source;
  return [
    endpoint({
      method: 'get',
      path: '/api/suggestions',
      who: ADMIN,
      answer: json<SuggestionRow[]>(),
      call: () => suggestionRows(manager),
    }),
    endpoint({
      method: 'delete',
      path: '/api/suggestions/:id',
      who: ADMIN,
      params: byId,
      answer: json<SuggestionRow[]>(),
      async call({ params: { id } }) {
        const { affected } = await manager.update(SuggestionEntity, { id }, { settled: true });
        if (affected === 0) throw Refused.notFound();
        return suggestionRows(manager);
      },
    }),
  ];
}
