import fc from 'fast-check';
import { keepEqual } from './keep-equal';

/** As it comes out of JSON: −0 does not. */
const json = fc.jsonValue({ maxDepth: 4 }).map((value): unknown => JSON.parse(JSON.stringify(value)));

test('what comes out equals what went in, whatever stood there before', () => {
  fc.assert(
    fc.property(json, json, (before, now) => {
      expect(keepEqual(before, structuredClone(now))).toEqual(now);
    }),
  );
});

test('a copy comes out as what it is a copy of; one changed part changes only what holds it', () => {
  fc.assert(
    fc.property(json, json, json, (left, middle, right) => {
      const before = { left: [left, { middle }], right: { right } };
      expect(keepEqual(before, structuredClone(before))).toBe(before);
      const now = keepEqual(before, { left: structuredClone(before.left), right: { right: [right, 'changed'] } });
      expect(now.left).toBe(before.left);
      expect(now).not.toBe(before);
      expect(now.right).toEqual({ right: [right, 'changed'] });
    }),
  );
});

test('a part that is gone, shorter or longer is no equal', () => {
  const before = { list: [1, 2], more: 'x' };
  expect(keepEqual(before, { list: [1, 2] })).toEqual({ list: [1, 2] });
  expect(keepEqual(before, { list: [1], more: 'x' })).toEqual({ list: [1], more: 'x' });
  expect(keepEqual({ list: [1] }, { list: [1, undefined] })).toEqual({ list: [1, undefined] });
});
