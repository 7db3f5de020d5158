import 'reflect-metadata';
import type { DemoSignIn } from '@relvik/contracts';
import type { Express } from 'express';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import pino from 'pino';
import { IntakeThread } from './intake/intake-thread';
import { type Access, describeDatabase, LONG_PATIENCE, openDatabase, PATIENCE } from './store/open-database';
import { compose } from './compose';
import type { Limits } from './http/limits';
import { FarDesk } from './population/far-desk';
import { readAhead } from './population/read-ahead';
import { BackgroundThread } from './job/background-worker';
import { DEMO_SIGN_INS, loadDemoWorld } from './demo/demo-world';

export interface ServeSettings {
  readonly access: Access;
  readonly host: string;
  readonly port: number;
  readonly webFolder: string | null;
  /** Load the demo world where the database is empty; only ever on loopback. */
  readonly demo: boolean;
  readonly progress: (text: string) => void;
  readonly limits?: Limits;
  /** As the HTTP settings say it. */
  readonly trustProxy?: number | string;
  /** How long a request may take to come, ms: its headers, and all of it. */
  readonly sentWithin?: { readonly headers: number; readonly request: number };
  /** How long the database may take to begin its answer to a statement, ms; 15 s where it isn't said. */
  readonly patience?: number;
  /** As many records the browser computes with; beyond, a thread of the server does. 200,000 where it isn't said. */
  readonly browserRecords?: number;
}

export interface Serving {
  readonly address: string;
  readonly signIns: readonly DemoSignIn[];
  stop(): Promise<void>;
}

const HALF_MINUTE = 30_000;
/** What was accepted is finished within this time when the server stops, ms. */
const FINISH_WITHIN = 15_000;

/** Headers, and then the whole request, must have come within this time, ms: a file of leads may take a while. */
const SENT_WITHIN = { headers: 15_000, request: 180_000 };
/** An idle connection is kept longer than proxies and browsers keep theirs, so that none sends a request into one that is being closed, ms. */
const IDLE = 75_000;

function listen(app: Express, { port, host, sentWithin = SENT_WITHIN }: ServeSettings): Promise<Server> {
  return new Promise((resolve, reject) => {
    const { headers, request } = sentWithin;
    const times = {
      ...{ headersTimeout: headers, requestTimeout: request, connectionsCheckingInterval: headers / 3 },
      keepAliveTimeout: IDLE,
    };
    const listening = createServer(times, app).listen(port, host);
    listening.once('listening', () => {
      resolve(listening);
    });
    listening.once('error', (error: NodeJS.ErrnoException) => {
      const taken = `Port ${port} is taken by another program. Stop it, or choose another port: RELVIK_PORT=${port + 1} npm start`;
      reject(error.code === 'EADDRINUSE' ? new Error(taken) : error);
    });
  });
}

/** Starts Relvik on a database: migrates, loads the demo world if asked, and listens. */
export async function serve(settings: ServeSettings): Promise<Serving> {
  const { host, progress } = settings;
  const log = pino({ level: process.env['RELVIK_LOG'] ?? 'warn' });
  const now = (): Date => new Date();
  progress('Bringing the database up to date');
  const source = await openDatabase(settings.access, settings.patience, progress);
  const loopback = host === '127.0.0.1' || host === '::1';
  const hasDemo = settings.demo && loopback && (await loadDemoWorld(source, now(), progress));

  const signIns = hasDemo ? DEMO_SIGN_INS : [];
  const desk = new FarDesk(settings.access);
  const desks = {
    contact: new FarDesk(settings.access, 'contact'),
    company: new FarDesk(settings.access, 'company'),
    deal: new FarDesk(settings.access, 'deal'),
  };
  const background = new BackgroundThread(settings.access, (why) => {
    log.error({ why }, 'background work failed; it is tried again');
  });
  const counting = await describeDatabase(settings.access, LONG_PATIENCE).initialize();
  const writer = new IntakeThread(settings.access, settings.patience ?? PATIENCE);
  const service = compose({
    source,
    counting,
    writer,
    desk,
    desks,
    background,
    browserRecords: settings.browserRecords ?? 200_000,
    log,
    now,
    webFolder: settings.webFolder,
    demo: signIns,
    limits: settings.limits ?? { signIn: 20, form: 30 },
    ...(settings.trustProxy === undefined ? {} : { trustProxy: settings.trustProxy }),
  });
  const listening = await listen(service.app, settings).catch(async (error: unknown) => {
    await counting.destroy();
    await source.destroy();
    throw error;
  });

  // What a stop left undone, and what waits for someone free: now, and from time to time.
  background.wake();
  const timer = setInterval(() => {
    background.wake();
    service.counts.refresh().catch(() => undefined);
  }, HALF_MINUTE);

  void readAhead(source.manager, service.counts, [desk, desks.deal]).catch((why: unknown) => {
    log.warn({ why }, 'counts and populations were not read ahead; the first requests take longer');
  });

  return {
    address: `http://${host}:${(listening.address() as AddressInfo).port}`,
    signIns,
    async stop() {
      clearInterval(timer);
      // Nothing new is accepted; what was accepted is finished and answered before anything is closed.
      const closed = new Promise((resolve) => listening.close(resolve));
      await service.inFlight.finish(FINISH_WITHIN);
      await writer.settled();
      listening.closeAllConnections();
      await closed;
      await writer.stop();
      await background.stop();
      await desk.stop();
      for (const one of Object.values(desks)) await one.stop();
      await counting.destroy();
      await source.destroy();
    },
  };
}
