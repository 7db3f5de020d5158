import {
  type Accepted,
  type FileOutcome,
  type Intake,
  intakeSchema,
  type IntakeState,
  type KeyRow,
  type MadeKey,
  type NewKey,
  newKeySchema,
  sentFormSchema,
  type SentForm,
} from '@relvik/contracts';
import { fold, type RepKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { type Answer, type Asked, type Endpoint, idOf, read, userOf } from '../api/endpoint';
import { Refused } from '../api/refused';
import { readFields, readGoverning } from '../charter/charter-store';
import { PersonEntity } from '../people/people.entity';
import { LeadEntity } from '../record/lead.entity';
import { newToken, sha256 } from '../session/session-store';
import { refusalOf } from './accept-leads';
import { handOutForm, takeForm } from './form-pages';
import { FormEntity, IntakeKeyEntity } from './intake.entity';
import type { IntakeWriter } from './intake-writer';
import { readCsvLeads } from './read-csv-leads';

function keyRow({ id, name, begins, fields, createdAt, lastUsedAt, revoked }: IntakeKeyEntity): KeyRow {
  return {
    id,
    name,
    begins,
    fields,
    createdAt: createdAt.getTime(),
    lastUsedAt: lastUsedAt?.getTime() ?? null,
    revoked,
  };
}

/** Ways in: forms, keys, files, and leads from other systems. */
export function intakeEndpoints(source: DataSource, writer: IntakeWriter): Endpoint[] {
  const { manager } = source;

  async function takeFromKey(asked: Asked): Promise<Answer> {
    const { key, body, now } = asked;
    if (key === null) throw Refused.of(401, 'An intake key is needed', 'Send it as Authorization: Bearer KEY.');
    const { values } = await read<Intake>(intakeSchema, body);
    const refusals = refusalOf(values, await readGoverning(manager, 'none'), new Set(key.fields));
    if (refusals.length > 0)
      throw Refused.invalid(refusals.map(({ field, message }) => ({ path: `/values/${field}`, message })));
    const request = asked.header('idempotency-key');
    if (request !== undefined && (request.length < 1 || request.length > 120)) {
      throw Refused.invalid([{ path: '/Idempotency-Key', message: 'must have 1 to 120 characters' }]);
    }
    const mark =
      request === undefined ? null : { sender: `key ${key.id}`, request, body: sha256(JSON.stringify(body)) };
    const accepted: Accepted = await writer.accept(
      { way: 'api', by: `key ${key.name}`, at: now, values, owner: null },
      mark,
    );
    return { status: 201, body: accepted };
  }

  async function takeFile(asked: Asked): Promise<FileOutcome> {
    const governing = await readGoverning(manager, 'none');
    const people = await manager.findBy(PersonEntity, { retired: false });
    const names = new Map(
      people.flatMap(({ key, name, email }) =>
        [key, fold(name), email].map((n): [string, RepKey] => [n, key as RepKey]),
      ),
    );
    const leads = readCsvLeads(String(asked.body), governing, names, `file, by ${userOf(asked).name}`, asked.now);
    const outcomes = await Promise.allSettled(leads.inquiries.map(({ inquiry }) => writer.accept(inquiry)));
    const refused = [...leads.refused];
    const warnings = [...leads.warnings];
    let accepted = 0;
    let joined = 0;
    outcomes.forEach((outcome, i) => {
      const row = leads.inquiries[i]?.row ?? 0;
      if (outcome.status === 'rejected') {
        refused.push({ row, field: '', message: 'could not be written; send this row again' });
        return;
      }
      accepted += 1;
      if (outcome.value.joined) joined += 1;
      warnings.push(
        ...outcome.value.warnings.map(({ field, raw, why }) => ({ row, field, message: `“${raw}” ${why}` })),
      );
    });
    const inOrder = <T extends { row: number }>(list: T[]): T[] => list.sort((a, b) => a.row - b.row);
    return { accepted, joined, refused: inOrder(refused), warnings: inOrder(warnings) };
  }

  return [
    { method: 'post', path: '/api/intake/leads', who: ['key'], handle: takeFromKey },
    {
      method: 'post',
      path: '/api/intake/csv',
      who: ['admin'],
      text: { type: 'text/csv', most: '8mb' },
      handle: async (asked) => ({ body: await takeFile(asked) }),
    },
    {
      method: 'get',
      path: '/api/intake',
      who: ['admin'],
      async handle({ now }) {
        const week = new Date(now.getTime() - 7 * 86_400_000);
        const [forms, keys, ways] = await Promise.all([
          manager.find(FormEntity, { order: { title: 'ASC' } }),
          manager.find(IntakeKeyEntity, { order: { id: 'ASC' } }),
          manager
            .createQueryBuilder(LeadEntity, 'lead')
            .select('lead.way', 'way')
            .addSelect('COUNT(*)', 'leads')
            .addSelect('SUM(lead.arrived > :week)', 'lastWeek')
            .setParameter('week', week)
            .groupBy('lead.way')
            .getRawMany<{ way: string; leads: string; lastWeek: string }>(),
        ]);
        const state: IntakeState = {
          forms: forms.map(({ slug, title, fields, received }) => ({
            slug,
            title,
            fields: fields.map((field) => field.key),
            received,
          })),
          keys: keys.map(keyRow),
          ways: ways.map(({ way, leads, lastWeek }) => ({ way, leads: Number(leads), lastWeek: Number(lastWeek) })),
        };
        return { body: state };
      },
    },
    {
      method: 'post',
      path: '/api/intake/keys',
      who: ['admin'],
      async handle(asked) {
        const { name, fields } = await read<NewKey>(newKeySchema, asked.body);
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
          createdAt: asked.now,
          lastUsedAt: null,
          revoked: false,
        };
        const made = await manager.save(manager.create(IntakeKeyEntity, row));
        const answer: MadeKey = { ...keyRow(made), secret };
        return { status: 201, body: answer };
      },
    },
    {
      method: 'delete',
      path: '/api/intake/keys/:id',
      who: ['admin'],
      async handle(asked) {
        const { affected } = await manager.update(IntakeKeyEntity, { id: idOf(asked) }, { revoked: true });
        if (affected === 0) throw Refused.notFound();
        return { status: 204 };
      },
    },
    {
      method: 'get',
      path: '/api/forms/:slug',
      who: ['anyone'],
      handle: async ({ params, now }) => ({ body: await handOutForm(source, params['slug'] ?? '', now) }),
    },
    {
      method: 'post',
      path: '/api/forms/:slug',
      who: ['anyone'],
      limit: 'form',
      async handle(asked) {
        const sent = await read<SentForm>(sentFormSchema, asked.body);
        await takeForm(source, writer, asked.params['slug'] ?? '', sent, asked.now);
        return { status: 201, body: {} };
      },
    },
  ];
}
