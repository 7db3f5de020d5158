import compression from 'compression';
import cookieParser from 'cookie-parser';
import express, { type CookieOptions, type Express, type Request, type RequestHandler, type Response } from 'express';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import { Refused } from '../problem/refused';
import { callerOf, type CallersKnown, cookieOf } from './caller';
import type { Cookies, Endpoint, TextBody } from './endpoint';
import { health } from './health';
import type { InFlight } from './in-flight';
import { type Limits, limitsOf } from './limits';
import { isLocal } from './local';
import { refuseForeign } from './origin';
import { answerErrors } from './problem-answer';
import { read, readParams } from './read';

export interface HttpSettings extends CallersKnown {
  readonly log: Logger;
  readonly now: () => Date;
  /** Where the built web application lies; without it only the API is served. */
  readonly webFolder: string | null;
  readonly limits: Limits;
  /** The proxies whose word on addresses, names and encryption is believed: how many hops, or their addresses. */
  readonly trustProxy?: number | string;
}

/** A request is answered within this time, ms: a little more than the database has for a statement. */
const PATIENCE = 20_000;

/** docs/errors.md, to which the type of each problem points. */
const DOCS = join(__dirname, '../../../../docs');

/** The life of a request: counted as in flight → log → limits → body → who calls → what is sent → the endpoint → its answer, or a problem document. */
export function buildApp(endpoints: readonly Endpoint[], settings: HttpSettings, inFlight: InFlight): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', settings.trustProxy ?? false);
  app.use('/health', health(settings.source, inFlight));
  app.use(inFlight.handler);
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
  app.use(
    pinoHttp({ logger: settings.log, autoLogging: false, redact: ['req.headers.authorization', 'req.headers.cookie'] }),
  );
  app.use(cookieParser());
  for (const endpoint of endpoints)
    app[endpoint.method](
      endpoint.path,
      ...limitsOf(endpoint, settings.limits, settings.source),
      bodyOf(endpoint),
      handlerOf(endpoint, settings),
    );
  app.use('/api', () => {
    throw Refused.notFound();
  });
  app.get('/docs/errors.md', (_request, response) => {
    response.type('text/markdown').sendFile(join(DOCS, 'errors.md'));
  });
  if (settings.webFolder !== null) serveWeb(app, settings.webFolder);
  app.use(answerErrors(settings.log));
  return app;
}

function isText(body: Endpoint['body']): body is TextBody {
  return body !== undefined && 'kind' in body && body.kind === 'text';
}

function bodyOf({ body, most = '1mb' }: Endpoint): RequestHandler {
  return isText(body)
    ? express.text({ type: [body.type, 'text/plain'], limit: body.most })
    : express.json({ limit: most });
}

function handlerOf(endpoint: Endpoint, settings: HttpSettings): RequestHandler {
  const { params, query, body, answer, patience = PATIENCE } = endpoint;
  return async (request, response) => {
    const now = settings.now();
    refuseForeign(endpoint, request);
    const result = await inTime(async () => {
      const caller = await callerOf(settings, endpoint, request, now);
      return endpoint.call({
        caller,
        params: await readParams(params, request.params),
        query: await read(query, request.query),
        body: isText(body) ? String(request.body ?? '') : await read(body, request.body),
        header: (name) => request.get(name),
        cookies: cookiesOf(request, response),
        isLocal: () => isLocal(request),
        address: request.ip ?? '',
        now,
      });
    }, patience);
    response.setHeader('Cache-Control', 'no-store');
    response.status(answer.status);
    switch (answer.kind) {
      case 'json':
        response.json(result);
        return;
      case 'nothing':
        response.end();
        return;
      case 'bytes':
        response.type(answer.type);
        await pipeline(result as AsyncIterable<Uint8Array>, response).catch((error: unknown) => {
          if (!hasGone(error)) throw error;
        });
    }
  };
}

/** Request timeout: answers `database-away` if the call has not finished by then. */
async function inTime<T>(work: () => Promise<T>, most: number): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(() => {
      reject(Refused.as('database-away'));
    }, most);
  });
  return Promise.race([work(), late]).finally(() => {
    clearTimeout(timer);
  });
}

function cookiesOf(request: Request, response: Response): Cookies {
  const options = (readable: boolean): CookieOptions => ({
    httpOnly: !readable,
    sameSite: 'lax',
    path: '/',
    secure: request.secure,
  });
  return {
    read: (name) => cookieOf(request, name),
    set: (name, value, readable) => {
      response.cookie(name, value, options(readable));
    },
    clear: (name) => {
      response.clearCookie(name, { path: '/' });
    },
  };
}

/** Who asked did not wait for the end: nobody is left to be told. */
function hasGone(error: unknown): boolean {
  return error instanceof Error && 'code' in error && error.code === 'ERR_STREAM_PREMATURE_CLOSE';
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
