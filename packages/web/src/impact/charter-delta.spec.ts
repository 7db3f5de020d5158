import fc from 'fast-check';
import { applyDelta, type Delta, deltaOf } from './charter-delta';

/** A document that shares parts with the one before: lists with parts left out, moved, put in and edited. */
const parts = fc.array(fc.record({ key: fc.string({ maxLength: 2 }), of: fc.array(fc.nat(3), { maxLength: 3 }) }), {
  maxLength: 6,
});
const editOf = (before: unknown[]) =>
  fc.array(fc.oneof(fc.constantFrom(...before, { key: 'new', of: [1] }), fc.jsonValue()), { maxLength: 8 });

test('a delta, sent as text, turns the document before into the one after, and what is shared stays the same object', () => {
  fc.assert(
    fc.property(
      parts.chain((list) => fc.tuple(fc.constant(list), editOf(list), fc.jsonValue())),
      ([list, edited, other]) => {
        const before = { name: 'a', gone: 1, list, kept: { deep: [1, 2] } };
        const after = { name: 'b', list: edited, kept: before.kept, other };
        const delta = JSON.parse(JSON.stringify(deltaOf(before, after))) as Delta;
        const made = applyDelta(before, delta) as typeof after;
        expect(made).toEqual(JSON.parse(JSON.stringify(after)));
        expect(made.kept).toBe(before.kept);
        edited.forEach((part, i) => {
          if (list.some((one) => one === part)) expect(made.list[i]).toBe(part);
        });
      },
    ),
  );
});

test('of two thousand parts the one that changed is sent', () => {
  const list = Array.from({ length: 2000 }, (_, i) => ({ key: `t${i}`, countries: ['NO', 'SE'] }));
  const edited = list.map((one, i) => (i === 7 ? { ...one, countries: ['NO'] } : one));
  expect(JSON.stringify(deltaOf({ list }, { list: edited })).length).toBeLessThan(200);
});

test('a member that is undefined is none: sent as text, it would be read as a list', () => {
  const before = { route: { skills: ['a'], method: 'random' as string | undefined } };
  const after = { route: { skills: undefined, method: undefined, inside: true } };
  const delta = JSON.parse(JSON.stringify(deltaOf(before, after))) as Delta;
  expect(applyDelta(before, delta)).toEqual({ route: { inside: true } });
});
