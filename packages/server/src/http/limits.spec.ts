import { connect } from 'node:net';
import { PASSWORD, SmallServer } from '../fixture/small-server.fixture';
import { testAccess } from '../fixture/test-database.fixture';
import { serve, type Serving } from '../serve';

let both: readonly Serving[];
beforeAll(async () => {
  const small = await SmallServer.start();
  await small.stop();
  const settings = {
    access: testAccess(),
    host: '127.0.0.1',
    port: 0,
    webFolder: null,
    demo: false,
    progress: () => undefined,
    limits: { signIn: 3, form: 2 },
    trustProxy: 1,
    sentWithin: { headers: 900, request: 900 },
  };
  both = [await serve(settings), await serve(settings)];
});
afterAll(async () => {
  for (const serving of both) await serving.stop();
});

const ask = (
  serving: Serving | undefined,
  path: string,
  init: RequestInit & { headers?: Record<string, string> } = {},
) =>
  fetch(`${serving?.address ?? ''}${path}`, {
    ...init,
    headers: { 'Content-Type': 'application/json', ...init.headers },
  });
const signIn = (serving: Serving | undefined, headers: Record<string, string>) =>
  ask(serving, '/api/session', {
    method: 'POST',
    headers,
    body: JSON.stringify({ email: 'nobody@relvik.example', password: 'x' }),
  });

test('two servers share one limit, by the address that a trusted proxy names', async () => {
  const from = (address: string) => ({ 'X-Forwarded-For': address });
  const statuses: number[] = [];
  for (let i = 0; i < 4; i += 1) statuses.push((await signIn(both[i % 2], from('10.1.1.1'))).status);
  expect(statuses.slice(0, 3).every((status) => status === 401 || status === 429)).toBe(true);
  const limited = await signIn(both[0], from('10.1.1.1'));
  expect([limited.status, ((await limited.json()) as { title: string }).title]).toEqual([429, 'Too many tries']);
  expect((await signIn(both[1], from('10.1.1.2'))).status).not.toBe(404);
  const other = await signIn(both[1], from('10.1.1.3'));
  expect(((await other.json()) as { title: string }).title).not.toBe('Too many tries');
});

test('a form that was refused does not count against sending', async () => {
  const headers = { 'X-Forwarded-For': '10.2.2.2' };
  const send = async (values: object) => {
    const { token } = (await (await ask(both[0], '/api/forms/ask')).json()) as { token: string };
    return (await ask(both[0], '/api/forms/ask', { method: 'POST', headers, body: JSON.stringify({ token, values }) }))
      .status;
  };
  for (let i = 0; i < 4; i += 1) expect(await send({ name: 'No mail' })).toBe(422);
  expect([await send({ email: 'a@f.example' }), await send({ email: 'b@f.example' })]).toEqual([201, 201]);
  expect(await send({ email: 'c@f.example' })).toBe(429);
});

test('what changes something must come from this application; cookies are for encrypted connections where they are', async () => {
  const host = new URL(both[0]?.address ?? '').host;
  const from = (origin: string) => signIn(both[0], { Origin: origin, 'X-Forwarded-For': '10.3.3.3' });
  expect((await from('https://elsewhere.example')).status).toBe(403);
  expect((await from('null')).status).toBe(403);
  expect((await from(`http://${host}`)).status).not.toBe(403);
  const cookiesBy = async (scheme: string) => {
    const headers = { 'X-Forwarded-For': '10.4.4.4', 'X-Forwarded-Proto': scheme };
    const body = JSON.stringify({ email: 'bo@relvik.example', password: PASSWORD });
    return (await ask(both[0], '/api/session', { method: 'POST', headers, body })).headers.getSetCookie();
  };
  expect((await cookiesBy('https')).every((cookie) => cookie.includes('Secure'))).toBe(true);
  expect((await cookiesBy('http')).some((cookie) => cookie.includes('Secure'))).toBe(false);
});

test('a request that is sent halfway is ended', async () => {
  const { port } = new URL(both[0]?.address ?? '');
  const socket = connect(Number(port), '127.0.0.1');
  const ended = new Promise<string>((resolve, reject) => {
    let heard = '';
    socket.on('data', (text) => (heard += String(text)));
    socket.on('close', () => {
      resolve(heard);
    });
    socket.on('error', reject);
  });
  socket.write(
    'POST /api/session HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\nContent-Length: 50\r\n\r\n{"em',
  );
  expect(await ended).toMatch(/^HTTP\/1\.1 (408|400)/);
});
