import { fromEarlierTest } from '../condition/earlier-tests';
import { fieldKey } from '../record/field';
import { fold } from '../record/fold';
import { AXES, type Axis } from '../signal/signal';

type Json = Readonly<Record<string, unknown>>;

function isObject(json: unknown): json is Json {
  return typeof json === 'object' && json !== null && !Array.isArray(json);
}

function listIn(json: unknown, member: string): readonly unknown[] {
  const list = isObject(json) ? json[member] : undefined;
  return Array.isArray(list) ? (list as readonly unknown[]) : [];
}

/**
 * A charter as an earlier Relvik wrote it, in the form of today; all else comes back as it was.
 *
 * Version 1 had one score set, which admitted every record. Version 2 had bands without keys, which conditions knew by name;
 * `stages` and `entry` in place of pipelines; and one last resort. In version 3 companies had no fields of their own, so that their
 * score sets named the fields of leads, and deals had no pipeline.
 */
export function fromEarlierVersion(json: unknown): unknown {
  if (!isObject(json)) return json;
  switch (json['version']) {
    case 1:
      return fromVersion3(fromVersion2(fromVersion1(json)));
    case 2:
      return fromVersion3(fromVersion2(json));
    case 3:
      return fromVersion3(json);
    default:
      return json;
  }
}

/** The place of a problem in the document as it was written, from the place in the form of today. */
export function pathAsWritten(json: unknown, path: string): string {
  const version = isObject(json) ? json['version'] : undefined;
  if (version !== 1 && version !== 2) return path;
  const before = path
    .replace(/^\/pipelines\/0\/(stages|entry)/, '/$1')
    .replace(/^\/lastResort\/lead/, '/lastResort')
    .replace(
      /^(\/scoreSets\/\d+\/grid\/(?:fit|engagement))\/bands(?:\/(\d+))?(?:\/name)?$/,
      (_, grid: string, n?: string) => (n === undefined ? `${grid}/names` : `${grid}/names/${n}`),
    );
  return version === 1 ? before.replace(/^\/scoreSets\/0/, '/scoreSet') : before;
}

function fromVersion1(charter: Json): Json {
  if (!('scoreSet' in charter)) return charter;
  const { scoreSet, ...rest } = charter;
  return { ...rest, version: 2, scoreSets: [scoreSet] };
}

function fromVersion2(charter: Json): Json {
  const { stages, entry, lastResort, ...rest } = charter;
  const keys = bandKeysOf(listIn(charter, 'scoreSets'));
  const pipeline = {
    key: 'leads',
    name: 'Leads',
    of: 'lead',
    ...(stages === undefined ? {} : { stages }),
    ...(entry === undefined ? {} : { entry }),
  };
  return {
    ...withBandKeys(rest, keys),
    version: 3,
    ...(Array.isArray(charter['scoreSets'])
      ? { scoreSets: listIn(charter, 'scoreSets').map((set) => withBands(set, keys)) }
      : {}),
    pipelines: [pipeline],
    ...(lastResort === undefined ? {} : { lastResort: { lead: lastResort } }),
  };
}

function fromVersion3(charter: Json): Json {
  const { scoreSets, pipelines } = charter;
  return {
    ...charter,
    version: 4,
    ...(Array.isArray(scoreSets) ? { scoreSets: listIn(charter, 'scoreSets').map(withCompanyFields) } : {}),
    ...(Array.isArray(pipelines)
      ? { pipelines: [...listIn(charter, 'pipelines'), dealPipeline(listIn(charter, 'pipelines'))] }
      : {}),
  };
}

