import type { Charter } from './charter';
import type { CharterPart } from './part/part';
import { eachPart } from './parts';

/** The name of one element of each list, in the parts and in conditions. */
const ITEM: Record<string, string> = { of: 'part', values: 'value' };
/** Members that are called otherwise than in JSON; null: they only lead on. */
const MEMBER: Record<string, string | null> = { when: 'condition' };
eachPart(<K extends keyof Charter>(_: K, { words }: CharterPart<K>) => {
  Object.assign(ITEM, words?.items);
  Object.assign(MEMBER, words?.members);
});

/** A step into a charter: by its key, and in words. */
interface Step {
  readonly key: string;
  readonly words: string | null;
}

/** A place in a charter. */
export interface CharterPlace {
  /** A JSON Pointer with keys in place of list positions: `/streams/main/routes/north/to`. */
  readonly path: string;
  /** "Stream “Qualified leads”, route “Nordics”, destination". Empty: the charter itself. */
  readonly words: string;
}

function isRecord(json: unknown): json is Readonly<Record<string, unknown>> {
  return typeof json === 'object' && json !== null && !Array.isArray(json);
}

function textOf(json: unknown, member: string): string | null {
  const value = isRecord(json) ? json[member] : undefined;
  return typeof value === 'string' && value !== '' ? value : null;
}

/** One of a list, by its position or its key. */
function itemIn(list: readonly unknown[], step: string): { readonly item: unknown; readonly at: number } {
  const byKey = list.findIndex((one) => textOf(one, 'key') === step);
  const at = byKey >= 0 ? byKey : Number(step);
  return { item: list[at], at };
}

function stepsOf(charter: unknown, pointer: string): Step[] {
  const steps: Step[] = [];
  let here = charter;
  let item = 'item';
  for (const escaped of pointer.split('/').slice(1)) {
    const name = escaped.replaceAll('~1', '/').replaceAll('~0', '~');
    if (Array.isArray(here)) {
      const { item: one, at } = itemIn(here, name);
      // One that is not there any more is called by its key.
      const called = textOf(one, 'name') ?? (Number.isInteger(at) ? null : name);
      steps.push({
        key: textOf(one, 'key') ?? name,
        words: called === null ? `${item} ${at + 1}` : `${item} “${called}”`,
      });
      here = one;
    } else {
      const isList = name in ITEM;
      if (isList) item = ITEM[name] ?? item;
      const words = name in MEMBER ? (MEMBER[name] ?? null) : name;
      steps.push({ key: name, words: isList ? null : words });
      here = isRecord(here) ? here[name] : undefined;
    }
  }
  return steps;
}

/**
 * Names a place in a charter, by keys and in words.
 *
 * @param charter as it was read, right or wrong
 * @param pointer a JSON Pointer (RFC 6901) with positions or keys
 *
 * @example placeInCharter(charter, '/streams/0/routes/1/to')
 * // { path: '/streams/main/routes/north/to', words: 'Stream “Qualified leads”, route “Nordics”, destination' }
 */
export function placeInCharter(charter: unknown, pointer: string): CharterPlace {
  const steps = stepsOf(charter, pointer);
  const last = steps.at(-1);
  const words = steps.flatMap((step) => (step === last ? (step.words ?? step.key) : (step.words ?? []))).join(', ');
  return {
    path: steps.map(({ key }) => `/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`).join(''),
    words: words.charAt(0).toUpperCase() + words.slice(1),
  };
}
