import {
  COUNTRY_LIST,
  type Holds,
  holdsOf,
  type Scope,
  Spot,
  subjectName,
  subjectsIn,
  type Wording,
} from '@relvik/core';
import { subjectFeel } from '@relvik/formats';

/** What may stand at a place of a FEEL text, and from where on it is written over. */
export interface FeelCompletions {
  readonly from: number;
  readonly options: readonly {
    readonly label: string;
    readonly detail: string;
    readonly type: 'variable' | 'text' | 'function' | 'keyword';
    readonly apply?: string;
  }[];
}

const FUNCTIONS = [
  'contains(',
  'starts with(',
  'ends with(',
  'list contains(',
  'not(',
  'today()',
  'date("',
  'duration("P',
];
const KEYWORDS = ['and', 'or', 'in', 'between', 'true', 'false', 'null'];

interface Offered {
  /** As it is written. */
  readonly label: string;
  readonly name: string;
  readonly holds: Holds;
}

function offeredIn(scope: Scope, wording: Wording): readonly Offered[] {
  return subjectsIn(scope).flatMap((subject) => {
    const holds = holdsOf(subject, scope, Spot.root([]));
    return holds === null ? [] : [{ label: subjectFeel(subject), name: subjectName(subject, wording), holds }];
  });
}

function valuesOf({ type, options }: Pick<Holds, 'type' | 'options'>): readonly string[] {
  return type === 'country' ? COUNTRY_LIST.map(({ name }) => name) : options;
}

/** The subject that a text up to here asks about: the last name followed by a comparison. */
function askedAbout(before: string, offered: readonly Offered[]): Holds | null {
  const asked = /([a-z][a-z0-9_]*)(?:\s*(?:=|!=)\s*|\s+in\b\s*\(?[^()]*|\s*,\s*)"?[^"()]*$/.exec(before);
  return offered.find(({ label }) => label === asked?.[1])?.holds ?? null;
}

/**
 * Completions at the end of a text: inside quotes the values of the subject asked about, else subjects,
 * functions and words of the language.
 */
export function feelCompletions(before: string, scope: Scope, wording: Wording): FeelCompletions | null {
  const offered = offeredIn(scope, wording);
  const quotes = before.replaceAll('\\"', '').split('"').length - 1;
  const asked = askedAbout(before, offered);
  if (quotes % 2 === 1) {
    if (asked === null) return null;
    return {
      from: before.lastIndexOf('"') + 1,
      options: valuesOf(asked).map((label) => ({ label, detail: '', type: 'text' })),
    };
  }
  const word = /[a-z][a-z0-9_ ]*$/i.exec(before)?.[0].split(/\s+/).at(-1) ?? '';
  const from = before.length - word.length;
  const values = asked !== null && word === '' ? valuesOf(asked) : [];
  return {
    from,
    options: [
      ...values.map((value) => ({ label: value, detail: '', type: 'text' as const, apply: JSON.stringify(value) })),
      ...offered.map(({ label, name }) => ({ label, detail: name, type: 'variable' as const })),
      ...FUNCTIONS.map((label) => ({ label, detail: '', type: 'function' as const })),
      ...KEYWORDS.map((label) => ({ label, detail: '', type: 'keyword' as const })),
    ],
  };
}
