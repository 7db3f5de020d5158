import type { RecordQuery } from '@relvik/contracts';
import { catchError, map, of, throwError } from 'rxjs';
import { problemOf } from '../api/problem';
import { CARDS } from '../list/lead-columns';
import type { ColumnSource } from '../list/stage-columns';
import type { RecordService } from './record.service';

/** The deals of a list by stage; a move that takes a reason, or is not allowed, says so. */
export function dealColumns(records: RecordService, filters: RecordQuery): ColumnSource {
  const query = (stage: string, open: boolean): RecordQuery => ({ ...filters, stage, status: open ? 'open' : 'any' });
  return {
    page: ({ key, kind }) =>
      records.page('deal', { ...query(key, kind === 'open'), size: CARDS }).pipe(
        map(({ rows }) =>
          rows.map((row) => ({
            ...row,
            name: row.name || `Deal ${row.id}`,
            beside: row.ties.company?.name ?? row.ties.contact?.name ?? '',
          })),
        ),
      ),
    count: ({ key, kind }) => records.count('deal', query(key, kind === 'open')),
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
