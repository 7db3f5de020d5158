import { type Condition, toMicro } from '@relvik/core';
import type { Connection } from 'mysql2/promise';
import { AS_OF, ATTRIBUTES, BEHAVIOUR, CHARTER_JSON, FIELDS, SCORE_SET } from '../setting';
import { factOf, factOfField, literal } from './literal';
import type { PlainFacts } from './plain-facts';

const quoted = (value: string | number | boolean): string =>
  typeof value === 'string' ? `'${value.replaceAll("'", "''")}'` : String(value);

/** A condition as SQL, each leaf wrapped so that null is false. */
function sqlOf(condition: Condition): string {
  switch (condition.test) {
    case 'all':
      return condition.of.length === 0 ? 'TRUE' : `(${condition.of.map(sqlOf).join(' AND ')})`;
    case 'any':
      return condition.of.length === 0 ? 'FALSE' : `(${condition.of.map(sqlOf).join(' OR ')})`;
    case 'not':
      return `(NOT ${sqlOf(condition.of)})`;
    case 'one-of':
      return `COALESCE(${factOf(condition)} IN (${condition.values.map((v) => quoted(literal(factOf(condition), v))).join(', ')}), FALSE)`;
    case 'contains':
      return `(${condition.values.map((v) => `COALESCE(${factOf(condition)} LIKE ${quoted(`%${String(literal(factOf(condition), v))}%`)}, FALSE)`).join(' OR ')})`;
    case 'ends-with':
      return `(${condition.values.map((v) => `COALESCE(${factOf(condition)} LIKE ${quoted(`%${String(literal(factOf(condition), v))}`)}, FALSE)`).join(' OR ')})`;
    case 'blank':
      return `(${factOf(condition)} IS NULL)`;
    case 'range': {
      const { from, to } = condition;
      const field = factOf(condition);
      const ends = [
        ...(from === null ? [] : [`${field} ${from.included ? '>=' : '>'} ${quoted(literal(field, from.at))}`]),
        ...(to === null ? [] : [`${field} ${to.included ? '<=' : '<'} ${quoted(literal(field, to.at))}`]),
      ];
      return `COALESCE(${ends.join(' AND ')}, FALSE)`;
    }
    default:
      throw new Error(`The bench asks no ${condition.test}`);
  }
}

interface Behaviour {
  readonly kind: string;
  readonly activity?: string;
  readonly points: number;
  readonly most?: number;
  readonly window?: number;
  readonly every?: number;
  readonly fade?: { readonly days: number };
}

/** What an activity signal gives, over events with their age in hours and their number from the newest on. */
function behaviourSql(signal: Behaviour): string {
  const counts = [
    `e.kind = ${quoted(signal.activity ?? '')}`,
    ...(signal.most === undefined ? [] : [`e.nth <= ${signal.most}`]),
    ...(signal.window === undefined ? [] : [`e.hours < ${signal.window * 24}`]),
  ].join(' AND ');
  const each = toMicro(signal.points);
  const faded =
    signal.fade === undefined ? String(each) : `ROUND(${each} * POW(0.5, e.hours / ${signal.fade.days * 24}))`;
  return `SUM(CASE WHEN ${counts} THEN ${faded} ELSE 0 END)`;
}

