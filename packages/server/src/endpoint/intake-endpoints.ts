import {
  type Accepted,
  type AcceptedRecord,
  byHandSchema,
  importQuerySchema,
  type ImportReport,
  type ImportState,
  intakeRecordSchema,
  intakeSchema,
  type IntakeState,
  keyText,
  type KeyRow,
  type MadeKey,
  newKeySchema,
  type PublicForm,
  sentFormSchema,
  type WayInSettings,
  wayInSchema,
} from '@relvik/contracts';
import { UNROUTED_KINDS } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { object } from 'yup';
import { ADMIN, type Endpoint, endpoint, json, nothing, textBody } from '../http/endpoint';
import { byId } from '../http/read';
import { handOutForm, takeForm } from '../intake/form-pages';
import { acceptRequest } from '../act/accept-record';
import type { RequestMark } from '../act/request-mark';
import type { LeadWriter } from '../intake/intake-writer';
import { listImports, reportOf, stageFile } from '../intake/import-file';
import { undoImport } from '../intake/undo-import';
import type { Background } from '../job/background-worker';
import { Refused } from '../problem/refused';
import { newToken, sha256 } from '../session/session-store';
import { FormEntity, IntakeKeyEntity, WayInEntity } from '../store/entity/intake.entity';
import type { WatershedCounts } from '../watershed/watershed-counts';
import { readFields, readGoverning } from '../store/governing';
import { RECORD_PATHS } from './record-paths';

function keyRow({
  id,
  name,
  begins,
  fields,
  createdAt,
  lastUsedAt,
  revoked,
  trusted,
  pipeline,
  handling,
}: IntakeKeyEntity): KeyRow {
  return {
    id,
    name,
    begins,
    fields,
    createdAt: createdAt.getTime(),
    lastUsedAt: lastUsedAt?.getTime() ?? null,
    revoked,
    trusted,
    pipeline,
    handling,
  };
}

/** Settings of a way in as they were sent. @throws Refused for a pipeline that is none */
async function settingsOf(manager: EntityManager, settings: WayInSettings): Promise<WayInSettings> {
  const { pipeline } = settings;
  if (typeof pipeline === 'string') {
    const { ready } = await readGoverning(manager, 'none');
    if (!ready.rules.lead.entries.has(pipeline))
      throw Refused.invalid([{ path: '/pipeline', message: 'is no pipeline of leads' }]);
  }
  return settings;
}

const bySlug = object({ slug: keyText().required() });

/**
 * The mark of a request that brought an Idempotency-Key.
 *
 * @returns null: it brought none
 */
export function markOf(sender: string, request: string | undefined, body: unknown): RequestMark | null {
  if (request === undefined) return null;
  if (request.length < 1 || request.length > 120)
    throw Refused.invalid([{ path: '/Idempotency-Key', message: 'must have 1 to 120 characters' }]);
  return { sender, request, body: sha256(JSON.stringify(body)) };
}

