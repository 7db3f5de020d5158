import type { TerritoryKey } from '../record/keys';
import type { Claim, PostalClaims } from '../territory/claims';
import { claimOnPostal, codeIn } from '../territory/coverage';

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

/** Claims as stretches of numbers, in the order in which they are laid down: the most specific last. */
interface Stretches {
  readonly keys: readonly TerritoryKey[];
  /** The first number of each, and the first after it. */
  readonly from: Float64Array;
  readonly until: Float64Array;
  /** The length that a code must have; 0: any. */
  readonly lengths: Uint8Array;
}

const laidOut = new WeakMap<PostalClaims, Stretches>();

function stretchesOf(claims: PostalClaims): Stretches {
  const known = laidOut.get(claims);
  if (known !== undefined) return known;
  const prefixes = [...claims.prefixes].sort(([a], [b]) => a.length - b.length);
  const count = prefixes.length + claims.ranges.length + claims.codes.size;
  const keys: TerritoryKey[] = [];
  const [from, until, lengths] = [new Float64Array(count), new Float64Array(count), new Uint8Array(count)];
  const lay = ({ keys: [key] }: Claim, first: string, begins: number, after: number, length: number): void => {
    if (key === undefined || !hasNumber(first)) return;
    from[keys.length] = begins;
    until[keys.length] = after;
    lengths[keys.length] = length;
    keys.push(key);
  };
  for (const [prefix, claim] of prefixes) {
    const begins = numberOf(prefix);
    lay(claim, prefix, begins, begins + LETTERS ** (LONGEST - prefix.length), 0);
  }
  for (const range of [...claims.ranges].reverse())
    if (hasNumber(range.to)) lay(range, range.from, numberOf(range.from), numberOf(range.to) + 1, range.from.length);
  for (const [code, claim] of claims.codes) lay(claim, code, numberOf(code), numberOf(code) + 1, 0);
  const stretches = { keys, from, until, lengths };
  laidOut.set(claims, stretches);
  return stretches;
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
  const order = orderOf(dictionary);
  const stretches = stretchesOf(claims);
  const { places, odd, overlong } = order;
  const laid = new Int32Array(places.length);
  const numbersOf = new Int32Array(stretches.keys.length);
  for (let s = 0; s < numbersOf.length; s += 1) numbersOf[s] = codeOf(stretches.keys[s] as TerritoryKey);
  layDown(stretches, numbersOf, order, laid);
  const answers = new Int32Array(dictionary.length);
  for (let rank = 0; rank < laid.length; rank += 1) answers[places[rank] as number] = laid[rank] as number;
  for (const place of country === 'US' ? [...odd, ...overlong] : odd) {
    // A code that came before its country was known may be longer than that country's form.
    const claim = claimOnPostal(claims, codeIn(country, (dictionary[place] as string).toUpperCase()));
    answers[place] = claim === null ? 0 : codeOf(claim.keys[0] as TerritoryKey);
  }
  return answers;
}

/** Lays the number of each stretch over the codes that it covers. */
function layDown(
  { from, until, lengths: asked }: Stretches,
  numbersOf: Int32Array,
  { numbers, lengths }: InOrder,
  laid: Int32Array,
): void {
  for (let s = 0; s < numbersOf.length; s += 1) {
    const after = until[s] as number;
    const number = numbersOf[s] as number;
    const length = asked[s] as number;
    for (let rank = countBelow(numbers, from[s] as number); (numbers[rank] as number) < after; rank += 1)
      if (length === 0 || lengths[rank] === length) laid[rank] = number;
  }
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
