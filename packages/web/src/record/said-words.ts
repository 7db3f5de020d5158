import type { SaidValue } from '@relvik/contracts';
import type { Field } from '@relvik/core';
import { shownAs } from '../wording/shown-as';

const WAYS: Readonly<Record<SaidValue['way'], string>> = {
  form: 'by the form',
  api: 'from',
  csv: 'in a file sent by',
  hand: 'typed in by',
};

/** By which way something was said: "by the form sensing". */
export function wayWords({ way, by }: Pick<SaidValue, 'way' | 'by'>): string {
  return `${WAYS[way]} ${by}`;
}

/** The values not taken now, in words. */
export function saidOf(
  said: SaidValue | undefined,
  field: Pick<Field, 'type' | 'ownRegions'>,
): { readonly words: string; readonly shown: string; readonly unreadable: string | null } | null {
  if (said === undefined) return null;
  const { shown, unreadable } = said;
  return {
    words: `They now say, ${wayWords(said)}:`,
    shown: unreadable === null ? shownAs(field, shown) : shown,
    unreadable,
  };
}