/** The pipeline of deals that charters get which had none; its keys are none of those that stand. */
function dealPipeline(others: readonly unknown[]): Json {
  const taken = new Set<unknown>(
    others.flatMap((one) => [
      ...(isObject(one) ? [one['key']] : []),
      ...listIn(one, 'stages').map((stage) => (isObject(stage) ? stage['key'] : null)),
    ]),
  );
  const free = (key: string): string => (taken.has(key) ? free(`${key}-of-deals`) : key);
  const stage = (key: string, name: string, kind: string): Json => ({ key: free(key), name, kind });
  return {
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
}

/** The conditions of a score set for companies, with the companies’ own fields in place of those of leads. */
function withCompanyFields(set: unknown): unknown {
  return isObject(set) && set['of'] === 'company' ? withOwnFields(set) : set;
}

const FIELD_SUBJECTS: readonly unknown[] = ['field', 'currency', 'amount'];

function withOwnFields(json: unknown): unknown {
  if (Array.isArray(json)) return json.map(withOwnFields);
  if (!isObject(json)) return json;
  const own = Object.fromEntries(Object.entries(json).map(([key, part]) => [key, withOwnFields(part)]));
  const { kind, field } = json;
  return typeof field === 'string' && FIELD_SUBJECTS.includes(kind)
    ? { ...own, field: fieldKey('company', field) }
    : own;
}

/** By folded name: bands of one name, in whichever set, have one key, since conditions knew them by their names. */
type BandKeys = Readonly<Record<Axis, ReadonlyMap<string, string>>>;

function bandKeysOf(sets: readonly unknown[]): BandKeys {
  const keysOn = (axis: Axis): ReadonlyMap<string, string> => {
    const keys = new Map<string, string>();
    for (const name of sets.flatMap((set) => listIn(gridOf(set)?.[axis], 'names')))
      if (typeof name === 'string' && !keys.has(fold(name)))
        keys.set(fold(name), bandKey(name, new Set(keys.values())));
    return keys;
  };
  return { fit: keysOn('fit'), engagement: keysOn('engagement') };
}

/**
 * A key for a band that had none, from its name.
 *
 * @param taken keys that it must not have
 *
 * @example bandKey('In talks', new Set()) // 'in-talks'
 * @example bandKey('A', new Set(['a'])) // 'a-2'
 */
function bandKey(name: string, taken: ReadonlySet<string>): string {
  const plain = fold(name.normalize('NFKD').replace(/\p{M}/gu, ''))
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 40);
  const first = plain === '' ? 'band' : plain;
  let key = first;
  for (let n = 2; taken.has(key); n += 1) key = `${first}-${n}`;
  return key;
}

function gridOf(set: unknown): Json | undefined {
  const grid = isObject(set) ? set['grid'] : undefined;
  return isObject(grid) ? grid : undefined;
}

function withBands(set: unknown, keys: BandKeys): unknown {
  const grid = gridOf(set);
  if (!isObject(set) || grid === undefined) return set;
  const axes = AXES.flatMap((axis): [string, unknown][] => {
    const own = grid[axis];
    if (!isObject(own) || !Array.isArray(own['names'])) return [];
    const { names, ...others } = own;
    const bands = (names as readonly unknown[]).map((name) => ({
      key: typeof name === 'string' ? keys[axis].get(fold(name)) : 'band',
      name,
    }));
    return [[axis, { bands, ...others }]];
  });
  return { ...set, grid: { ...grid, ...Object.fromEntries(axes) } };
}

/** Conditions with the keys of bands in place of their names, anywhere in a document. */
function withBandKeys<T>(json: T, keys: BandKeys): T {
  if (Array.isArray(json)) return json.map((part: unknown) => withBandKeys(part, keys)) as T;
  if (!isObject(json)) return json;
  const test = typeof json['test'] === 'string' ? fromEarlierTest(json) : json;
  const axis = bandAxisOf(test['subject']);
  if (axis === null)
    return Object.fromEntries(Object.entries(json).map(([key, part]) => [key, withBandKeys(part, keys)])) as T;
  return bandTest(test, keys[axis]) as T;
}

function bandAxisOf(subject: unknown): Axis | null {
  if (!isObject(subject) || subject['kind'] !== 'band') return null;
  return AXES.find((axis) => axis === subject['axis']) ?? null;
}

/**
 * A name that no band had stays, and is refused as before. Tests on a part of the name ask for the bands that had it: a key
 * need not have it too.
 */
function bandTest(test: Json, keys: ReadonlyMap<string, string>): Json {
  if (!Array.isArray(test['values'])) return test;
  const values = test['values'] as readonly unknown[];
  const passes = PASSES[String(test['test'])];
  if (passes === undefined)
    return {
      ...test,
      values: values.map((value) => (typeof value === 'string' ? keys.get(fold(value)) : null) ?? value),
    };
  const asked = values.flatMap((value) => (typeof value === 'string' ? [fold(value)] : []));
  const having = [...keys].flatMap(([name, key]) => (asked.some((part) => passes(name, part)) ? [key] : []));
  return having.length === 0 ? test : { ...test, test: 'one-of', values: having };
}

const PASSES: Readonly<Record<string, (name: string, part: string) => boolean>> = {
  contains: (name, part) => name.includes(part),
  'starts-with': (name, part) => name.startsWith(part),
  'ends-with': (name, part) => name.endsWith(part),
};
