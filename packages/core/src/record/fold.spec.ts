import fc from 'fast-check';
import { fold } from './fold';

test.each([
  ['Straße', 'STRASSE'],
  ['ẞ', 'ss'],
  ['ΟΔΟΣ', 'οδος'],
  ['οδοσ', 'οδος'],
  ['ﬁsh ﬂow', 'FISH FLOW'],
  ['İstanbul', 'i̇stanbul'],
  ['  Ångström\u00a0', 'a\u030angstro\u0308m'],
  ['Ｂｒｅｗｅｒｙ', 'brewery'],
])('%s and %s fold to the same', (a, b) => {
  expect(fold(a)).toBe(fold(b));
});

test('dotless ı stays a letter of its own', () => {
  expect(fold('ı')).not.toBe(fold('i'));
});

test('folding twice is folding once, and case never matters', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary' }), (text) => {
      expect(fold(fold(text))).toBe(fold(text));
      expect(fold(text.replaceAll('ı', '').toLowerCase())).toBe(fold(text.replaceAll('ı', '')));
    }),
  );
});
