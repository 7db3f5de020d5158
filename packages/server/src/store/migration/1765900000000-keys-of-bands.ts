import type { MigrationInterface, QueryRunner } from 'typeorm';
import { type Gate, lookKey, rewriteLooks } from './1765600000000-subjects-of-conditions';

type Json = Readonly<Record<string, unknown>>;
type Axis = 'fit' | 'engagement';
const AXES: readonly Axis[] = ['fit', 'engagement'];

/** A band as a charter of version 3 has it. */
interface Band {
  readonly key: string;
  readonly name: string;
}

/** A charter in either version, as far as it is rewritten. */
interface Charter extends Json {
  readonly scoreSets?: readonly (Json & {
    readonly key: string;
    readonly grid?: Readonly<Record<Axis, Json>> & Json;
  })[];
  readonly gates?: readonly Gate[];
}

/**
 * Charters of version 3: bands have keys, which conditions, leads, companies and saved views know in place of names and
 * positions; stages stand in a pipeline; the last resort is given by kind of record.
 */
export class KeysOfBands1765900000000 implements MigrationInterface {
  name = 'KeysOfBands1765900000000';

  async up(runner: QueryRunner): Promise<void> {
    const bands = await rewriteCharters(runner, toVersion3);
    await rewriteViews(runner, bands.inForce, viewToKeys);
    for (const table of ['lead', 'company']) {
      const index = table === 'lead' ? 'DROP INDEX `lead_by_grade`, ' : '';
      await runner.query(
        `ALTER TABLE \`${table}\` ${index}CHANGE \`fit_band\` \`fit_place\` tinyint UNSIGNED NULL, CHANGE \`engagement_band\` \`engagement_place\` tinyint UNSIGNED NULL`,
      );
      await runner.query(
        `ALTER TABLE \`${table}\` ADD COLUMN \`fit_band\` ${KEY} NULL AFTER \`verdict\`, ADD COLUMN \`engagement_band\` ${KEY} NULL AFTER \`fit_band\``,
      );
      for (const axis of AXES)
        await runner.query(
          `UPDATE \`${table}\` t JOIN band_place b ON b.charter = t.charter AND b.score_set = t.score_set AND b.axis = '${axis}' AND b.place = t.${axis}_place SET t.${axis}_band = b.band`,
        );
      await runner.query(
        `ALTER TABLE \`${table}\` DROP COLUMN \`fit_place\`, DROP COLUMN \`engagement_place\`, DROP COLUMN \`grade\``,
      );
    }
    await runner.query('DROP TEMPORARY TABLE band_place, band_of_engagement');
    await runner.query(
      'CREATE INDEX `lead_by_grade` ON `lead` (`fit_band`, `engagement_band`, `status`, `rank_order`, `id`)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    const bands = await rewriteCharters(runner, toVersion2);
    await rewriteViews(runner, bands.inForce, viewToNames);
    await rewriteHistory(runner, bands.inForce);
    await runner.query('UPDATE `decision` SET `format` = 2 WHERE `format` = 3');
    for (const table of ['lead', 'company']) {
      const index = table === 'lead' ? 'DROP INDEX `lead_by_grade`, ' : '';
      await runner.query(
        `ALTER TABLE \`${table}\` ${index}CHANGE \`fit_band\` \`fit_key\` ${KEY} NULL, CHANGE \`engagement_band\` \`engagement_key\` ${KEY} NULL`,
      );
      await runner.query(
        `ALTER TABLE \`${table}\` ADD COLUMN \`fit_band\` tinyint UNSIGNED NULL AFTER \`verdict\`, ADD COLUMN \`engagement_band\` tinyint UNSIGNED NULL AFTER \`fit_band\`, ADD COLUMN \`grade\` varchar(90) NULL AFTER \`engagement_band\``,
      );
      await runner.query(
        `UPDATE \`${table}\` t
         JOIN band_place f ON f.charter = t.charter AND f.score_set = t.score_set AND f.axis = 'fit' AND f.band = t.fit_key
         JOIN band_of_engagement e ON e.charter = t.charter AND e.score_set = t.score_set AND e.axis = 'engagement' AND e.band = t.engagement_key
         SET t.fit_band = f.place, t.engagement_band = e.place, t.grade = CONCAT(f.name, ' ', e.name)`,
      );
      await runner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`fit_key\`, DROP COLUMN \`engagement_key\``);
    }
    await runner.query('DROP TEMPORARY TABLE band_place, band_of_engagement');
    await runner.query('CREATE INDEX `lead_by_grade` ON `lead` (`grade`, `status`, `rank_order`, `id`)');
  }
}

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';

/** The bands of the charter in force, by axis. */
type Bands = Readonly<Record<Axis, readonly Band[]>>;
const NO_BANDS: Bands = { fit: [], engagement: [] };

