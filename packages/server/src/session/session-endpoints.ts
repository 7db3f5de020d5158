import { type DemoSignIn, type SignIn, signInSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { type Answer, type Endpoint, read, userOf } from '../api/endpoint';
import { Refused } from '../api/refused';
import { endSession, openSession } from './session-store';

export const SESSION_COOKIE = 'relvik_session';
/** The name under which Angular looks for it. */
export const CSRF_COOKIE = 'XSRF-TOKEN';

export function sessionEndpoints(source: DataSource, demo: readonly DemoSignIn[]): Endpoint[] {
  return [
    {
      method: 'post',
      path: '/api/session',
      who: ['anyone'],
      limit: 'sign-in',
      async handle(asked): Promise<Answer> {
        const { email, password } = await read<SignIn>(signInSchema, asked.body);
        const session = await openSession(source, email, password, asked.now);
        if (session === null) throw Refused.of(401, 'E-mail or password is not right');
        return {
          body: session.user,
          cookies: [
            { name: SESSION_COOKIE, value: session.token, readable: false },
            { name: CSRF_COOKIE, value: session.csrf, readable: true },
          ],
        };
      },
    },
    {
      method: 'get',
      path: '/api/session',
      who: ['admin', 'manager', 'rep'],
      handle: (asked) => Promise.resolve({ body: userOf(asked) }),
    },
    {
      method: 'delete',
      path: '/api/session',
      who: ['admin', 'manager', 'rep'],
      async handle(asked): Promise<Answer> {
        await endSession(source, asked.cookie(SESSION_COOKIE) ?? '');
        return {
          status: 204,
          cookies: [
            { name: SESSION_COOKIE, value: null, readable: false },
            { name: CSRF_COOKIE, value: null, readable: true },
          ],
        };
      },
    },
    { method: 'get', path: '/api/demo', who: ['anyone'], handle: () => Promise.resolve({ body: demo }) },
  ];
}
