import type { TerritoryKey } from '../record/keys';
import { type Claim, claimOnPostal, codeIn, type PostalClaims, type RangeClaim } from '../territory/coverage';

/** Longest code that has a number: 37 to the power of 10 is the last that a float holds exactly. */
const LONGEST = 10;
const LETTERS = 37;

/**
 * A code as a number, in the order of texts: each character a digit to the base of 37, 0 where the text has ended.
 *
 * @param code digits and capitals, at most {@link LONGEST}
 */
function numberOf(code: string): number {
  let number = 0;
  for (let at = 0; at < LONGEST; at += 1) {
    const unit = code.charCodeAt(at);
    number = number * LETTERS + (Number.isNaN(unit) ? 0 : unit < 58 ? unit - 47 : unit - 54);
  }
  return number;
}

/** Whether a code has a number. */
function hasNumber(code: string): boolean {
  return code.length <= LONGEST && /^[0-9A-Z]+$/.test(code);
}

/** The codes of a dictionary, sorted, so that all codes of a range or prefix are neighbours. */
interface InOrder {
  /** Ascending. */
  readonly numbers: Float64Array;
  /** The place of each in the dictionary. */
  readonly places: Uint32Array;
  readonly lengths: Uint8Array;
  /** Places of codes without a number. */
  readonly odd: readonly number[];
  /** Places of codes longer than those of the United States. */
  readonly overlong: readonly number[];
}

const sorted = new WeakMap<readonly string[], InOrder>();

/** A dictionary is never changed, so its order is kept as long as the dictionary itself. */
function orderOf(dictionary: readonly string[]): InOrder {
  const known = sorted.get(dictionary);
  if (known !== undefined) return known;
  const upper = dictionary.map((folded) => folded.toUpperCase());
  const at = (place: number): string => upper[place] as string;
  const numbered = [...upper.keys()].filter((place) => hasNumber(at(place)));
  const byPlace = new Map(numbered.map((place) => [place, numberOf(at(place))]));
  const number = (place: number): number => byPlace.get(place) as number;
  const places = Uint32Array.from(numbered).sort((a, b) => number(a) - number(b));
  const order = {
    places,
    numbers: Float64Array.from(places, number),
    lengths: Uint8Array.from(places, (place) => at(place).length),
    odd: [...upper.keys()].filter((place) => !hasNumber(at(place))),
    overlong: numbered.filter((place) => at(place).length > 5),
  };
  sorted.set(dictionary, order);
  return order;
}

/**
 * The territory by the postal code alone, for every code of a dictionary at once: each claim overwrites the codes that it covers, the
 * most specific claim last. The results are those of `claimOnPostal`.
 *
 * @param country alpha-2, whose claims they are
 * @param codeOf the number of a territory, not 0
 * @returns for each place of the dictionary the number of the territory; 0: no claim
 */
export function postalAnswers(
  dictionary: readonly string[],
  country: string,
  claims: PostalClaims,
  codeOf: (territory: TerritoryKey) => number,
): Int32Array {
  const { codes, ranges, prefixes } = claims;
  const { numbers, places, lengths, odd, overlong } = orderOf(dictionary);
  const laid = new Int32Array(places.length);
  const first = ({ keys }: Claim): number => codeOf(keys[0] as TerritoryKey);
  const byLength = [...prefixes].sort(([a], [b]) => a.length - b.length);
  for (const [prefix, claim] of byLength) {
    if (!hasNumber(prefix)) continue;
    const begins = numberOf(prefix);
    const rank = countBelow(numbers, begins);
    laid.fill(first(claim), rank, countBelow(numbers, begins + LETTERS ** (LONGEST - prefix.length)));
  }
  for (let r = ranges.length - 1; r >= 0; r -= 1) {
    const range = ranges[r] as RangeClaim;
    const { length } = range.from;
    if (!hasNumber(range.from) || !hasNumber(range.to)) continue;
    const number = first(range);
    const last = numberOf(range.to);
    for (let rank = countBelow(numbers, numberOf(range.from)); (numbers[rank] as number) <= last; rank += 1)
      if (lengths[rank] === length) laid[rank] = number;
  }
  for (const [code, claim] of codes) {
    if (!hasNumber(code)) continue;
    const number = numberOf(code);
    const rank = countBelow(numbers, number);
    if (numbers[rank] === number) laid[rank] = first(claim);
  }
  const answers = new Int32Array(dictionary.length);
  for (let rank = 0; rank < laid.length; rank += 1) answers[places[rank] as number] = laid[rank] as number;
  for (const place of country === 'US' ? [...odd, ...overlong] : odd) {
    // A code that came before its country was known may be longer than that country's form.
    const claim = claimOnPostal(claims, codeIn(country, (dictionary[place] as string).toUpperCase()));
    answers[place] = claim === null ? 0 : first(claim);
  }
  return answers;
}

/** How many of some ascending numbers are below another. */
function countBelow(numbers: Float64Array, number: number): number {
  let [low, high] = [0, numbers.length];
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((numbers[middle] as number) < number) low = middle + 1;
    else high = middle;
  }
  return low;
}
