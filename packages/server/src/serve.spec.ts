import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createServer } from 'node:net';
import { testDatabase } from './fixture/test-database.fixture';
import { serve, type Serving, type ServeSettings } from './serve';

let settings: ServeSettings;
let serving: Serving;
beforeAll(async () => {
  const database = await testDatabase();
  await database.destroy();
  const webFolder = mkdtempSync(join(tmpdir(), 'relvik-web-'));
  writeFileSync(join(webFolder, 'index.html'), '<title>Relvik</title>');
  writeFileSync(join(webFolder, 'main-abc.js'), 'run()');
  const access = {
    socketPath: process.env['RELVIK_TEST_SOCKET'] ?? '',
    user: 'root',
    password: '',
    database: `relvik_test_${process.env['JEST_WORKER_ID'] ?? '0'}`,
  };
  settings = { access, host: '127.0.0.1', port: 0, webFolder, demo: false, progress: () => undefined };
  serving = await serve(settings);
});
afterAll(() => serving.stop());

const get = (path: string) => fetch(`${serving.address}${path}`);

test('pages get the application uncached, hashed files are kept, files and endpoints that are not there are not found', async () => {
  const page = await get('/leads/12');
  expect([page.status, await page.text(), page.headers.get('cache-control')]).toEqual([
    200,
    '<title>Relvik</title>',
    'no-cache',
  ]);
  const script = await get('/main-abc.js');
  expect([script.status, script.headers.get('cache-control')]).toEqual([200, 'public, max-age=31536000, immutable']);
  expect((await get('/gone.js')).status).toBe(404);
  const missing = await get('/api/nothing');
  expect([missing.status, missing.headers.get('content-type')]).toEqual([
    404,
    'application/problem+json; charset=utf-8',
  ]);
});

test('answers forbid foreign scripts and framing, and do not name the software', async () => {
  const { headers } = await get('/');
  expect(headers.get('content-security-policy')).toContain("script-src 'self'");
  expect(headers.get('x-frame-options')).toBe('SAMEORIGIN');
  expect(headers.get('x-powered-by')).toBeNull();
});

test('an idle connection outlives the minute for which proxies keep theirs', async () => {
  const { headers } = await get('/');
  expect(Number(/timeout=(\d+)/.exec(headers.get('keep-alive') ?? '')?.[1])).toBeGreaterThan(60);
});

test('without the demo there are no demo sign-ins; a taken port is said with what to do', async () => {
  expect(serving.signIns).toEqual([]);
  expect(await (await get('/api/demo')).json()).toEqual([]);
  const other = createServer();
  await new Promise<void>((done) => other.listen(0, '127.0.0.1', done));
  const { port } = other.address() as { port: number };
  await expect(serve({ ...settings, port })).rejects.toThrow(
    `Port ${port} is taken by another program. Stop it, or choose another port: RELVIK_PORT=${port + 1}`,
  );
  await new Promise((done) => other.close(done));
});

test('demo sign-ins refuse to exist on any other address than loopback', async () => {
  const open = await serve({ ...settings, host: '0.0.0.0', demo: true });
  expect(open.signIns).toEqual([]);
  await open.stop();
});
