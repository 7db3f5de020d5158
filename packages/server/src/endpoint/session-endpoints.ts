import { type DemoSignIn, type Session, signInSchema } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { type Endpoint, endpoint, EVERYONE, json, nothing } from '../http/endpoint';
import { Refused } from '../problem/refused';
import { PUBLISHED_PASSWORD } from '../session/published-password';
import { countWrong, forgiveWrong, pauseOf } from '../session/sign-in-pauses';
import type { Seen } from '../store/seen';
import { CSRF_COOKIE, endSession, openSession, SESSION_COOKIE } from '../session/session-store';

/** Signing in and out. */
export function sessionEndpoints(
  source: DataSource,
  demo: readonly DemoSignIn[],
  seen: Pick<Seen, 'forget'>,
): Endpoint[] {
  return [
    endpoint({
      method: 'post',
      path: '/api/session',
      who: 'anyone',
      limit: 'sign-in',
      body: signInSchema,
      answer: json<Session>(),
      async call({ body: { email, password }, cookies, isLocal, address, now }) {
        if (password === PUBLISHED_PASSWORD && !isLocal()) throw Refused.as('demo-elsewhere');
        const pause = await pauseOf(source, email, address, now);
        if (pause > 0) throw Refused.as('sign-in-paused', { detail: `Try again in ${Math.ceil(pause / 1000)} s.` });
        const session = await openSession(source, email, password, now);
        if (session === null) {
          await countWrong(source, email, address, now);
          throw Refused.as('wrong-sign-in');
        }
        await forgiveWrong(source, email, address);
        cookies.set(SESSION_COOKIE, session.token, false);
        cookies.set(CSRF_COOKIE, session.csrf, true);
        return session.user;
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/session',
      who: EVERYONE,
      answer: json<Session>(),
      call: ({ caller }) => caller,
    }),
    endpoint({
      method: 'delete',
      path: '/api/session',
      who: EVERYONE,
      answer: nothing(),
      async call({ caller, cookies }) {
        await endSession(source, cookies.read(SESSION_COOKIE) ?? '');
        await seen.forget(caller.key);
        cookies.clear(SESSION_COOKIE);
        cookies.clear(CSRF_COOKIE);
      },
    }),
    endpoint({
      method: 'get',
      path: '/api/demo',
      who: 'anyone',
      answer: json<readonly DemoSignIn[]>(),
      call: ({ isLocal }) => (isLocal() ? demo : []),
    }),
  ];
}
