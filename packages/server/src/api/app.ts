import type { DemoSignIn, ProblemDocument } from '@relvik/contracts';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import express, { type ErrorRequestHandler, type Express, type Request, type RequestHandler } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { DataSource } from 'typeorm';
import { charterEndpoints } from '../charter/charter-endpoints';
import { isDatabaseAway } from '../database/in-transaction';
import { EmailTaken } from '../decide/write-decisions';
import { companyEndpoints } from '../company/company-endpoints';
import { intakeEndpoints } from '../intake/intake-endpoints';
import { IntakeKeyEntity } from '../intake/intake.entity';
import { IntakeWriter, MarkReused } from '../intake/intake-writer';
import { peopleEndpoints } from '../people/people-endpoints';
import type { PopulationDesk } from '../population/population-desk';
import { populationEndpoints } from '../population/population-endpoints';
import { fieldEndpoints } from '../record/field-endpoints';
import { leadEndpoints } from '../record/lead-endpoints';
import { viewEndpoints } from '../record/view-endpoints';
import type { Tending } from '../tend/tending';
import { activityEndpoints } from '../activity/activity-endpoints';
import { CSRF_COOKIE, SESSION_COOKIE, sessionEndpoints } from '../session/session-endpoints';
import { findSession, sha256 } from '../session/session-store';
import type { Asked, Endpoint } from './endpoint';
import { Refused } from './refused';

export interface Settings {
  readonly source: DataSource;
  readonly log: Logger;
  readonly now: () => Date;
  /** Where the built web application lies; without it only the API is served. */
  readonly webFolder: string | null;
  readonly demo: readonly DemoSignIn[];
  /** Answers about the population where it is too large for the browser. */
  readonly desk: PopulationDesk;
  /** Answers what a draft makes of companies. */
  readonly companies: PopulationDesk;
  /** Carries rescores on, apart from requests. */
  readonly tending: Tending;
  /** As many records the browser computes with. */
  readonly browserRecords: number;
  /** Requests a minute from one address. */
  readonly limits: { readonly signIn: number; readonly form: number };
}

export interface Service {
  readonly app: Express;
  readonly endpoints: readonly Endpoint[];
  readonly writer: IntakeWriter;
}

/** The life of a request: log → limits → body → who asks → may they → the endpoint → its answer, or a problem document. */
export function buildService(settings: Settings): Service {
  const { source, log } = settings;
  const writer = new IntakeWriter(source);
  const endpoints = [
    ...sessionEndpoints(source, settings.demo),
    ...leadEndpoints(source, writer),
    ...viewEndpoints(source),
    ...fieldEndpoints(source),
    ...activityEndpoints(source),
    ...intakeEndpoints(source, writer),
    ...charterEndpoints(source, settings.tending),
    ...companyEndpoints(source, settings.companies),
    ...peopleEndpoints(source),
    ...populationEndpoints(source, settings.desk, settings.browserRecords),
  ];

  const app = express();
  app.disable('x-powered-by');
  // The web application sets styles from script; scripts themselves come from here only.
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: { 'style-src': ["'self'", "'unsafe-inline'"], 'upgrade-insecure-requests': null },
      },
      hsts: false,
    }),
  );
  // Arrow is as good as text to compress: codes and days repeat.
  app.use(
    compression({
      filter: (request, response) =>
        response.getHeader('Content-Type') === 'application/vnd.apache.arrow.stream' ||
        compression.filter(request, response),
    }),
  );
  app.use(pinoHttp({ logger: log, autoLogging: false, redact: ['req.headers.authorization', 'req.headers.cookie'] }));
  app.use(cookieParser());
  for (const endpoint of endpoints)
    app[endpoint.method](
      endpoint.path,
      ...limitsOf(endpoint, settings),
      bodyOf(endpoint),
      handlerOf(endpoint, settings),
    );
  app.use('/api', () => {
    throw Refused.notFound();
  });
  if (settings.webFolder !== null) serveWeb(app, settings.webFolder);
  app.use(answerErrors(log));
  return { app, endpoints, writer };
}

function limitsOf({ limit }: Endpoint, { limits }: Settings): RequestHandler[] {
  if (limit === undefined) return [];
  return [
    rateLimit({
      windowMs: 60_000,
      limit: limit === 'sign-in' ? limits.signIn : limits.form,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      handler: () => {
        throw Refused.of(429, 'Too many tries', 'Wait a minute and try again.');
      },
    }),
  ];
}

function bodyOf({ text, most = '1mb' }: Endpoint): RequestHandler {
  return text ? express.text({ type: [text.type, 'text/plain'], limit: text.most }) : express.json({ limit: most });
}

