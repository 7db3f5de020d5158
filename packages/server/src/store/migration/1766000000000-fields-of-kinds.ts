import type { MigrationInterface, QueryRunner } from 'typeorm';

type Json = Readonly<Record<string, unknown>>;

/** A charter in either version, as far as it is rewritten. */
interface Charter extends Json {
  readonly scoreSets?: readonly Json[];
  readonly pipelines?: readonly Json[];
}

interface FieldRow {
  readonly key: string;
  readonly name: string;
  readonly type: string;
  readonly options: string;
  readonly retired_options: string;
  readonly retired: number;
  readonly personal: number;
}

/**
 * Fields belong to a kind of record, which stands before their key; they have a role, may feed a field of contact or company,
 * and may share a list of options. Charters of version 4: score sets for companies read the companies' own fields, which get what
 * leads say; deals have a pipeline.
 */
export class FieldsOfKinds1766000000000 implements MigrationInterface {
  name = 'FieldsOfKinds1766000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `ALTER TABLE \`field\` ADD COLUMN \`role\` varchar(8) NULL AFTER \`type\`, ADD COLUMN \`feeds\` ${KEY} NULL AFTER \`role\`, ADD COLUMN \`option_list\` ${KEY} NULL AFTER \`feeds\``,
    );
    await runner.query(`CREATE TABLE \`option_list\` (
      \`key\` ${KEY} NOT NULL,
      \`name\` varchar(120) NOT NULL,
      \`options\` longtext NOT NULL,
      \`retired_options\` longtext NOT NULL,
      PRIMARY KEY (\`key\`)
    ) ENGINE=InnoDB`);
    for (const event of EVENTS)
      await runner.query(
        `CREATE TRIGGER \`stamp_option_list_${event.toLowerCase()}\` AFTER ${event} ON \`option_list\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
      );
    for (const [role, types] of Object.entries(ROLES))
      await runner.query('UPDATE `field` SET `role` = ? WHERE `key` = ? AND `type` IN (?)', [role, role, types]);
    const read = await rewriteCharters(runner, toVersion4);
    const fields = (await runner.query('SELECT * FROM `field` ORDER BY `position`')) as FieldRow[];
    // An empty database gets its fields from whoever fills it.
    if (fields.some(({ key }) => key !== 'tags')) await addFields(runner, fields, read);
    for (const kind of KINDS) await addField(runner, { ...TAGS, key: `${kind}.tags` });
  }

  async down(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, toVersion3);
    await runner.query("DELETE FROM `field_value` WHERE `field` LIKE '%.%'");
    await runner.query("DELETE FROM `field` WHERE `key` LIKE '%.%'");
    for (const event of EVENTS) await runner.query(`DROP TRIGGER \`stamp_option_list_${event.toLowerCase()}\``);
    await runner.query('DROP TABLE `option_list`');
    await runner.query('ALTER TABLE `field` DROP COLUMN `role`, DROP COLUMN `feeds`, DROP COLUMN `option_list`');
  }
}

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';
const EVENTS = ['INSERT', 'UPDATE', 'DELETE'] as const;
const KINDS = ['contact', 'company', 'deal'] as const;
/** The keys that had a role in code, and the types that suit it. */
const ROLES = {
  name: ['text'],
  email: ['email'],
  phone: ['text'],
  company: ['text'],
  source: ['choice', 'text'],
  country: ['country'],
};

interface NewField {
  readonly key: string;
  readonly name: string;
  readonly type: string;
  readonly role: string | null;
  readonly options: string;
  readonly personal: number;
}

const TAGS: NewField = { key: 'tags', name: 'Tags', type: 'choices', role: null, options: '[]', personal: 0 };

async function addField(runner: QueryRunner, { key, name, type, role, options, personal }: NewField): Promise<void> {
  await runner.query(
    "INSERT INTO `field` (`key`, `name`, `type`, `role`, `options`, `retired_options`, `retired`, `personal`, `position`) SELECT ?, ?, ?, ?, ?, '[]', 0, ?, COALESCE(MAX(`position`), 0) + 1 FROM `field`",
    [key, name, type, role, options, personal],
  );
}

