import type { Role } from '@relvik/contracts';
import type { AnyObject, ISchema } from 'yup';
import { ValidationError } from 'yup';
import type { IntakeKeyEntity } from '../intake/intake.entity';
import type { OpenSession, User } from '../session/session-store';
import { Refused } from './refused';

/** Who may use an endpoint: roles, an intake key, or anyone without sign-in. */
export type Who = Role | 'key' | 'anyone';

/** A request, as far as endpoints look at it. */
export interface Asked {
  readonly params: Readonly<Record<string, string>>;
  readonly query: unknown;
  readonly body: unknown;
  readonly header: (name: string) => string | undefined;
  readonly cookie: (name: string) => string | undefined;
  readonly session: OpenSession | null;
  readonly key: IntakeKeyEntity | null;
  readonly now: Date;
}

export interface Answer {
  readonly status?: number;
  readonly body?: unknown;
  /** In place of a body: bytes of a type of their own, sent as they come. */
  readonly stream?: { readonly type: string; readonly data: AsyncIterable<Uint8Array> };
  /** In place of a body: text of a type of its own. */
  readonly text?: { readonly type: string; readonly content: string };
  /** Name, value and whether scripts may read it; a null value clears the cookie. */
  readonly cookies?: readonly { readonly name: string; readonly value: string | null; readonly readable: boolean }[];
}

export interface Endpoint {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  readonly path: string;
  readonly who: readonly Who[];
  /** A body that is text, not JSON, and its most bytes. */
  readonly text?: { readonly type: string; readonly most: string };
  /** The most bytes of a JSON body; a megabyte where it isn't said. */
  readonly most?: string;
  readonly limit?: 'sign-in' | 'form';
  handle(asked: Asked): Promise<Answer>;
}

/** The signed-in user; endpoints that need one are never reached without. */
export function userOf({ session }: Asked): User {
  if (session === null) throw Refused.of(401, 'Sign in first');
  return session.user;
}

export function idOf(asked: Asked, name = 'id'): number {
  const id = Number(asked.params[name]);
  if (!Number.isSafeInteger(id) || id < 1) throw Refused.notFound();
  return id;
}

/** A JSON Pointer from Yup's `values.a` or `values["a"]`. */
function pointer(path: string | undefined): string {
  if (!path) return '';
  return `/${path
    .replace(/\["?([^"\]]+)"?\]/g, '.$1')
    .split('.')
    .filter(Boolean)
    .join('/')}`;
}

/** Reads what was sent with its schema, or refuses naming each field. */
export async function read<T>(schema: ISchema<unknown, AnyObject>, sent: unknown): Promise<T> {
  try {
    return await (schema as unknown as { validate(value: unknown, options: object): Promise<T> }).validate(sent ?? {}, {
      abortEarly: false,
    });
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const all = error.inner.length > 0 ? error.inner : [error];
    throw Refused.invalid(
      all.map(({ path, message }) => ({ path: pointer(path), message: message.replace(/^this /, 'what was sent ') })),
    );
  }
}