/** Rewrites all charters and the looks of their gates, and fills the tables of where each band stands. */
async function rewriteCharters(
  runner: QueryRunner,
  rewrite: (charter: Charter) => { readonly charter: Charter; readonly bands: Bands },
): Promise<{ readonly inForce: Bands }> {
  // A statement can't read a temporary table twice.
  for (const table of ['band_place', 'band_of_engagement'])
    await runner.query(
      `CREATE TEMPORARY TABLE ${table} (charter int UNSIGNED NOT NULL, score_set ${KEY} NOT NULL, axis varchar(10) NOT NULL, band ${KEY} NOT NULL, place tinyint UNSIGNED NOT NULL, name varchar(40) NOT NULL, KEY (charter, score_set, axis, place))`,
    );
  const looks = new Map<string, string>();
  let inForce = NO_BANDS;
  const charters = (await runner.query('SELECT `id`, `number`, `in_force` AS inForce, `body` FROM `charter`')) as {
    id: number;
    number: number | null;
    inForce: number | null;
    body: string;
  }[];
  for (const { id, number, inForce: isInForce, body } of charters) {
    const before = JSON.parse(body) as Charter;
    const { charter, bands } = rewrite(before);
    if (isInForce !== null) inForce = bands;
    for (const [i, gate] of (charter.gates ?? []).entries()) {
      const old = before.gates?.[i];
      if (old !== undefined) looks.set(lookKey(old), lookKey(gate));
    }
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [JSON.stringify(charter), id]);
    const rows = number === null ? [] : placesOf(number, 'pipelines' in charter ? charter : before);
    if (rows.length > 0)
      for (const table of ['band_place', 'band_of_engagement'])
        await runner.query(
          `INSERT INTO ${table} (charter, score_set, axis, band, place, name) VALUES ${rows.map(() => '(?,?,?,?,?,?)').join(',')}`,
          rows.flat(),
        );
  }
  await rewriteLooks(runner, looks);
  return { inForce };
}

/** Where each band of a charter of version 3 stands. */
function placesOf(number: number, { scoreSets }: Charter): unknown[][] {
  return (scoreSets ?? []).flatMap(({ key: set, grid }) =>
    AXES.flatMap((axis) => bandsIn(grid?.[axis]).map((band, place) => [number, set, axis, band.key, place, band.name])),
  );
}

function bandsIn(axis: Json | undefined): readonly Band[] {
  return (axis?.['bands'] ?? []) as readonly Band[];
}

function toVersion3(charter: Charter): { readonly charter: Charter; readonly bands: Bands } {
  const keys = { fit: new Map<string, Band>(), engagement: new Map<string, Band>() };
  const scoreSets = charter.scoreSets?.map((set) => {
    const { grid } = set;
    if (grid === undefined) return set;
    const axes = AXES.map((axis): [string, unknown] => {
      const { names, ...rest } = grid[axis];
      const bands = ((names ?? []) as readonly string[]).map((name): Band => {
        const known = keys[axis].get(folded(name));
        const taken = new Set([...keys[axis].values()].map(({ key }) => key));
        const band = { key: known?.key ?? keyFor(name, taken), name };
        keys[axis].set(folded(name), known ?? band);
        return band;
      });
      return [axis, { bands, ...rest }];
    });
    return { ...set, grid: { ...grid, ...Object.fromEntries(axes) } };
  });
  const bands = { fit: [...keys.fit.values()], engagement: [...keys.engagement.values()] };
  const { stages, entry, lastResort, ...rest } = charter;
  return {
    charter: {
      ...(inConditions(rest, bands, keysFor) as Charter),
      version: 3,
      pipelines: [{ key: 'leads', name: 'Leads', of: 'lead', stages, entry }],
      scoreSets,
      lastResort: { lead: lastResort },
    },
    bands,
  };
}

function toVersion2(charter: Charter): { readonly charter: Charter; readonly bands: Bands } {
  const bandsOn = (axis: Axis): Band[] => (charter.scoreSets ?? []).flatMap(({ grid }) => bandsIn(grid?.[axis]));
  const bands = { fit: bandsOn('fit'), engagement: bandsOn('engagement') };
  const scoreSets = charter.scoreSets?.map((set) => {
    const { grid } = set;
    if (grid === undefined) return set;
    const axes = AXES.map((axis): [string, unknown] => {
      const { bands: own, ...rest } = grid[axis];
      return [axis, { names: ((own ?? []) as readonly Band[]).map(({ name }) => name), ...rest }];
    });
    return { ...set, grid: { ...grid, ...Object.fromEntries(axes) } };
  });
  const { pipelines, lastResort, ...rest } = charter;
  const [first] = (pipelines ?? []) as readonly Json[];
  return {
    charter: {
      ...(inConditions(rest, bands, namesFor) as Charter),
      version: 2,
      stages: first?.['stages'],
      entry: first?.['entry'],
      scoreSets,
      lastResort: (lastResort as Json | undefined)?.['lead'],
    },
    bands,
  };
}