/** The fields that contacts, companies and deals have from the first day, and those that score sets for companies read. */
async function addFields(runner: QueryRunner, fields: readonly FieldRow[], read: ReadonlySet<string>): Promise<void> {
  const lead = new Map(fields.map((field) => [field.key, field]));
  const feed = async (from: string, to: string, role: string | null): Promise<void> => {
    const field = lead.get(from);
    if (field === undefined) return;
    await addField(runner, { ...field, key: to, role });
    await runner.query('UPDATE `field` SET `feeds` = ? WHERE `key` = ?', [to, from]);
  };
  for (const role of ['name', 'email', 'phone'] as const) await feed(role, `contact.${role}`, role);
  await feed('title', 'contact.title', null);
  await feed('company', 'company.name', 'name');
  await feed('country', 'company.country', 'country');
  for (const key of [...read].sort())
    if (key !== 'company' && key !== 'country') {
      const field = lead.get(key);
      const fedAlready = ['name', 'email', 'phone', 'title'].includes(key);
      if (field !== undefined && !fedAlready) await feed(key, `company.${key}`, null);
      else if (field !== undefined) await addField(runner, { ...field, key: `company.${key}`, role: null });
    }
  const money = { options: '[]', personal: 0 };
  await addField(runner, { ...money, key: 'company.domain', name: 'Mail domain', type: 'text', role: 'domain' });
  await addField(runner, { ...money, key: 'deal.name', name: 'Name', type: 'text', role: 'name' });
  await addField(runner, { ...money, key: 'deal.amount', name: 'Amount', type: 'money', role: 'amount' });
  await addField(runner, { ...money, key: 'deal.close', name: 'Expected close', type: 'date', role: 'close' });
}

/** @returns the fields of leads that score sets for companies read */
async function rewriteCharters(
  runner: QueryRunner,
  rewrite: (charter: Charter, read: Set<string>) => Charter,
): Promise<ReadonlySet<string>> {
  const read = new Set<string>();
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const after = rewrite(JSON.parse(body) as Charter, read);
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [JSON.stringify(after), id]);
  }
  return read;
}

function toVersion4(charter: Charter, read: Set<string>): Charter {
  const { pipelines = [], scoreSets } = charter;
  const taken = new Set(pipelines.flatMap((one) => [one['key'], ...stagesOf(one).map((stage) => stage['key'])]));
  const free = (key: string): string => (taken.has(key) ? free(`${key}-of-deals`) : key);
  const stage = (key: string, name: string, kind: string): Json => ({ key: free(key), name, kind });
  const deals = {
    key: free('deals'),
    name: 'Deals',
    of: 'deal',
    entry: free('deal-open'),
    stages: [
      stage('deal-open', 'Open', 'open'),
      stage('deal-offer', 'Offer made', 'open'),
      stage('deal-won', 'Won', 'won'),
      stage('deal-lost', 'Lost', 'lost'),
    ],
  };
  return {
    ...charter,
    version: 4,
    pipelines: [...pipelines, deals],
    ...(scoreSets === undefined
      ? {}
      : {
          scoreSets: scoreSets.map((set) =>
            set['of'] === 'company'
              ? (withFields(set, (field) => {
                  read.add(field);
                  return `company.${field}`;
                }) as Json)
              : set,
          ),
        }),
  };
}

function toVersion3(charter: Charter): Charter {
  const { pipelines = [], scoreSets } = charter;
  return {
    ...charter,
    version: 3,
    pipelines: pipelines.filter(({ of }) => of !== 'deal'),
    ...(scoreSets === undefined
      ? {}
      : {
          scoreSets: scoreSets.map((set) =>
            set['of'] === 'company' ? (withFields(set, (field) => field.replace(/^company\./, '')) as Json) : set,
          ),
        }),
  };
}

function stagesOf(pipeline: Json): readonly Json[] {
  return (pipeline['stages'] ?? []) as readonly Json[];
}

const FIELD_SUBJECTS: readonly unknown[] = ['field', 'currency', 'amount'];

/** The same document with the key of each field that a subject names exchanged. */
function withFields(json: unknown, exchange: (field: string) => string): unknown {
  if (Array.isArray(json)) return json.map((part) => withFields(part, exchange));
  if (typeof json !== 'object' || json === null) return json;
  const own = Object.fromEntries(Object.entries(json).map(([key, part]) => [key, withFields(part, exchange)]));
  const { kind, field } = json as Json;
  return typeof field === 'string' && FIELD_SUBJECTS.includes(kind) ? { ...own, field: exchange(field) } : own;
}
