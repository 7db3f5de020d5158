import type { ProblemDocument } from '@relvik/contracts';
import { type AnyObject, type ObjectSchema, ValidationError } from 'yup';

/** What is wrong in a value by its schema, as the server would say it; null when nothing is. */
export function problemIn<T extends AnyObject>(schema: ObjectSchema<T>, value: unknown): ProblemDocument | null {
  try {
    schema.validateSync(value, { abortEarly: false });
    return null;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const errors = error.inner.map(({ path = '', message }) => ({ path: `/${path}`, message }));
    return { type: 'about:blank', status: 422, title: 'Please look at this again', errors };
  }
}
