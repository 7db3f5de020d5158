import type { Role } from '@relvik/contracts';
import { fold } from '@relvik/core';
import { createHash, randomBytes } from 'node:crypto';
import { type DataSource, LessThan } from 'typeorm';
import { PersonEntity, SessionEntity } from '../store/entity/people.entity';
import { isPassword } from './password';

/** Who asks. */
export interface User {
  readonly key: string;
  readonly name: string;
  readonly role: Role;
}

export interface OpenSession {
  readonly user: User;
  readonly csrf: string;
}

export const SESSION_COOKIE = 'relvik_session';
/** The name under which Angular looks for it. */
export const CSRF_COOKIE = 'XSRF-TOKEN';

const HOURS_12 = 12 * 3_600_000;

export function sha256(text: string): string {
  return createHash('sha256').update(text).digest('hex');
}

export function newToken(): string {
  return randomBytes(32).toString('base64url');
}

/** Opens a session for the right password; null for a wrong one, whoever it was for. */
export async function openSession(
  source: DataSource,
  email: string,
  password: string,
  now: Date,
): Promise<(OpenSession & { token: string }) | null> {
  const person = await source.manager.findOneBy(PersonEntity, { email: fold(email), retired: false });
  const right = await isPassword(password, person?.password ?? 'none');
  if (person === null || !right) return null;
  const token = newToken();
  const csrf = newToken();
  await source.manager.delete(SessionEntity, { expires: LessThan(now) });
  await source.manager.insert(SessionEntity, {
    hash: sha256(token),
    person: person.key,
    csrf,
    expires: new Date(now.getTime() + HOURS_12),
  });
  return { token, csrf, user: { key: person.key, name: person.name, role: person.role } };
}

/** The session of a cookie's token, or null. */
export async function findSession(source: DataSource, token: string, now: Date): Promise<OpenSession | null> {
  const session = await source.manager.findOneBy(SessionEntity, { hash: sha256(token) });
  if (session === null || session.expires <= now) return null;
  const person = await source.manager.findOneBy(PersonEntity, { key: session.person, retired: false });
  return person === null
    ? null
    : { csrf: session.csrf, user: { key: person.key, name: person.name, role: person.role } };
}

export async function endSession(source: DataSource, token: string): Promise<void> {
  await source.manager.delete(SessionEntity, { hash: sha256(token) });
}
