import fc from 'fast-check';
import { ageInHours } from '../record/hours';
import { faded, fadeShare } from './fade';
import { roundHalfAway, toMicro } from './points';

const HALF_LIFE = { kind: 'half-life', days: 30 } as const;

test('the half-life of 30 days, 100 points: the closed form at 0, 15, 30, 45, 60, 90 days (checks.md, Evidence)', () => {
  const left = [0, 15, 30, 45, 60, 90].map((days) => faded(toMicro(100), HALF_LIFE, days * 24) / 1e6);
  expect(left).toEqual([100, 70.710678, 50, 35.355339, 25, 12.5]);
});

test('within a half-life the table is the closed form to the last bits', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 400 }), fc.nat(), (days, any) => {
      const hours = any % (days * 24);
      const closed = 2 ** (-hours / (days * 24));
      expect(Math.abs(fadeShare({ kind: 'half-life', days }, hours) / closed - 1)).toBeLessThan(1e-15);
    }),
  );
});

test('nothing grows with age, and a half-life after is half to the last bit', () => {
  fc.assert(
    fc.property(
      fc.constantFrom('half-life' as const, 'end' as const),
      fc.integer({ min: 1, max: 200 }),
      fc.integer({ min: 0, max: 9000 }),
      (kind, days, hours) => {
        const now = fadeShare({ kind, days }, hours);
        expect(fadeShare({ kind, days }, hours + 1)).toBeLessThanOrEqual(now);
        if (kind === 'half-life') expect(fadeShare({ kind, days }, hours + days * 24)).toBe(now / 2);
        else expect(now > 0).toBe(hours < days * 24);
      },
    ),
  );
});

test('halves go away from zero, and age counts whole hours only', () => {
  expect([0.5, -0.5, 1.4999, -2.5].map(roundHalfAway)).toEqual([1, -1, 1, -3]);
  expect([0, 3_599_999, 3_600_000].map((age) => ageInHours(1000, 1000 + age))).toEqual([0, 0, 1]);
  expect(faded(-3, { kind: 'end', days: 1 }, 12)).toBe(-2);
});
