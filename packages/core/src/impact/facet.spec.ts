import fc from 'fast-check';
import { allBits, eachBit, noBits, setBit } from '../column/bits';
import { compareFacets, Facet } from './facet';

/** Few labels, and so many that pairs are not counted in a table. */
const drawn = fc.constantFrom(3, 400).chain((many) =>
  fc.record({
    many: fc.constant(many),
    pairs: fc.array(fc.tuple(fc.nat(many - 1), fc.nat(many - 1), fc.boolean()), { maxLength: 60 }),
  }),
);

test('flows are the pairs of labels before and after, of the chosen alone', () => {
  fc.assert(
    fc.property(drawn, fc.boolean(), ({ many, pairs }, all) => {
      const labels = Array.from({ length: many }, (_, l) => `l${l}`);
      const before = new Facet(
        labels,
        Uint16Array.from(pairs, ([from]) => from),
      );
      const after = new Facet(
        [...labels].reverse(),
        Uint16Array.from(pairs, ([, to]) => many - 1 - to),
      );
      const chosen = all ? allBits(pairs.length) : noBits(pairs.length);
      if (!all) pairs.forEach(([, , isChosen], i) => isChosen && setBit(chosen, i));
      const expected = new Map<string, number>();
      const moved: number[] = [];
      pairs.forEach(([from, to, isChosen], i) => {
        const is = all || isChosen ? to : from;
        if (is !== from) moved.push(i);
        const name = `l${from} l${is}`;
        expected.set(name, (expected.get(name) ?? 0) + 1);
      });
      const marked: number[] = [];
      const bits = noBits(pairs.length);
      const { changed, flows } = compareFacets(before, after, chosen, bits);
      eachBit(bits, (i) => marked.push(i));
      expect(new Map(flows.map(({ from, to, count }) => [`${from} ${to}`, count]))).toEqual(expected);
      expect([changed, marked]).toEqual([moved.length, moved]);
    }),
  );
});