function handlerOf(endpoint: Endpoint, settings: Settings): RequestHandler {
  return async (request, response) => {
    const asked = await askedBy(request, endpoint, settings);
    const { status = 200, body, stream, text, cookies = [] } = await endpoint.handle(asked);
    for (const { name, value, readable } of cookies) {
      if (value === null) response.clearCookie(name, { path: '/' });
      else response.cookie(name, value, { httpOnly: !readable, sameSite: 'lax', path: '/', secure: request.secure });
    }
    response.setHeader('Cache-Control', 'no-store');
    if (stream !== undefined) {
      response.status(status).type(stream.type);
      await pipeline(stream.data, response).catch((error: unknown) => {
        if (!hasGone(error)) throw error;
      });
    } else if (text !== undefined) response.status(status).type(text.type).send(text.content);
    else if (body === undefined) response.status(status).end();
    else response.status(status).json(body);
  };
}

/** Who asked did not wait for the end: nobody is left to be told. */
function hasGone(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ERR_STREAM_PREMATURE_CLOSE';
}

/** Finds out who asks, and refuses whom the endpoint is not for. */
async function askedBy(request: Request, endpoint: Endpoint, { source, now }: Settings): Promise<Asked> {
  const cookies = request.cookies as Record<string, string | undefined>;
  const asked = {
    params: request.params as Record<string, string>,
    query: request.query as unknown,
    body: request.body as unknown,
    header: (name: string) => request.get(name),
    cookie: (name: string) => cookies[name],
    now: now(),
  };
  if (endpoint.who.includes('anyone')) return { ...asked, session: null, key: null };
  if (endpoint.who.includes('key')) return { ...asked, session: null, key: await keyOf(source, request, asked.now) };

  const token = cookies[SESSION_COOKIE];
  const session = token === undefined ? null : await findSession(source, token, asked.now);
  if (session === null) throw Refused.of(401, 'Sign in first');
  if (!endpoint.who.includes(session.user.role)) throw Refused.forbidden();
  if (endpoint.method !== 'get' && request.get(`X-${CSRF_COOKIE}`) !== session.csrf) {
    throw Refused.of(403, 'The request did not come from this application', 'Load the page again.');
  }
  return { ...asked, session, key: null };
}

async function keyOf(source: DataSource, request: Request, now: Date): Promise<IntakeKeyEntity> {
  const secret = /^Bearer (.+)$/.exec(request.get('authorization') ?? '')?.[1];
  const key =
    secret === undefined
      ? null
      : await source.manager.findOneBy(IntakeKeyEntity, { hash: sha256(secret), revoked: false });
  if (key === null)
    throw Refused.of(401, 'The intake key is missing, wrong or revoked', 'Send it as Authorization: Bearer KEY.');
  if (key.lastUsedAt === null || now.getTime() - key.lastUsedAt.getTime() > 60_000)
    await source.manager.update(IntakeKeyEntity, key.id, { lastUsedAt: now });
  return key;
}

function serveWeb(app: Express, folder: string): void {
  const index = join(folder, 'index.html');
  app.use(express.static(folder, { index: false, immutable: true, maxAge: '1y' }));
  app.get('/{*path}', (request, response) => {
    // A file that is not there is no page.
    if (/\.[a-z0-9]+$/i.test(request.path) || !existsSync(index)) throw Refused.notFound();
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(index);
  });
}

function problemOf(error: unknown): ProblemDocument | null {
  if (error instanceof Refused) return error.problem;
  if (error instanceof MarkReused)
    return Refused.of(422, 'This Idempotency-Key came before with another body', 'Use a new key for a new request.')
      .problem;
  if (error instanceof EmailTaken)
    return Refused.conflict(
      'Another open lead has this e-mail',
      `Lead ${error.other} is open and has ${error.email}. Nothing was changed.`,
    ).problem;
  if (isDatabaseAway(error))
    return Refused.of(
      503,
      'The database does not answer',
      'It is not known whether this was stored. Try again in a moment: with the same Idempotency-Key it is stored once; otherwise look first.',
    ).problem;
  const type = typeof error === 'object' && error !== null && 'type' in error ? error.type : undefined;
  switch (type) {
    case 'entity.parse.failed':
      return Refused.of(400, 'The body is not JSON', error instanceof Error ? error.message : undefined).problem;
    case 'entity.too.large':
      return Refused.of(413, 'The body is too large').problem;
    case 'encoding.unsupported':
    case 'charset.unsupported':
      return Refused.of(415, 'The body’s encoding is not supported').problem;
    case 'request.aborted':
      return Refused.of(400, 'The request was cut off').problem;
    default:
      return null;
  }
}

function answerErrors(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const problem = problemOf(error);
    if (problem === null) log.error({ err: error, path: request.path }, 'a request failed');
    const answer =
      problem ??
      Refused.of(
        500,
        'Something went wrong here',
        'Look whether it was stored before you try again; if it stays, the server’s log says more.',
      ).problem;
    if (answer.status === 503) response.setHeader('Retry-After', '5');
    response.status(answer.status).type('application/problem+json').send(JSON.stringify(answer));
  };
}