/** The whole charter of the bench as one statement: scores, bands, gates, territories and routes. */
export function charterAsSql(): string {
  const { fit, engagement, cells } = SCORE_SET.grid;
  const bandOf = (score: string, cuts: readonly number[]): string =>
    cuts.map((cut) => `(${score} >= ${cut})`).join(' + ');
  const attributes = ATTRIBUTES.map(({ points, when }) => `IF(${sqlOf(when)}, ${points}, 0)`).join(' + ');
  const behaviour = (BEHAVIOUR as readonly Behaviour[])
    .filter((one) => one.kind === 'activity')
    .map(behaviourSql)
    .join(' + ');
  const silence = (BEHAVIOUR as readonly Behaviour[]).find((one) => one.kind === 'silence');
  const silent = `LEAST(${silence?.most ?? 0}, FLOOR(COALESCE(a.quiet, r.arrived_hours) / ${(silence?.every ?? 1) * 24})) * ${toMicro(silence?.points ?? 0)}`;
  const verdict = `ELT(1 + 4 * fit_at + engagement_at, ${cells.flat().map(quoted).join(', ')})`;
  const territories = CHARTER_JSON.territories.list
    .map(
      ({ key, countries }) =>
        `WHEN country IN (${countries.map((c) => quoted(literal('country', c))).join(', ')}) THEN ${quoted(key)}`,
    )
    .join(' ');
  const [gateRipe] = CHARTER_JSON.gates.filter((gate) => gate.key === 'ripe');
  const routes = CHARTER_JSON.streams.flatMap((stream) => stream.routes);
  const routed = routes.map(({ key, when }) => `WHEN ${sqlOf(when)} THEN ${quoted(key)}`).join(' ');
  return `
    SELECT id, fit, engagement, stage, IF(stage = 'qualified', CASE ${routed} ELSE 'none' END, NULL) AS route FROM (
    SELECT graded.*, CASE ${territories} END AS territory,
      CASE WHEN verdict = 'decline' THEN 'out'
           WHEN verdict IN ('hand-over-now', 'hand-over') THEN 'qualified'
           WHEN ${gateRipe === undefined ? 'FALSE' : sqlOf(gateRipe.when)} THEN 'qualified' ELSE 'nurture' END AS stage FROM (
    SELECT banded.*, fit + engagement AS rank, ${verdict} AS verdict FROM (
    SELECT scored.*, ${bandOf('fit', fit.cuts)} AS fit_at, ${bandOf('engagement', engagement.cuts)} AS engagement_at FROM (
    SELECT r.*, LEAST(100, GREATEST(0, ${attributes})) AS fit,
      LEAST(100, GREATEST(0, ROUND((COALESCE(a.micro, 0) + ${silent}) / 1000000))) AS engagement
      FROM bench_record r LEFT JOIN (
        SELECT e.record, ${behaviour} AS micro, MIN(IF(e.kind IN ('mail_sent', 'mail_bounced'), NULL, e.hours)) AS quiet FROM (
          SELECT record, kind, FLOOR((${AS_OF} - at) / 3600000) AS hours, ROW_NUMBER() OVER (PARTITION BY record, kind ORDER BY at DESC) AS nth
            FROM bench_event) e
        GROUP BY e.record) a ON a.record = r.id
    ) scored) banded) graded) placed`;
}

const TYPES: Readonly<Record<string, string>> = { number: 'DOUBLE', money: 'DOUBLE', date: 'INT', 'yes-no': 'BOOLEAN' };

/** Fills the tables that the statement reads: records as one wide row each, and their events. */
export async function fillTables(
  connection: Connection,
  records: readonly {
    readonly id: string;
    readonly arrived: number;
    readonly facts: PlainFacts;
    readonly activities: readonly { readonly kind: string; readonly at: number }[];
  }[],
): Promise<void> {
  const facts = [...FIELDS].map(([key, { type }]) => [factOfField(key), { type }] as const);
  const columns = facts.flatMap(([key, { type }]) => [
    `${key} ${TYPES[type] ?? 'VARCHAR(120) COLLATE utf8mb4_nopad_bin'} NULL`,
    ...(type === 'money' ? [`${key}_currency CHAR(3) NULL`] : []),
  ]);
  await connection.query(
    `CREATE TABLE bench_record (id INT PRIMARY KEY, arrived_hours INT NOT NULL, ${columns.join(', ')}) DEFAULT CHARSET utf8mb4`,
  );
  await connection.query(
    'CREATE TABLE bench_event (id INT AUTO_INCREMENT PRIMARY KEY, record INT NOT NULL, kind VARCHAR(20) NOT NULL, at BIGINT NOT NULL, KEY bench_event_by_record (record, kind, at))',
  );
  const names = facts.flatMap(([key, { type }]) => (type === 'money' ? [key, `${key}_currency`] : [key]));
  for (let i = 0; i < records.length; i += 2000) {
    const part = records.slice(i, i + 2000);
    const rows = part.map(({ id, arrived, facts }) => [
      Number(id),
      Math.floor((AS_OF - arrived) / 3_600_000),
      ...names.map((name) => facts[name] ?? null),
    ]);
    await connection.query('INSERT INTO bench_record VALUES ?', [rows]);
    const events = part.flatMap(({ id, activities }) => activities.map(({ kind, at }) => [Number(id), kind, at]));
    if (events.length > 0) await connection.query('INSERT INTO bench_event (record, kind, at) VALUES ?', [events]);
  }
}
