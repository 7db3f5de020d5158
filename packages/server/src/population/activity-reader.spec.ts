import fc from 'fast-check';
import { instantAt } from './activity-reader';
import { eachIn, Places, TiedPlaces } from './places';

test('an instant as the database writes it is the instant that JavaScript makes of it, leap days and all', () => {
  const instants = fc.integer({ min: Date.UTC(1000, 0, 1), max: Date.UTC(9999, 11, 31) });
  fc.assert(
    fc.property(instants, fc.string({ maxLength: 5 }), (instant, before) => {
      const text = new Date(instant).toISOString().replace('T', ' ').replace('Z', '');
      const bytes = Buffer.from(`${before}${text} rest`);
      expect(instantAt(bytes, Buffer.byteLength(before))).toBe(instant);
    }),
    { numRuns: 2000 },
  );
});

test('places of ids, close together or far apart, are those that searching finds', () => {
  const ids = fc
    .tuple(fc.uniqueArray(fc.integer({ min: 1, max: 4000 }), { maxLength: 60 }), fc.constantFrom(1, 1_000_000))
    .map(([list, apart]) => Uint32Array.from(list.map((id) => id * apart)).sort());
  fc.assert(
    fc.property(ids, fc.array(fc.integer({ min: 0, max: 5000 }), { maxLength: 20 }), (list, others) => {
      const places = new Places(list);
      const asked = [...list, ...others];
      for (const id of asked) expect(places.of(id)).toBe(list.indexOf(id));
      const visited: number[] = [];
      eachIn(places, Buffer.from(asked.join(',')), (place) => visited.push(place));
      expect(visited).toEqual(asked.map((id) => list.indexOf(id)).filter((place) => place >= 0));
    }),
  );
  const none: number[] = [];
  eachIn(new Places(Uint32Array.of(1)), null, (place) => none.push(place));
  expect(none).toEqual([]);
});

test('what a contact or company has is had by all that are tied to it, and by nobody else', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom(0, 3, 7, 4_000_000), { maxLength: 30 }), (tied) => {
      const places = new TiedPlaces(Uint32Array.from(tied));
      expect(places.size).toBe(tied.length);
      for (const party of [3, 7, 8, 4_000_000]) {
        const visited: number[] = [];
        places.visit(party, (place) => visited.push(place));
        expect(visited).toEqual(tied.flatMap((id, place) => (id === party ? [place] : [])));
      }
    }),
  );
});
