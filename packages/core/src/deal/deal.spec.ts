import fc from 'fast-check';
import { median } from 'simple-statistics';
import { cycleOf, daysToClose, ENOUGH_WON } from './cycle';
import { statusByDeals } from './lead-of-deals';

const status = fc.constantFrom('open', 'won', 'lost', 'disqualified' as const);

test('the usual cycle is the median of the library simple-statistics, and needs twenty won deals', () => {
  fc.assert(
    fc.property(fc.array(fc.double({ min: 0, max: 900, noNaN: true }), { maxLength: 60 }), (taken) => {
      const days = taken.length < ENOUGH_WON ? null : Math.round(median(taken));
      expect(cycleOf(taken)).toEqual({ days, won: taken.length });
    }),
  );
});

test('the days of the gate count unless the usual time is asked for, and known', () => {
  const nineteen = cycleOf(Array.from({ length: 19 }, () => 12));
  const twenty = cycleOf(Array.from({ length: 20 }, () => 12));
  expect([nineteen, twenty].map((cycle) => daysToClose({ days: 30, measured: true }, cycle))).toEqual([30, 12]);
  expect(daysToClose({ days: 30, measured: false }, twenty)).toBe(30);
});

test('a lead is won by any won deal, whatever the others; lost only when none is open and none was won', () => {
  fc.assert(
    fc.property(fc.array(status, { maxLength: 6 }), (deals) => {
      const is = statusByDeals(deals);
      expect(is === 'won').toBe(deals.includes('won'));
      expect(is === 'lost').toBe(deals.length > 0 && !deals.includes('won') && !deals.includes('open'));
      // The order in which they were made does not matter.
      expect(statusByDeals(deals.toReversed())).toBe(is);
    }),
  );
});
