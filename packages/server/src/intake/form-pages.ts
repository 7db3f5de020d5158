import type { PublicForm, SentForm } from '@relvik/contracts';
import type { Raw } from '@relvik/core';
import { sign, unsign } from 'cookie-signature';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { dayOf, readValue, countryToReadBy } from '@relvik/core';
import { newToken, sha256 } from '../session/session-store';
import { refusalOf } from '../act/accept-leads';
import { FormEntity, FormSecretEntity } from '../store/entity/intake.entity';
import type { LeadWriter } from './intake-writer';

const DAY = 86_400_000;

async function findForm(source: DataSource, slug: string): Promise<FormEntity> {
  const form = await source.manager.findOneBy(FormEntity, { slug });
  if (form === null) throw Refused.notFound();
  return form;
}

/** With which all servers sign the tokens of forms, so that handing one out writes nothing. */
async function formSecret(source: DataSource): Promise<string> {
  return (await source.manager.findOneByOrFail(FormSecretEntity, { id: 1 })).secret;
}

/** A form as a visitor gets it, with a signed token that is good for one sending within a day. */
export async function handOutForm(source: DataSource, slug: string, now: Date): Promise<PublicForm> {
  const form = await findForm(source, slug);
  const { world } = await readGoverning(source.manager, 'none');
  const token = sign([slug, now.getTime(), newToken()].join(' '), await formSecret(source));
  const fields = form.fields.flatMap(({ key, required }) => {
    const field = world.fields.get(key);
    return field === undefined || field.retired
      ? []
      : [{ key, name: field.name, type: field.type, options: field.options, ownRegions: field.ownRegions, required }];
  });
  return { slug, title: form.title, intro: form.intro, thanks: form.thanks, fields, token };
}

/**
 * Takes in what a visitor sent.
 *
 * The token makes a second sending of the same page find the first one's answer. Whoever fills the field that people do not
 * see is thanked and nothing is taken in. A value that can't be read is asked for again, once.
 */
export async function takeForm(
  source: DataSource,
  writer: Pick<LeadWriter, 'accept'>,
  slug: string,
  sent: SentForm,
  now: Date,
): Promise<void> {
  const form = await findForm(source, slug);
  if (sent.website) return;
  const [of, madeAt] = (unsign(sent.token, await formSecret(source)) || '').split(' ');
  if (of !== slug || !(now.getTime() - Number(madeAt) <= DAY)) throw Refused.as('form-too-old');
  const governing = await readGoverning(source.manager, 'none');
  const allowed = new Set(form.fields.map((field) => field.key));
  const errors = refusalOf(sent.values, governing, allowed).map(({ field, message }) => ({
    path: `/values/${field}`,
    message,
  }));
  const day = dayOf(now.getTime(), governing.ready.charter.timeZone);
  for (const { key, required } of form.fields) {
    const field = governing.world.fields.get(key);
    if (field === undefined) continue;
    const country = countryToReadBy(field, governing.world.fields, 'lead', (one) => sent.values[one]);
    const value = readValue(field, sent.values[key] ?? null, day, country);
    if (required && value.kind === 'blank') errors.push({ path: `/values/${key}`, message: 'please fill this in' });
    if (value.kind === 'unreadable' && !sent.anyway) errors.push({ path: `/values/${key}`, message: value.why });
  }
  if (errors.length > 0) throw Refused.as('form-incomplete', { errors });

  const values: Record<string, Raw> = { ...sent.values, ...form.sets };
  const mark = { sender: 'form', request: sha256(sent.token), body: sha256(JSON.stringify(sent.values)) };
  const { trusted, pipeline: usualPipeline, handling } = form;
  const setByItself = Object.keys(form.sets);
  await writer.accept(
    {
      ...{ cause: { kind: 'form', name: slug }, at: now, values, usualPipeline, owner: null },
      ...{ trusted, setByItself, handling },
    },
    mark,
  );
  await source.manager.increment(FormEntity, { slug }, 'received', 1);
}
