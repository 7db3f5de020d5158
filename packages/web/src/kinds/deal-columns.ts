import type { RecordQuery, RecordRow, StageSum } from '@relvik/contracts';
import { currencyDecimals } from '@relvik/core';
import { catchError, map, of, throwError } from 'rxjs';
import { problemOf } from '../api/problem';
import { CARDS } from '../list/lead-columns';
import type { ColumnHead, ColumnSource } from '../list/stage-columns';
import { shownAs } from '../wording/shown-as';
import type { RecordService } from './record.service';

/** The fields of deals that tell what a deal is worth, and when it is expected to close; null: there is none. */
export interface DealFields {
  readonly amount: string | null;
  readonly close: string | null;
}

/**
 * The deals of a list by stage, with what they are worth; a move that takes a reason, or is not allowed, says so.
 *
 * @param today by which an open deal should have been closed
 */
export function dealColumns(
  records: RecordService,
  filters: RecordQuery,
  fields: DealFields,
  today: string,
): ColumnSource {
  const query = (stage: string, open: boolean): RecordQuery => ({ ...filters, stage, status: open ? 'open' : 'any' });
  const columns = [fields.amount, fields.close].flatMap((key) => (key === null ? [] : [`field:${key}`])).join(',');
  return {
    page: ({ key, kind }) =>
      records
        .page('deal', { ...query(key, kind === 'open'), size: CARDS, ...(columns === '' ? {} : { columns }) })
        .pipe(
          map(({ rows }) =>
            rows.map((row) => ({
              ...row,
              name: row.name || `Deal ${row.id}`,
              beside: row.ties.company?.name ?? row.ties.contact?.name ?? '',
              worth: shownAs({ type: 'money' }, valueIn(row, fields.amount)),
              amiss: amissWith(row, fields, today),
            })),
          ),
        ),
    heads: () =>
      records
        .dealSums({ ...filters, status: 'any' })
        .pipe(map(({ stages, currency }) => new Map(stages.map((sum) => [sum.stage, headOf(sum, currency)])))),
    move: (id, stage, reason) =>
      records.move(id, { stage, reason }).pipe(
        map(() => null),
        catchError((error: unknown) => {
          const { status, errors, title, detail } = problemOf(error);
          if (status !== 422 && status !== 409) return throwError(() => error);
          return of(errors?.[0]?.message ?? detail ?? title);
        }),
      ),
  };
}

function valueIn({ values }: Pick<RecordRow, 'values'>, key: string | null): string {
  return key === null ? '' : (values[key] ?? '');
}

function amissWith(row: RecordRow, { amount, close }: DealFields, today: string): string[] {
  if (row.status !== 'open') return [];
  const expected = valueIn(row, close);
  return [
    ...(expected !== '' && expected < today ? [`should have closed on ${expected}`] : []),
    ...(amount !== null && valueIn(row, amount) === '' ? ['no amount'] : []),
  ];
}

function headOf({ count, sum, overdue, withoutAmount, withoutRate }: StageSum, currency: string): ColumnHead {
  const some = (n: number, words: string): string[] => (n === 0 ? [] : [`${n} ${words}`]);
  const worth = sum / 10 ** (currencyDecimals(currency) ?? 2);
  return {
    count,
    worth: `${new Intl.NumberFormat('en', { maximumFractionDigits: 0 }).format(worth)} ${currency}`,
    amiss: [
      ...some(overdue, 'overdue to close'),
      ...some(withoutAmount, 'without an amount'),
      ...some(withoutRate, 'without a rate: not in the sum'),
    ],
  };
}
