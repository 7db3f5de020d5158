import { serve, type Serving } from '../serve';
import { LosingProxy } from '../fixture/losing-proxy.fixture';
import { IntakeThread } from '../intake/intake-thread';
import { SmallServer } from '../fixture/small-server.fixture';
import { testAccess } from '../fixture/test-database.fixture';

let proxy: LosingProxy;
let serving: Serving;
let small: SmallServer;
let secret: string;
beforeAll(async () => {
  small = await SmallServer.start();
  const made = await (await small.as('admin')).post('/api/intake/keys').send({ name: 'away', fields: ['email'] });
  secret = (made.body as { secret: string }).secret;
  const { socketPath, database } = testAccess() as Extract<ReturnType<typeof testAccess>, { socketPath: string }>;
  await small.source.query("CREATE OR REPLACE USER through@localhost IDENTIFIED BY 'proxy'");
  await small.source.query('GRANT ALL ON `relvik_test%`.* TO through@localhost');
  proxy = await LosingProxy.start(socketPath);
  serving = await serve({
    access: { user: 'through', password: 'proxy', database, host: '127.0.0.1', port: proxy.port },
    host: '127.0.0.1',
    port: 0,
    webFolder: null,
    demo: false,
    progress: () => undefined,
    patience: 700,
  });
});
afterAll(async () => {
  await serving.stop();
  await proxy.stop();
  await small.stop();
});

const get = (path: string) => fetch(`${serving.address}${path}`);
const send = (email: string, key?: string) =>
  fetch(`${serving.address}/api/intake/leads`, {
    method: 'POST',
    headers: {
      'Content-Type': 'application/json',
      Authorization: `Bearer ${secret}`,
      ...(key === undefined ? {} : { 'Idempotency-Key': key }),
    },
    body: JSON.stringify({ values: { email } }),
  });

test('the thread that takes leads in, begun while the database is away, takes them in once it is back', async () => {
  const { socketPath, database } = testAccess() as Extract<ReturnType<typeof testAccess>, { socketPath: string }>;
  const own = await LosingProxy.start(socketPath);
  const { port } = own;
  await own.stop();
  const thread = new IntakeThread({ user: 'through', password: 'proxy', database, host: '127.0.0.1', port }, 700);
  const inquiry = {
    cause: { kind: 'api', name: 'test' },
    at: new Date(),
    values: { email: 'early@f.example' },
    owner: null,
    trusted: true,
  } as const;
  await expect(thread.accept(inquiry)).rejects.toThrow();
  const back = await LosingProxy.start(socketPath, port);
  expect(await thread.accept(inquiry)).toMatchObject({ joined: false });
  await thread.stop();
  await back.stop();
}, 60_000);

test('a frozen database is answered with 503 in time; when it answers again so does the server, and a repeat is stored once', async () => {
  expect([(await get('/health/live')).status, (await get('/health/ready')).status]).toEqual([200, 200]);
  proxy.freeze();
  const began = Date.now();
  const [ready, answer] = await Promise.all([get('/health/ready'), send('frozen@f.example', 'frozen-1')]);
  expect(Date.now() - began).toBeLessThan(15_000);
  expect([ready.status, answer.status, answer.headers.get('retry-after')]).toEqual([503, 503, '5']);
  expect(await answer.json()).toMatchObject({ type: '/docs/errors.md#database-away' });
  expect((await get('/health/live')).status).toBe(200);
  proxy.thaw();
  const again = await send('frozen@f.example', 'frozen-1');
  expect(again.status).toBe(201);
  expect((await get('/health/ready')).status).toBe(200);
  const rows = await small.source.query<object[]>("SELECT id FROM `lead` WHERE email = 'frozen@f.example'");
  expect(rows).toHaveLength(1);
}, 60_000);

test('a database that is away is 503 with Retry-After; it reconnects by itself', async () => {
  const { port } = proxy;
  await proxy.stop();
  const answer = await send('away@f.example');
  expect([answer.status, answer.headers.get('retry-after')]).toEqual([503, '5']);
  const { socketPath } = testAccess() as Extract<ReturnType<typeof testAccess>, { socketPath: string }>;
  proxy = await LosingProxy.start(socketPath, port);
  expect((await send('back@f.example')).status).toBe(201);
}, 60_000);

test('a read-only database takes nothing in and says so', async () => {
  await small.source.query('SET GLOBAL read_only = 1');
  const answer = await send('readonly@f.example');
  await small.source.query('SET GLOBAL read_only = 0');
  expect(answer.status).toBe(503);
  expect((await send('writable@f.example')).status).toBe(201);
}, 60_000);
