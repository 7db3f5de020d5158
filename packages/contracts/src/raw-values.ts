import type { Raw } from '@relvik/core';
import { lazy, type Lazy, mixed, object } from 'yup';

/** Values by field key, as a way in sends them. What a field can't hold is accepted, kept raw and marked. */
function isRaw(value: unknown): value is Exclude<Raw, null> {
  if (typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean')
    return String(value).length <= 2000;
  if (Array.isArray(value))
    return value.length <= 100 && value.every((option) => typeof option === 'string' && option.length <= 200);
  if (
    typeof value !== 'object' ||
    value === null ||
    !('amount' in value) ||
    !('currency' in value) ||
    Object.keys(value).length !== 2
  )
    return false;
  return (
    ['string', 'number'].includes(typeof value.amount) &&
    String(value.amount).length <= 40 &&
    typeof value.currency === 'string' &&
    value.currency.length <= 10
  );
}

const rawValue = mixed<Exclude<Raw, null>>(isRaw).nullable();

/** Values by field key: each is checked by its own key, which no type can say. */
export const rawValues = lazy((value: unknown) => {
  const keys = typeof value === 'object' && value !== null && !Array.isArray(value) ? Object.keys(value) : [];
  return object(
    Object.fromEntries(
      keys.map((key) => [
        key,
        rawValue.typeError(
          `\${path} must be text of at most 2,000 characters, a number, yes or no, a list of texts, or an amount with its currency`,
        ),
      ]),
    ),
  )
    .required()
    .test('few', 'may have at most 200 fields', () => keys.length <= 200);
}) as unknown as Lazy<Readonly<Record<string, Raw>>>;
