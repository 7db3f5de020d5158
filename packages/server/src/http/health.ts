import { type RequestHandler, Router } from 'express';
import type { DataSource } from 'typeorm';
import type { InFlight } from './in-flight';

/** The database must answer within this time for the server to be ready, ms. */
const READY_WITHIN = 2000;

async function answers(source: DataSource): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<boolean>((resolve) => {
    timer = setTimeout(() => {
      resolve(false);
    }, READY_WITHIN);
  });
  const asked = source.query('SELECT 1').then(
    () => true,
    () => false,
  );
  return Promise.race([asked, late]).finally(() => {
    clearTimeout(timer);
  });
}

/** `/health/live`: the process answers. `/health/ready`: it takes requests, and its database answers. */
export function health(source: DataSource, inFlight: InFlight): RequestHandler {
  const router = Router();
  router.get('/live', (_request, response) => {
    response.json({ live: true });
  });
  router.get('/ready', async (_request, response) => {
    const ready = !inFlight.isStopping && (await answers(source));
    if (!ready) response.setHeader('Retry-After', '5');
    response.status(ready ? 200 : 503).json({ ready });
  });
  return router;
}
