import fc from 'fast-check';
import { choicesOf, hasChoice, optionProblem, recombined, splitChoices, withChoices, withoutChoices } from './choices';
import { type Field, TAGS_FIELDS } from './field';
import { fold } from './fold';
import { joinInquiry } from './join';
import { type Raw, readValue, showValue } from './value';

const TAGS = TAGS_FIELDS[0] as Field;
const WORDS = ['Fair 26', 'fair 26', 'FAIR 26', 'Straße', 'STRASSE', 'fair', 'x', 'a b', 'ﬁsh'];
const options = fc.subarray(WORDS);
const foldedOf = (list: readonly string[]) => new Set(list.map(fold));

test('a combination has exactly the options it was made of, and is the same in whatever order and case they came', () => {
  fc.assert(
    fc.property(options, fc.constantFrom(...WORDS, 'y', 'air'), (list, asked) => {
      const one = choicesOf(splitChoices(list.join(';')));
      expect(hasChoice(one.folded, fold(asked))).toBe(foldedOf(list).has(fold(asked)));
      expect(choicesOf(splitChoices([...list].reverse().join('\n'))).folded).toBe(one.folded);
      expect(new Set(one.texts.map(fold)).size).toBe(one.texts.length);
    }),
  );
});

test('options added and taken away are those of the sets; what was there keeps its spelling', () => {
  fc.assert(
    fc.property(options, options, (list, other) => {
      const known = splitChoices(list.join(';'));
      const more = withChoices(known, splitChoices(other.join(';')));
      expect(foldedOf(more.texts)).toEqual(new Set([...foldedOf(list), ...foldedOf(other)]));
      expect(more.texts).toEqual(expect.arrayContaining([...known]));
      const fewer = withoutChoices(known, other);
      expect(foldedOf(fewer.texts)).toEqual(new Set([...foldedOf(list)].filter((one) => !foldedOf(other).has(one))));
    }),
  );
});

test('options taken off and put on at once: those put on win, and nothing is said to change that does not', () => {
  fc.assert(
    fc.property(options, options, options, (list, add, remove) => {
      const known = splitChoices(list.join(';'));
      const expected = new Set([...[...foldedOf(list)].filter((one) => !foldedOf(remove).has(one)), ...foldedOf(add)]);
      const after = recombined(known, { add: splitChoices(add.join(';')), remove });
      expect(foldedOf(after?.texts ?? known)).toEqual(expected);
      expect(after === null).toBe(choicesOf(known).folded === choicesOf([...expected]).folded);
    }),
  );
});

test('whatever folds to a semicolon separates, so that no option can hold one', () => {
  const all = Array.from({ length: 0xffff }, (_, code) => String.fromCharCode(code));
  const separators = all.filter((char) => fold(char) === ';');
  expect(separators.length).toBeGreaterThan(3);
  for (const char of separators) {
    expect(splitChoices(`a${char}b`)).toEqual(['a', 'b']);
    expect(optionProblem(`a${char}b`)).not.toBeNull();
  }
  expect(optionProblem('a, b')).toBeNull();
});

const topics: Field = { key: 'topics', name: 'Topics', type: 'choices', options: ['Pumps', 'Öl'], retired: false };
const read = (field: Field, raw: Raw) => readValue(field, raw, '2026-03-01');

test('several options are read from a text or a list, spelled as they are offered; one that is unknown keeps all unread', () => {
  expect(showValue(read(topics, 'öl; PUMPS;'))).toBe('Pumps; Öl');
  expect(showValue(read(topics, ['öl']))).toBe('Öl');
  expect(read(topics, ' ; ')).toEqual({ kind: 'blank' });
  expect(read(topics, 'Pumps; Valves')).toEqual({
    kind: 'unreadable',
    raw: 'Pumps; Valves',
    why: 'names what is not one of the options: Valves',
  });
});

test('tags take any word, in the spelling that is known', () => {
  const known = { ...TAGS, options: ['Coast fair'] };
  expect(showValue(read(known, 'COAST FAIR; new word'))).toBe('Coast fair; new word');
  expect(read(known, 'x'.repeat(191))).toMatchObject({ kind: 'unreadable' });
});

test('tags of an inquiry are added by a trusted way in; by any other they stand beside', () => {
  const tags = (raw: string) => new Map([['tags', read(TAGS, raw)]]);
  const joined = joinInquiry(tags('Fair; a'), tags('FAIR; b'), true);
  expect([showValue(joined.values.get('tags')!), joined.changed]).toEqual(['a; b; Fair', ['tags']]);
  expect(joinInquiry(tags('Fair; a'), tags('fair'), true).changed).toEqual([]);
  expect(joinInquiry(tags('Fair'), tags('b'), false)).toMatchObject({ changed: [], beside: ['tags'] });
});
