import type { Request } from 'express';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { CSRF_COOKIE, findSession, SESSION_COOKIE, type User } from '../session/session-store';
import type { KeyCheck, SendingKey } from '../session/intake-keys';
import type { Seen } from '../store/seen';
import type { Endpoint } from './endpoint';

/** A cookie's text. One that pretends to be JSON is read as such: it is none of ours. */
export function cookieOf(request: Request, name: string): string | undefined {
  const value = (request.cookies as Record<string, unknown>)[name];
  return typeof value === 'string' ? value : undefined;
}

/** How callers are known, and where it is noted that they were seen. */
export interface CallersKnown {
  readonly source: DataSource;
  readonly keys: KeyCheck;
  readonly seen: Pick<Seen, 'note'>;
}

/** Finds out who calls, and refuses whom the endpoint is not for. */
export async function callerOf(
  { source, keys, seen }: CallersKnown,
  { who, method }: Endpoint,
  request: Request,
  now: Date,
): Promise<User | SendingKey | null> {
  if (who === 'anyone') return null;
  if (who === 'key') return keys.find(/^Bearer (.+)$/.exec(request.get('authorization') ?? '')?.[1], now);
  const token = cookieOf(request, SESSION_COOKIE);
  const session = token === undefined ? null : await findSession(source, token, now);
  if (session === null) throw Refused.as('not-signed-in');
  if (!who.includes(session.user.role)) throw Refused.as('forbidden');
  if (method !== 'get' && request.get(`X-${CSRF_COOKIE}`) !== session.csrf) throw Refused.as('foreign-request');
  await seen.note(session.user.key, now);
  return session.user;
}
