import { COUNTRY_LIST, type Field } from '@relvik/core';

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

const FUNCTIONS = ['contains(', 'starts with(', 'ends with(', 'not(', 'today()', 'date("', 'duration("P'];
const KEYWORDS = ['and', 'or', 'in', 'between', 'true', 'false', 'null'];

function valuesOf(field: Field): readonly string[] {
  if (field.type === 'country') return COUNTRY_LIST.map(({ name }) => name);
  return field.options;
}

/** The field that a text up to here asks about: the last one that is followed by a comparison. */
function askedField(before: string, fields: readonly Field[]): Field | null {
  const asked = /([a-z][a-z0-9_]*)(?:\s*(?:=|!=)\s*|\s+in\b\s*\(?[^()]*|\s*,\s*)"?[^"()]*$/.exec(before);
  return fields.find(({ key }) => key === asked?.[1]) ?? null;
}

/**
 * What can be written on at the end of a text: inside quotes the values of the field that is asked about, else fields,
 * functions and words of the language.
 */
export function feelCompletions(before: string, fields: readonly Field[]): FeelCompletions | null {
  const quotes = before.replaceAll('\\"', '').split('"').length - 1;
  const field = askedField(before, fields);
  if (quotes % 2 === 1) {
    if (field === null) return null;
    return {
      from: before.lastIndexOf('"') + 1,
      options: valuesOf(field).map((label) => ({ label, detail: '', type: 'text' })),
    };
  }
  const word = /[a-z][a-z0-9_ ]*$/i.exec(before)?.[0].split(/\s+/).at(-1) ?? '';
  const from = before.length - word.length;
  const values = field !== null && word === '' ? valuesOf(field) : [];
  return {
    from,
    options: [
      ...values.map((value) => ({ label: value, detail: '', type: 'text' as const, apply: JSON.stringify(value) })),
      ...fields.map(({ key, name }) => ({ label: key, detail: name, type: 'variable' as const })),
      ...FUNCTIONS.map((label) => ({ label, detail: '', type: 'function' as const })),
      ...KEYWORDS.map((label) => ({ label, detail: '', type: 'keyword' as const })),
    ],
  };
}
