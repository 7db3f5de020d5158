import type { Request } from 'express';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { CSRF_COOKIE, findSession, SESSION_COOKIE, type User } from '../session/session-store';
import type { KeyCheck, SendingKey } from '../session/intake-keys';
import type { Endpoint } from './endpoint';

/** Finds out who calls, and refuses whom the endpoint is not for. */
export async function callerOf(
  { source, keys }: { readonly source: DataSource; readonly keys: KeyCheck },
  { who, method }: Endpoint,
  request: Request,
  now: Date,
): Promise<User | SendingKey | null> {
  if (who === 'anyone') return null;
  if (who === 'key') return keys.find(/^Bearer (.+)$/.exec(request.get('authorization') ?? '')?.[1], now);
  const token = (request.cookies as Record<string, string | undefined>)[SESSION_COOKIE];
  const session = token === undefined ? null : await findSession(source, token, now);
  if (session === null) throw Refused.as('not-signed-in');
  if (!who.includes(session.user.role)) throw Refused.as('forbidden');
  if (method !== 'get' && request.get(`X-${CSRF_COOKIE}`) !== session.csrf) throw Refused.as('foreign-request');
  return session.user;
}
