import { PASSWORD, SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
beforeAll(async () => {
  server = await SmallServer.start();
});
afterAll(() => server.stop());

async function tryFrom(address: string, password: string, email = 'bo@relvik.example') {
  const answer = await server.anyone.post('/api/session').set('X-Forwarded-For', address).send({ email, password });
  return [answer.status, (answer.body as { detail?: string }).detail ?? ''] as const;
}
const later = (seconds: number): void => {
  server.now = new Date(server.now.getTime() + seconds * 1000);
};

test('wrong passwords are forgiven twice, then each doubles the pause; the right one ends it', async () => {
  for (let i = 0; i < 3; i += 1) expect((await tryFrom('10.0.0.1', 'wrong'))[0]).toBe(401);
  // While it pauses nothing is tried, not even the right password.
  expect(await tryFrom('10.0.0.1', PASSWORD)).toEqual([429, 'Try again in 1 s.']);
  for (const pause of [2, 4, 8, 16]) {
    later(pause / 2);
    expect((await tryFrom('10.0.0.1', 'wrong'))[0]).toBe(401);
    expect(await tryFrom('10.0.0.1', PASSWORD)).toEqual([429, `Try again in ${pause} s.`]);
  }
  // From elsewhere the account pauses five seconds at most, and another account from here not at all.
  expect(await tryFrom('10.0.0.2', PASSWORD)).toEqual([429, 'Try again in 5 s.']);
  expect((await tryFrom('10.0.0.1', PASSWORD, 'ada@relvik.example'))[0]).toBe(200);
  later(5);
  expect((await tryFrom('10.0.0.2', PASSWORD))[0]).toBe(200);
  expect((await tryFrom('10.0.0.1', PASSWORD))[0]).toBe(429);
  later(11);
  expect((await tryFrom('10.0.0.1', PASSWORD))[0]).toBe(200);
  expect((await tryFrom('10.0.0.1', 'wrong'))[0]).toBe(401);
  expect((await tryFrom('10.0.0.1', PASSWORD))[0]).toBe(429);
});
