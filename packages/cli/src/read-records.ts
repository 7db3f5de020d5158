import {
  COMPANY_OWNER,
  companyOwnerValue,
  PIPELINE_KINDS,
  pipelinesOf,
  stagesOf,
  type Activity,
  type AnyRecord,
  type Charter,
  dayOf,
  type Instant,
  isTied,
  JUST_IN,
  parseInstant,
  type Place,
  readableFields,
  readValue,
  type RecordKind,
  type RepKey,
  standingStage,
  type StageKey,
  type Status,
  statusIn,
  type Value,
  type World,
  WAYS,
  countryToReadBy,
} from '@relvik/core';
import { readCsvFile } from './read-file';
import { Refusal } from './refusal';

/** Columns of a records file that are no fields. */
const OWN_COLUMNS = ['id', 'arrived', 'owner', COMPANY_OWNER, 'stage', 'stage_since', 'pipeline', 'way', 'open_deal'];

/** A record to be decided, or graded where it is no lead, and when. */
export interface Row {
  readonly record: AnyRecord;
  readonly asOf: Instant;
}

interface Files {
  readonly records: string;
  readonly activities?: string | undefined;
  readonly asOf?: Instant | undefined;
  /** Of what kind the records are. */
  readonly kind: RecordKind;
}

/** Reads records and activities; every row that can't be used is named, and then nothing is decided. */
export function readRecords({ records: file, activities, asOf, kind }: Files, charter: Charter, world: World): Row[] {
  const table = readCsvFile(file, ['id']);
  const problems: string[] = [];
  const readable = readableFields(world.fields, kind);
  for (const column of table.header) {
    if (!OWN_COLUMNS.includes(column) && !readable.has(column))
      problems.push(`${file}: row 0: no such field: ${column}`);
  }
  const happened =
    activities === undefined ? new Map<string, Activity[]>() : readActivities(activities, world, problems);
  const stages = new Set<string>(stagesOf(charter, kind).flatMap(({ key, mergedFrom }) => [key, ...mergedFrom]));
  const pipelines = new Set(pipelinesOf(charter, kind).map(({ key }) => key));
  const seen = new Set<string>();
  const statusOf = (key: string): Status => {
    const own = stagesOf(charter, kind);
    const here = own.find((one) => one.key === standingStage(own, key as StageKey));
    return here === undefined ? 'open' : statusIn(here);
  };

  const rows = table.rows.map((cells, i): Row => {
    const at = (column: string): string => cells[table.header.indexOf(column)]?.trim() ?? '';
    const say = (column: string, message: string): void =>
      void problems.push(`${file}: row ${i + 1}: ${column}: ${message}`);
    const id = at('id');
    if (id === '') say('id', 'must not be empty');
    if (seen.has(id)) say('id', `stands twice: ${id}`);
    seen.add(id);

    const written = at('arrived');
    const arrived = written === '' ? (asOf ?? null) : parseInstant(written);
    if (arrived === null)
      say(
        'arrived',
        written === ''
          ? 'is needed where there is no --as-of'
          : `is no instant such as 2026-11-24T08:30:00Z: ${written}`,
      );

    const owner = at('owner');
    if (owner !== '' && !world.reps.has(owner as RepKey)) say('owner', `no such rep: ${owner}`);
    const stage = at('stage');
    if (stage !== '' && !stages.has(stage)) say('stage', `no such stage: ${stage}`);

    const since = at('stage_since');
    const stageSince = since === '' ? null : parseInstant(since);
    if (since !== '' && stageSince === null) say('stage_since', `is no instant such as 2026-11-24T08:30:00Z: ${since}`);
    const pipeline = at('pipeline');
    if (pipeline !== '' && !pipelines.has(pipeline)) say('pipeline', `no such pipeline: ${pipeline}`);
    const dealt = at('open_deal');
    if (!['', 'yes', 'no'].includes(dealt)) say('open_deal', `must be yes, no or empty: ${dealt}`);
    const way = WAYS.find((one) => one === at('way')) ?? null;
    if (at('way') !== '' && way === null) say('way', `must be one of: ${WAYS.join(', ')}`);

    const day = dayOf(arrived ?? 0, charter.timeZone);
    const values = new Map<string, Value>();
    const tied = new Map<string, Value>();
    table.header.forEach((column, c) => {
      const field = readable.get(column);
      if (field === undefined) return;
      const country = countryToReadBy(field, world.fields, kind, at);
      (isTied(column, kind) ? tied : values).set(column, readValue(field, cells[c] ?? '', day, country));
    });
    const ofCompany = at(COMPANY_OWNER);
    if (ofCompany !== '' && !world.reps.has(ofCompany as RepKey)) say(COMPANY_OWNER, `no such rep: ${ofCompany}`);
    else if (ofCompany !== '') tied.set(COMPANY_OWNER, companyOwnerValue(ofCompany));
    const place: Place | null = owner === '' ? null : { kind: 'owner', rep: owner as RepKey };
    const facts = { id, arrived: arrived ?? 0, way, values, tied, activities: happened.get(id) ?? [] };
    const standing = {
      ...JUST_IN,
      cameInto: pipeline === '' ? null : pipeline,
      stage: stage === '' ? null : (stage as StageKey),
      stageSince,
      place,
      ...(dealt === 'yes' ? { hasOpenDeal: true } : {}),
      ...(kind === 'deal' ? { status: statusOf(stage) } : {}),
    };
    const moves = PIPELINE_KINDS.some((one) => one === kind);
    const record: AnyRecord = { ...facts, kind, standing: moves ? standing : null };
    return { record, asOf: asOf ?? arrived ?? 0 };
  });
  for (const id of happened.keys())
    if (!seen.has(id)) problems.push(`${activities}: names a record that is not in ${file}: ${id}`);
  if (problems.length > 0) throw new Refusal(problems.join('\n'));
  return rows;
}

/** Every column but the three it needs is a property, such as the page. Kinds that do not exist are warned of, with counts. */
function readActivities(file: string, { kinds }: World, problems: string[]): Map<string, Activity[]> {
  const table = readCsvFile(file, ['record', 'kind', 'at']);
  const column = {
    record: table.header.indexOf('record'),
    kind: table.header.indexOf('kind'),
    at: table.header.indexOf('at'),
  };
  const others = table.header.flatMap((name, c) => (name in column ? [] : [[name, c] as const]));
  const unknown = new Map<string, number>();
  const byRecord = new Map<string, Activity[]>();
  table.rows.forEach((cells, i) => {
    const record = cells[column.record]?.trim() ?? '';
    const kind = cells[column.kind]?.trim() ?? '';
    const written = cells[column.at]?.trim() ?? '';
    const at = parseInstant(written);
    if (kind === '') problems.push(`${file}: row ${i + 1}: kind: must not be empty`);
    else if (!kinds.has(kind)) unknown.set(kind, (unknown.get(kind) ?? 0) + 1);
    if (at === null) {
      problems.push(`${file}: row ${i + 1}: at: is no instant such as 2026-11-24T08:30:00Z: ${written}`);
      return;
    }
    const said = others.flatMap(([name, c]) => (cells[c]?.trim() ? [[name, cells[c].trim()] as const] : []));
    const activity = said.length === 0 ? { kind, at } : { kind, at, properties: Object.fromEntries(said) };
    const list = byRecord.get(record);
    if (list) list.push(activity);
    else byRecord.set(record, [activity]);
  });
  for (const [kind, count] of unknown)
    process.stderr.write(
      `${file}: warning: no such kind of activity: ${kind} (${count} of ${table.rows.length} rows)\n`,
    );
  return byRecord;
}
