import fc from 'fast-check';
import { cycleOf, daysToClose } from './cycle';
import { statusByDeals } from './lead-of-deals';

const status = fc.constantFrom('open', 'won', 'lost', 'disqualified' as const);

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
