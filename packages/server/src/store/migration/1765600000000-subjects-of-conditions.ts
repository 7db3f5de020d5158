import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * A test of a condition names its subject in place of a field: what it asks about is no longer a field alone. Charters and
 * saved views are rewritten; looks of gates, which are kept under a hash of the condition, move to the new hash.
 */
export class SubjectsOfConditions1765600000000 implements MigrationInterface {
  name = 'SubjectsOfConditions1765600000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewrite(runner, toSubjects, toFields);
  }

  async down(runner: QueryRunner): Promise<void> {
    await rewrite(runner, toFields, toSubjects);
  }
}

type Json = Readonly<Record<string, unknown>>;
type Change = (test: Json) => Json;

async function rewrite(runner: QueryRunner, change: Change, back: Change): Promise<void> {
  const looks = new Map<string, string>();
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const before = JSON.parse(body) as { gates?: readonly Gate[] };
    const after = changed(before, change) as { gates?: readonly Gate[] };
    for (const [i, gate] of (after.gates ?? []).entries()) {
      // As they were read before, whatever way they had been written.
      const old = { ...gate, when: changed(changed(before.gates?.[i]?.when, change), back) };
      for (const one of [old, before.gates?.[i] ?? old]) looks.set(lookKey(one), lookKey(gate));
    }
    const text = JSON.stringify(after);
    if (text !== body) await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [text, id]);
  }
  await rewriteLooks(runner, looks);
  await rewriteViews(runner, change);
}

/** Few gates have few states: each is rewritten at once. */
export async function rewriteLooks(runner: QueryRunner, to: ReadonlyMap<string, string>): Promise<void> {
  const states = (await runner.query('SELECT DISTINCT `looks` FROM `lead`')) as { looks: string }[];
  for (const { looks } of states) {
    const kept = Object.entries(JSON.parse(looks) as Json).map(([key, look]) => [to.get(key) ?? key, look]);
    const text = JSON.stringify(Object.fromEntries(kept));
    if (text !== looks) await runner.query('UPDATE `lead` SET `looks` = ? WHERE `looks` = ?', [text, looks]);
  }
}

async function rewriteViews(runner: QueryRunner, change: Change): Promise<void> {
  const views = (await runner.query('SELECT `id`, `query` FROM `saved_view`')) as { id: number; query: string }[];
  for (const { id, query } of views) {
    const filters = JSON.parse(query) as Json;
    if (typeof filters['when'] !== 'string') continue;
    const when = JSON.stringify(changed(JSON.parse(filters['when']), change));
    await runner.query('UPDATE `saved_view` SET `query` = ? WHERE `id` = ?', [
      JSON.stringify({ ...filters, when }),
      id,
    ]);
  }
}

/** The same with every test in it changed. */
function changed(json: unknown, change: Change): unknown {
  if (Array.isArray(json)) return json.map((part) => changed(part, change));
  if (typeof json !== 'object' || json === null) return json;
  const own = json as Json;
  if (typeof own['test'] === 'string' && ('field' in own || 'subject' in own)) return change(own);
  return Object.fromEntries(Object.entries(own).map(([key, part]) => [key, changed(part, change)]));
}

const COMPUTED: Readonly<Record<string, Json>> = {
  fit: { kind: 'score', axis: 'fit' },
  engagement: { kind: 'score', axis: 'engagement' },
  rank: { kind: 'score', axis: 'rank' },
  fit_band: { kind: 'band', axis: 'fit' },
  engagement_band: { kind: 'band', axis: 'engagement' },
  verdict: { kind: 'verdict' },
  stage: { kind: 'stage' },
  territory: { kind: 'territory' },
};

function toSubjects(test: Json): Json {
  if ('subject' in test) return test;
  const field = String(test['field']);
  const own = Object.hasOwn(COMPUTED, field) ? COMPUTED[field] : { kind: 'field', field };
  const ends = { from: test['from'] ?? null, to: test['to'] ?? null };
  switch (test['test']) {
    case 'is':
      return { test: 'one-of', subject: own, values: [test['value']] };
    case 'currency':
      return { test: 'one-of', subject: { kind: 'currency', field }, values: test['values'] };
    case 'days-ago':
      return { test: 'range', subject: { kind: 'days-since', day: { kind: 'field', field } }, ...ends };
    case 'range':
      return { test: 'range', subject: own, ...ends };
    case 'blank':
      return { test: 'blank', subject: own };
    default:
      return { test: test['test'], subject: own, values: test['values'] };
  }
}

function toFields(test: Json): Json {
  if (!('subject' in test)) return test;
  const subject = test['subject'] as { kind: string; field?: string; day?: { field: string } };
  const ends = { from: test['from'], to: test['to'] };
  const values = (test['values'] ?? []) as readonly unknown[];
  if (subject.kind === 'currency') return { test: 'currency', field: subject.field, values };
  if (subject.kind === 'days-since') {
    const [at] = values;
    const exactly = { at, included: true };
    return {
      test: 'days-ago',
      field: subject.day?.field,
      ...('values' in test ? { from: exactly, to: exactly } : ends),
    };
  }
  const known = Object.entries(COMPUTED).find(([, one]) => JSON.stringify(one) === JSON.stringify(subject));
  const field = known?.[0] ?? subject.field;
  switch (test['test']) {
    case 'one-of':
      return values.length === 1 ? { test: 'is', field, value: values[0] } : { test: 'one-of', field, values };
    case 'range':
      return { test: 'range', field, ...ends };
    case 'blank':
      return { test: 'blank', field };
    default:
      return { test: test['test'], field, values };
  }
}

export interface Gate {
  readonly key: string;
  readonly from: string;
  readonly when: unknown;
}

/** As it is when this migration is written: later ones may change it. */
export function lookKey({ key, from, when }: Gate): string {
  let hash = 0x811c9dc5;
  const text = JSON.stringify([from, when]);
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return `${key} ${(hash >>> 0).toString(16).padStart(8, '0')}`;
}
