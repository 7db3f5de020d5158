import { type AnyObject, type ISchema, number, object, string, ValidationError } from 'yup';
import { Refused } from '../problem/refused';

const id = number().integer().min(1).max(Number.MAX_SAFE_INTEGER).required();
/** A path that names a record by its id. */
export const byId = object({ id });
/** A path that names two. */
export const byIds = object({ id, to: id });
/** A path that names something by its key. */
export const byKey = object({ key: string().required() });

/** A JSON Pointer from Yup's `values.a` or `values["a"]`. */
function pointer(path: string | undefined): string {
  if (!path) return '';
  return `/${path
    .replace(/\["?([^"\]]+)"?\]/g, '.$1')
    .split('.')
    .filter(Boolean)
    .join('/')}`;
}

async function check(schema: unknown, sent: unknown): Promise<unknown> {
  return (
    schema as ISchema<unknown, AnyObject> & { validate(value: unknown, options: object): Promise<unknown> }
  ).validate(sent ?? {}, { abortEarly: false });
}

/** Reads what was sent with its schema, or refuses naming each field. */
export async function read(schema: unknown, sent: unknown): Promise<unknown> {
  if (schema === undefined) return undefined;
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
