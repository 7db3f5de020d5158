import type { Request } from 'express';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { CSRF_COOKIE, findSession, SESSION_COOKIE, sha256, type User } from '../session/session-store';
import { IntakeKeyEntity } from '../store/entity/intake.entity';
import type { Endpoint } from './endpoint';

/** A key's last use is written at most so often, ms. */
const USE_NOTED = 60_000;

/** Finds out who calls, and refuses whom the endpoint is not for. */
export async function callerOf(
  source: DataSource,
  { who, method }: Endpoint,
  request: Request,
  now: Date,
): Promise<User | IntakeKeyEntity | null> {
  if (who === 'anyone') return null;
  if (who === 'key') return keyOf(source, request, now);
  const token = (request.cookies as Record<string, string | undefined>)[SESSION_COOKIE];
  const session = token === undefined ? null : await findSession(source, token, now);
  if (session === null) throw Refused.as('not-signed-in');
  if (!who.includes(session.user.role)) throw Refused.as('forbidden');
  if (method !== 'get' && request.get(`X-${CSRF_COOKIE}`) !== session.csrf) throw Refused.as('foreign-request');
  return session.user;
}

async function keyOf(source: DataSource, request: Request, now: Date): Promise<IntakeKeyEntity> {
  const secret = /^Bearer (.+)$/.exec(request.get('authorization') ?? '')?.[1];
  const key =
    secret === undefined
      ? null
      : await source.manager.findOneBy(IntakeKeyEntity, { hash: sha256(secret), revoked: false });
  if (key === null) throw Refused.as('key-not-accepted');
  if (key.lastUsedAt === null || now.getTime() - key.lastUsedAt.getTime() > USE_NOTED)
    await source.manager.update(IntakeKeyEntity, key.id, { lastUsedAt: now });
  return key;
}
