import { Injectable, signal } from '@angular/core';
import { LEAD_COLUMNS, type LeadColumn, type RecordColumn } from '@relvik/contracts';

/** What stands above each column of a list. */
export const COLUMN_HEADS: { readonly [C in LeadColumn | RecordColumn]: string } = {
  company: 'Company',
  contact: 'Contact',
  grade: 'Grade',
  rank: 'Rank',
  fit: 'Fit',
  engagement: 'Eng.',
  stage: 'Stage',
  territory: 'Territory',
  place: 'Where it is',
  owner: 'Owner',
  leads: 'Leads',
  arrived: 'Arrived',
  pipeline: 'Pipeline',
  asks: 'Asked about',
  waits: 'Waits for',
  task: 'Next task',
};

const KEPT = 'relvik.columns';

/** The columns that someone chose last, in this browser. */
@Injectable({ providedIn: 'root' })
export class RememberedColumns {
  private readonly kept = signal<readonly string[]>(read());
  readonly columns = this.kept.asReadonly();

  remember(columns: readonly string[]): void {
    this.kept.set(columns);
    localStorage.setItem(KEPT, columns.join(','));
  }
}

function read(): readonly string[] {
  const text = localStorage.getItem(KEPT);
  return text === null ? LEAD_COLUMNS : text.split(',').filter(Boolean);
}
