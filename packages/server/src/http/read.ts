import { keyText } from '@relvik/contracts';
import { type AnyObject, type ISchema, number, object, ValidationError } from 'yup';
import { type FieldErrors, Refused } from '../problem/refused';

const id = number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required();
/** A path that names a record by its id. */
export const byId = object({ id });
/** A path that names two. */
export const byIds = object({ id, to: id });
/** A path that names something by its key. */
export const byKey = object({ key: keyText().required() });

/** A JSON Pointer from Yup's `values.a` or `values["a"]`. */
function pointer(path: string | undefined): string {
  if (!path) return '';
  // A key in brackets may have dots in it.
  return [...path.matchAll(/\["([^"]*)"\]|\[(\d+)\]|([^.[\]]+)/g)]
    .map(([, quoted, index, plain]) => `/${quoted ?? index ?? plain ?? ''}`)
    .join('');
}

/** Deeper than a charter with the deepest condition that is allowed. */
const DEEPEST = 100;

/**
 * Finds input that Yup can't handle: very deep nesting, and keys that `Object.prototype` has.
 *
 * @returns the first of them; null: there is none
 */
function unfit(sent: unknown): FieldErrors[number] | null {
  const left: { readonly value: unknown; readonly path: string; readonly depth: number }[] = [
    { value: sent, path: '', depth: 0 },
  ];
  for (let next = left.pop(); next !== undefined; next = left.pop()) {
    const { value, path, depth } = next;
    if (typeof value !== 'object' || value === null) continue;
    if (depth > DEEPEST) return { path: path.slice(0, 200), message: `is nested more than ${DEEPEST} deep` };
    for (const [key, inner] of Object.entries(value)) {
      const at = `${path}/${key}`;
      if (!Array.isArray(value) && key in Object.prototype) return { path: at, message: 'is no name that is known' };
      left.push({ value: inner, path: at, depth: depth + 1 });
    }
  }
  return null;
}

async function check(schema: unknown, sent: unknown): Promise<unknown> {
  return (
    schema as ISchema<unknown, AnyObject> & { validate(value: unknown, options: object): Promise<unknown> }
  ).validate(sent ?? {}, { abortEarly: false });
}

/** Reads what was sent with its schema, or refuses naming each field. */
export async function read(schema: unknown, sent: unknown): Promise<unknown> {
  if (schema === undefined) return undefined;
  const wrong = unfit(sent);
  if (wrong !== null) throw Refused.invalid([wrong]);
  try {
    return await check(schema, sent);
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const all = error.inner.length > 0 ? error.inner : [error];
    throw Refused.invalid(
      all.map(({ path, message }) => ({ path: pointer(path), message: message.replace(/^this /, 'what was sent ') })),
    );
  }
}

/** Reads what a path names; what can't be a name of anything is not found. */
export async function readParams(schema: unknown, sent: unknown): Promise<unknown> {
  if (schema === undefined) return undefined;
  try {
    return await check(schema, sent);
  } catch (error) {
    if (error instanceof ValidationError) throw Refused.notFound();
    throw error;
  }
}
