import { fold } from './fold';

/** Ends an option: a semicolon, whatever folds to one, and the end of a line. */
const SEPARATOR = /[;\n\u037E\uFE14\uFE54\uFF1B]/u;

/** Several options chosen at once. */
export interface Choices {
  /** As people read them, in the order of their folded texts, each once. */
  readonly texts: readonly string[];
  /** The folded options, each between separators: `;pumps;sensors;`. One text, so that a combination compares and groups as one. */
  readonly folded: string;
}

/**
 * The options named in a text, such as `Pumps; Sensors`, or one a line.
 *
 * Of options that differ only in case the first spelling counts. Empty parts are left out.
 */
export function splitChoices(text: string): readonly string[] {
  const byFolded = new Map<string, string>();
  for (const part of text.split(SEPARATOR)) {
    const option = part.trim();
    const folded = fold(option);
    if (folded !== '' && !byFolded.has(folded)) byFolded.set(folded, option);
  }
  return [...byFolded.values()];
}

/** Options as one value: in one order, whichever they were named in. */
export function choicesOf(options: readonly string[]): Choices {
  const sorted = options
    .map((text) => ({ text, folded: fold(text) }))
    .sort((a, b) => (a.folded < b.folded ? -1 : a.folded > b.folded ? 1 : 0));
  return {
    texts: sorted.map(({ text }) => text),
    folded: sorted.length === 0 ? '' : `;${sorted.map(({ folded }) => folded).join(';')};`,
  };
}

/** A folded option as it stands in a folded combination. */
export function choiceIn(option: string): string {
  return `;${option};`;
}

/** Whether a folded combination has an option, folded too. */
export function hasChoice(combination: string, option: string): boolean {
  return combination.includes(choiceIn(option));
}

/** A combination with more options; those that it has keep their spelling. */
export function withChoices(known: readonly string[], added: readonly string[]): Choices {
  const has = new Set(known.map(fold));
  return choicesOf([...known, ...added.filter((option) => !has.has(fold(option)))]);
}

/** A combination without some options, however these are spelled. */
export function withoutChoices(known: readonly string[], removed: readonly string[]): Choices {
  const gone = new Set(removed.map(fold));
  return choicesOf(known.filter((option) => !gone.has(fold(option))));
}

/**
 * A combination after some options were taken off and others put on; one in both lists is put on.
 *
 * @returns null where it stays as it is
 *
 * @example
 * recombined(['Fair'], { add: ['Pilot'], remove: ['fair'] }) // { texts: ['Pilot'], folded: ';pilot;' }
 */
export function recombined(
  known: readonly string[],
  { add, remove }: { readonly add: readonly string[]; readonly remove: readonly string[] },
): Choices | null {
  const after = withChoices(withoutChoices(known, remove).texts, add);
  return after.folded === choicesOf(known).folded ? null : after;
}

/** Why a text can't be an option; null: it can. */
export function optionProblem(option: string): string | null {
  return SEPARATOR.test(option) ? 'must not contain a semicolon: it separates options' : null;
}
