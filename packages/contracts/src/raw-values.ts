import type { Raw } from '@relvik/core';
import { lazy, mixed, object } from 'yup';

/** Values by field key, as a way in sends them. What a field can't hold is accepted, kept raw and marked. */
const rawValue = mixed<Exclude<Raw, null>>((value): value is Exclude<Raw, null> => {
  if (['string', 'number', 'boolean'].includes(typeof value)) return String(value).length <= 2000;
  return typeof value === 'object' && value !== null && 'amount' in value && 'currency' in value && Object.keys(value).length === 2 && String(value.amount).length <= 40 && String(value.currency).length <= 10;
}).nullable();

/** Values by field key. */
export const rawValues = lazy((value: unknown) => {
  const keys = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.keys(value) : [];
  return object(Object.fromEntries(keys.map((key) => [key, rawValue.typeError(`\${path} must be text of at most 2,000 characters, a number, yes or no, or an amount with its currency`)])))
    .required()
    .test('few', 'may have at most 200 fields', () => keys.length <= 200);
});