/** Ways in: forms, keys, files, and leads from other systems. */
export function intakeEndpoints(
  source: DataSource,
  writer: Pick<LeadWriter, 'accept'>,
  background: Background,
  counts: Pick<WatershedCounts, 'ways'>,
): Endpoint[] {
  const { manager } = source;

  return [
    endpoint({
      method: 'post',
      path: '/api/intake/leads',
      who: 'key',
      body: intakeSchema,
      answer: json<Accepted>(201),
      async call({ caller: { id, name, fields, trusted, pipeline: usualPipeline, handling }, body, header, now }) {
        const { values, pipeline = null } = body;
        const mark = markOf(`key ${id}`, header('idempotency-key'), body);
        const allowed = new Set(fields);
        return writer.accept(
          {
            ...{ cause: { kind: 'api', name }, at: now, values, pipeline, usualPipeline },
            ...{ owner: null, key: id, trusted, allowed, handling },
          },
          mark,
        );
      },
    }),
    ...UNROUTED_KINDS.map((kind) =>
      endpoint({
        method: 'post',
        path: RECORD_PATHS[kind].replace('/api', '/api/intake'),
        who: 'key',
        body: intakeRecordSchema,
        answer: json<AcceptedRecord>(201),
        async call({ caller: { id, name, fields, trusted }, body, header, now }) {
          const { values, company = '', contact = '', stage } = body;
          const way = {
            cause: { kind: 'api' as const, name },
            at: now,
            owner: null,
            trusted,
            allowed: new Set(fields),
          };
          const mark = markOf(`key ${id} ${kind}`, header('idempotency-key'), body);
          return acceptRequest(source, kind, { ...way, values, company, contact, stage: stage || null }, mark);
        },
      }),
    ),
    endpoint({
      method: 'post',
      path: '/api/intake/csv',
      who: ADMIN,
      patience: 180_000,
      query: importQuerySchema,
      body: textBody('text/csv', '32mb'),
      answer: json<ImportState>(202),
      async call({ caller, query, body, now }) {
        const state = await stageFile(source, { ...query, text: body }, caller, now);
        background.wake();
        return state;
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/imports',
      who: ADMIN,
      answer: json<ImportState[]>(),
      call: () => listImports(manager),
    }),
    endpoint({
      method: 'get',
      path: '/api/imports/:id',
      who: ADMIN,
      params: byId,
      answer: json<ImportReport>(),
      call: ({ params }) => reportOf(manager, params.id),
    }),
    endpoint({
      method: 'post',
      path: '/api/imports/:id/undo',
      who: ADMIN,
      params: byId,
      answer: json<ImportReport>(202),
      async call({ params }) {
        await undoImport(source, params.id);
        background.wake();
        return reportOf(manager, params.id);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/intake',
      who: ADMIN,
      answer: json<IntakeState>(),
      async call() {
        const [forms, keys, ways] = await Promise.all([
          manager.find(FormEntity, { order: { title: 'ASC' } }),
          manager.find(IntakeKeyEntity, { order: { id: 'ASC' } }),
          counts.ways(),
        ]);
        return {
          forms: forms.map(({ slug, title, fields, received, trusted, pipeline, handling }) => ({
            slug,
            title,
            fields: fields.map((field) => field.key),
            received,
            trusted,
            pipeline,
            handling,
          })),
          keys: keys.map(keyRow),
          ways,
        };
      },
    }),
    endpoint({
      method: 'post',
      path: '/api/intake/keys',
      who: ADMIN,
      body: newKeySchema,
      answer: json<MadeKey>(201),
      async call({ body: { name, fields, trusted }, now }) {
        const known = await readFields(manager);
        const errors = fields.flatMap((field, i) =>
          known.has(field) ? [] : [{ path: `/fields/${i}`, message: `no such field: ${field}` }],
        );
        if (errors.length > 0) throw Refused.invalid(errors);
        const secret = `rk_${newToken()}`;
        const row = {
          name,
          hash: sha256(secret),
          begins: secret.slice(0, 8),
          fields: [...fields],
          createdAt: now,
          lastUsedAt: null,
          revoked: false,
          trusted,
          pipeline: null,
          handling: 'decide' as const,
        };
        const made = await manager.save(manager.create(IntakeKeyEntity, row));
        return { ...keyRow(made), secret };
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/intake/keys/:id',
      who: ADMIN,
      params: byId,
      body: wayInSchema,
      answer: nothing(),
      async call({ params, body }) {
        const key = await manager.findOneBy(IntakeKeyEntity, { id: params.id });
        if (key === null) throw Refused.notFound();
        await manager.update(IntakeKeyEntity, key.id, await settingsOf(manager, body));
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/intake/forms/:slug',
      who: ADMIN,
      params: bySlug,
      body: wayInSchema,
      answer: nothing(),
      async call({ params: { slug }, body }) {
        if ((await manager.findOneBy(FormEntity, { slug })) === null) throw Refused.notFound();
        await manager.update(FormEntity, { slug }, await settingsOf(manager, body));
      },
    }),
    endpoint({
      method: 'patch',
      path: '/api/intake/by-hand',
      who: ADMIN,
      body: byHandSchema,
      answer: nothing(),
      async call({ body: { handling } }) {
        await manager.save(WayInEntity, { way: 'hand', handling });
      },
    }),
    endpoint({
      method: 'delete',
      path: '/api/intake/keys/:id',
      who: ADMIN,
      params: byId,
      answer: nothing(),
      async call({ params }) {
        const { affected } = await manager.update(IntakeKeyEntity, { id: params.id }, { revoked: true });
        if (affected === 0) throw Refused.notFound();
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/forms/:slug',
      who: 'anyone',
      params: bySlug,
      answer: json<PublicForm>(),
      call: ({ params, now }) => handOutForm(source, params.slug, now),
    }),
    endpoint({
      method: 'post',
      path: '/api/forms/:slug',
      who: 'anyone',
      limit: 'form',
      params: bySlug,
      body: sentFormSchema,
      answer: json<object>(201),
      async call({ params, body, now }) {
        await takeForm(source, writer, params.slug, body, now);
        return {};
      },
    }),
  ];
}