/** Values of a test on bands in the other form, and the test that asks them. */
type Exchange = (
  test: string,
  values: readonly string[],
  bands: readonly Band[],
) => readonly [string, readonly string[]];

/** The same document with the values of every test on bands exchanged. */
function inConditions(json: unknown, bands: Bands, exchange: Exchange): unknown {
  if (Array.isArray(json)) return json.map((part) => inConditions(part, bands, exchange));
  if (typeof json !== 'object' || json === null) return json;
  const own = json as Json;
  const subject = own['subject'] as { kind?: string; axis?: Axis } | undefined;
  if (subject?.kind === 'band' && subject.axis !== undefined && Array.isArray(own['values'])) {
    const [test, values] = exchange(String(own['test']), own['values'] as string[], bands[subject.axis]);
    return { ...own, test, values };
  }
  return Object.fromEntries(Object.entries(own).map(([key, part]) => [key, inConditions(part, bands, exchange)]));
}

/** Tests on a part of a band's name ask for the bands that had it. */
function keysFor(test: string, values: readonly string[], bands: readonly Band[]): ReturnType<Exchange> {
  const passes = PASSES[test];
  if (passes === undefined)
    return [test, values.map((value) => bands.find(({ name }) => folded(name) === folded(value))?.key ?? value)];
  const having = bands.filter(({ name }) => values.some((value) => passes(folded(name), folded(value))));
  return having.length === 0 ? [test, values] : ['one-of', having.map(({ key }) => key)];
}

const PASSES: Readonly<Record<string, (name: string, part: string) => boolean>> = {
  contains: (name, part) => name.includes(part),
  'starts-with': (name, part) => name.startsWith(part),
  'ends-with': (name, part) => name.endsWith(part),
};

function namesFor(test: string, values: readonly string[], bands: readonly Band[]): ReturnType<Exchange> {
  return [test, values.map((value) => bands.find(({ key }) => key === value)?.name ?? value)];
}

/** Filters of a saved view. */
type Change = (filters: Json, bands: Bands) => Json;

async function rewriteViews(runner: QueryRunner, bands: Bands, change: Change): Promise<void> {
  const views = (await runner.query('SELECT `id`, `query` FROM `saved_view`')) as { id: number; query: string }[];
  for (const { id, query } of views) {
    const text = JSON.stringify(change(JSON.parse(query) as Json, bands));
    if (text !== query) await runner.query('UPDATE `saved_view` SET `query` = ? WHERE `id` = ?', [text, id]);
  }
}

/** A filter by grade, which was a name, becomes one by both bands. */
function viewToKeys({ grade, ...filters }: Json, bands: Bands): Json {
  const named = bands.fit
    .flatMap((fit) => bands.engagement.map((engagement) => ({ fit, engagement })))
    .find(({ fit, engagement }) => `${fit.name} ${engagement.name}` === grade);
  const cell = named === undefined ? {} : { fit: named.fit.key, engagement: named.engagement.key };
  return { ...viewThrough(filters, bands, keysFor), ...cell };
}

function viewToNames(filters: Json, bands: Bands): Json {
  return viewThrough(filters, bands, namesFor);
}

function viewThrough(filters: Json, bands: Bands, exchange: Exchange): Json {
  const changed: Record<string, unknown> = { ...filters };
  for (const axis of AXES) {
    const value = filters[axis];
    if (typeof value === 'string') changed[axis] = exchange('one-of', [value], bands[axis])[1][0];
  }
  if (typeof filters['when'] === 'string' && filters['when'] !== '')
    changed['when'] = JSON.stringify(inConditions(JSON.parse(filters['when']), bands, exchange));
  return changed;
}

/** Grades in the history, from keys to words again. */
async function rewriteHistory(runner: QueryRunner, { fit, engagement }: Bands): Promise<void> {
  for (const f of fit)
    for (const e of engagement) {
      const [kept, words] = [`${f.key}/${e.key}`, `${f.name} ${e.name}`];
      for (const end of ['from', 'to'])
        await runner.query(`UPDATE \`record_change\` SET \`${end}\` = ? WHERE \`field\` = 'grade' AND \`${end}\` = ?`, [
          JSON.stringify(words),
          JSON.stringify(kept),
        ]);
      await runner.query('UPDATE `decision` SET `grade` = ? WHERE `grade` = ?', [words, kept]);
    }
}

/** As bands were told apart when this migration was written. */
function folded(name: string): string {
  return name.normalize('NFKC').toLowerCase().trim();
}

/** As keys were made when this migration was written. */
function keyFor(name: string, taken: ReadonlySet<string>): string {
  const plain = name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40);
  const first = plain === '' ? 'band' : plain;
  let key = first;
  for (let n = 2; taken.has(key); n += 1) key = `${first}-${n}`;
  return key;
}
