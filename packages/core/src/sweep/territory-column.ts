import { type Bits, clearBit, noBits, setBit } from '../column/bits';
import { CodeColumn } from '../column/column';
import { fold } from '../record/fold';
import type { TerritoryKey } from '../record/keys';
import { BLANK } from '../record/value';
import { countryOf, type Coverage, territoryOf } from '../territory/coverage';
import type { AddressFields, Drawn } from '../territory/territory';
import { type Addresses, addressesOf } from './addresses';
import { postalAnswers } from './postal-answers';
import type { Population } from './population';

/** Answers by number: 0 no territory, else one more than its place in the list; {@link UNJUDGED}: it can't be told. */
const UNJUDGED = -1;
/** From here down: the answer is that of a pair of country and region, the first pair at this number. */
const BY_PAIR = -2;

/** The territory of every record, as texts: blank on open ground and without an address, unreadable where it can't be told. */
export function territoryColumn(
  population: Population,
  territories: AddressFields & { readonly list: readonly Pick<Drawn, 'key'>[] },
  coverage: Coverage,
): CodeColumn {
  const codeOf = new Map<string, number>();
  const dictionary: string[] = [];
  for (const { key } of territories.list) codeOf.set(key, dictionary.push(fold(key)));
  const isPostal = coverage.postalCodes.size > 0;
  const addresses = addressesOf(population, { ...territories, postalField: isPostal ? territories.postalField : null });
  const answers = answersTo(addresses, coverage, (key) => codeOf.get(key) ?? 0);
  const unjudged = answers.includes(UNJUDGED) ? noBits(population.size) : null;
  const codes = new Uint32Array(population.size);
  putAnswers(addresses.of, answers, codes);
  if (unjudged !== null) markUnjudged(codes, unjudged);
  const { pin, keys } = population.standing;
  for (const i of addresses.pinned) {
    codes[i] = codeOf.get(keys[(pin[i] as number) - 1] ?? '') ?? 0;
    if (unjudged !== null) clearBit(unjudged, i);
  }
  return new CodeColumn(codes, dictionary, unjudged);
}

/** The answer to each address. */
function answersTo(addresses: Addresses, coverage: Coverage, codeOf: (key: TerritoryKey) => number): Int32Array {
  const { country, region, postalCode } = addresses;
  // Answers by postal code do not depend on the region: one block for each country with claimed codes, after an empty block.
  const blocks = [new Int32Array(postalCode.size)];
  const blockOf = new Map<string, number>();
  const blockIn = (at: string | null): number => {
    const claims = at === null ? undefined : coverage.postalCodes.get(at);
    if (at === null || claims === undefined) return 0;
    const known = blockOf.get(at);
    if (known !== undefined) return known;
    const answers = new Int32Array(postalCode.size);
    answers.set(postalAnswers(postalCode.dictionary, at, claims, codeOf), 1);
    answers[postalCode.size - 1] = UNJUDGED;
    const block = (blocks.push(answers) - 1) * postalCode.size;
    blockOf.set(at, block);
    return block;
  };
  const byCountry = country.each((value) => blockIn(countryOf({ country: value, region: BLANK })));
  // A region tells the country, too, where that is not given.
  const byRegion = region.each((value) => blockIn(countryOf({ country: BLANK, region: value })));
  const told = new Int32Array(blocks.length * postalCode.size);
  blocks.forEach((answers, b) => {
    told.set(answers, b * postalCode.size);
  });

  // Without a claimed postal code there is one answer for each pair of country and region.
  const pairs = country.size * region.size;
  const wanted = new Uint8Array(pairs);
  const answers = new Int32Array(addresses.countries.length);
  answerByPostal(addresses, byCountry, byRegion, told, answers, wanted);
  const plain = new Int32Array(pairs);
  const withoutPostal = { ...coverage, postalCodes: new Map() };
  for (let pair = wanted.indexOf(1); pair >= 0; pair = wanted.indexOf(1, pair + 1)) {
    const [c, r] = [Math.floor(pair / region.size), pair % region.size];
    const address = { country: country.value(c), region: region.value(r), postalCode: BLANK };
    const answer = territoryOf(withoutPostal, null, address);
    if (answer.found === 'unjudged') plain[pair] = UNJUDGED;
    else if (answer.found === 'covered') plain[pair] = codeOf(answer.territory);
  }
  answerByPair(plain, answers);
  return answers;
}

// The loops stand by themselves: compiled code is thrown away with the closures and shapes that it holds on to.

/**
 * Answers each address by its postal code, else by its pair of country and region.
 *
 * @param byCountry with `byRegion`: by country, or by region where no country is given, where its answers begin in `told`
 * @param wanted is set to 1 for the pairs that are asked
 */
function answerByPostal(
  { countries, regions, postalCodes, region: { size: width } }: Addresses,
  byCountry: Uint32Array,
  byRegion: Uint32Array,
  told: Int32Array,
  answers: Int32Array,
  wanted: Uint8Array,
): void {
  for (let a = 0; a < answers.length; a += 1) {
    const c = countries[a] as number;
    const r = regions[a] as number;
    const block = (c === 0 ? byRegion[r] : byCountry[c]) as number;
    const found = told[block + (postalCodes[a] as number)] as number;
    const pair = c * width + r;
    if (found === 0) wanted[pair] = 1;
    answers[a] = found === 0 ? BY_PAIR - pair : found;
  }
}

/** Puts what pairs say in the place of those that are asked. */
function answerByPair(plain: Int32Array, answers: Int32Array): void {
  for (let a = 0; a < answers.length; a += 1) {
    const told = answers[a] as number;
    if (told <= BY_PAIR) answers[a] = plain[BY_PAIR - told] as number;
  }
}

/** Gives each record the answer to its address. */
function putAnswers(addressOf: Uint32Array, answers: Int32Array, codes: Uint32Array): void {
  for (let i = 0; i < codes.length; i += 1) codes[i] = answers[addressOf[i] as number] as number;
}

/** Marks records that can't be told; they have no territory. */
function markUnjudged(codes: Uint32Array, unjudged: Bits): void {
  const unsigned = UNJUDGED >>> 0;
  for (let i = 0; i < codes.length; i += 1) {
    if (codes[i] !== unsigned) continue;
    setBit(unjudged, i);
    codes[i] = 0;
  }
}
