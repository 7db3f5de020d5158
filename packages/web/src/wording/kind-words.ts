import type { RecordKind } from '@relvik/core';

const PLURALS: { readonly [K in RecordKind]: string } = {
  lead: 'leads',
  contact: 'contacts',
  company: 'companies',
  deal: 'deals',
};

/** Several records of a kind: "companies". */
export function pluralOf(kind: RecordKind): string {
  return PLURALS[kind];
}

/** A number of records of a kind: "1 company", "12 companies". */
export function countOf(kind: RecordKind, n: number): string {
  return `${n} ${n === 1 ? kind : PLURALS[kind]}`;
}

/** Several at the beginning of a sentence, or as a heading: "Companies". */
export function headingOf(kind: RecordKind): string {
  return capitalized(PLURALS[kind]);
}

/** One record of a kind as a heading: "Company". */
export function singularHeadingOf(kind: RecordKind): string {
  return capitalized(kind);
}

function capitalized(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** Where the pages of a kind are. */
export function pathOf(kind: RecordKind): string {
  return `/${PLURALS[kind]}`;
}
