import { fold } from './fold';

/**
 * The form in which names of places are compared: folded, without accents and punctuation, blanks made one.
 *
 * @example spellingKey('Saint-Barthélemy') // 'saint barthelemy'
 */
export function spellingKey(text: string): string {
  return fold(text)
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replace(/[\p{P}\s]+/gu, ' ')
    .trim();
}

/** Another way in which something of a list is written: an option, a country by alpha-2, a region by its code. */
export interface Spelling {
  readonly written: string;
  readonly means: string;
}

/** From spellings to what they stand for; a spelling of several things stands for none. */
export class Spellings {
  private readonly byKey = new Map<string, string | null>();

  constructor(spelled: Iterable<readonly [spelling: string, of: string]>) {
    for (const [spelling, of] of spelled) this.add(spelling, of);
  }

  private add(spelling: string, of: string): void {
    const key = spellingKey(spelling);
    if (key === '') return;
    const known = this.byKey.get(key);
    this.byKey.set(key, known === undefined || known === of ? of : null);
  }

  /** `undefined`: nothing is spelled so; null: several are. */
  find(written: string): string | null | undefined {
    return this.byKey.get(spellingKey(written));
  }
}

/** A name, and the form in which it is compared. */
export interface KeyedName {
  readonly key: string;
  readonly means: string;
}

/** Names with the forms in which they are compared. */
export function keyedNames(names: readonly Spelling[]): KeyedName[] {
  return names.map(({ written, means }) => ({ key: spellingKey(written), means }));
}

const readSpellings = new WeakMap<readonly Spelling[], Spellings>();

/** The meaning of a text by the admin's spellings; undefined: it has none, or several. */
export function meaningOf(spellings: readonly Spelling[] | undefined, written: string): string | undefined {
  if (spellings === undefined || spellings.length === 0) return undefined;
  let known = readSpellings.get(spellings);
  if (known === undefined) {
    known = new Spellings(spellings.map(({ written: one, means }) => [one, means] as const));
    readSpellings.set(spellings, known);
  }
  return known.find(written) ?? undefined;
}
