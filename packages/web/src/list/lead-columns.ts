import type { LeadQuery } from '@relvik/contracts';
import { forkJoin, map } from 'rxjs';
import type { LeadService } from '../record/lead.service';
import type { ColumnHead, ColumnSource } from './stage-columns';

/** Cards of a column. */
export const CARDS = 12;

/** The leads of a list by stage; whatever its filters say of status and stage, each column has its own. */
export function leadColumns(leads: LeadService, filters: LeadQuery): ColumnSource {
  const of = (stage: string, open: boolean): LeadQuery => ({ ...filters, stage, status: open ? 'open' : 'any' });
  return {
    page: ({ key, kind }) =>
      leads
        .page({ ...of(key, kind === 'open'), size: CARDS })
        .pipe(
          map(({ rows }) =>
            rows.map((row) => ({ ...row, name: row.name || row.company || `Lead ${row.id}`, beside: row.company })),
          ),
        ),
    heads: (stages) =>
      forkJoin(
        stages.map(({ key, kind }) =>
          leads.count(of(key, kind === 'open')).pipe(map((count): [string, ColumnHead] => [key, { count }])),
        ),
      ).pipe(map((heads) => new Map(heads))),
    move: (id, stage, reason) =>
      leads.move({ ids: [id], stage, reason }).pipe(map(({ refused }) => refused[0]?.why ?? null)),
  };
}
