import { SmallServer } from './fixture/small-server.fixture';
import { testAccess } from './fixture/test-database.fixture';
import { serve } from './serve';

test('a stop finishes and answers what was accepted, and refuses what comes after', async () => {
  const small = await SmallServer.start();
  const made = await (await small.as('admin')).post('/api/intake/keys').send({ name: 'stop', fields: ['email'] });
  const { secret } = made.body as { secret: string };
  const serving = await serve({
    access: testAccess(),
    host: '127.0.0.1',
    port: 0,
    webFolder: null,
    demo: false,
    progress: () => undefined,
  });
  const answers: { readonly status: number }[] = [];
  let cut = 0;
  let sending = true;
  const client = async (n: number): Promise<void> => {
    for (let i = 0; sending; i += 1) {
      try {
        const answer = await fetch(`${serving.address}/api/intake/leads`, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json', Authorization: `Bearer ${secret}` },
          body: JSON.stringify({ values: { email: `s${n}-${i}@s.example` } }),
        });
        answers.push({ status: answer.status });
        await answer.text();
      } catch {
        // The connection was refused or closed before the request was taken.
        cut += 1;
        await new Promise((resume) => setTimeout(resume, 5));
      }
    }
  };
  const clients = Promise.all(Array.from({ length: 16 }, (_, n) => client(n)));
  // Work is under way on all connections.
  while (answers.length < 40) await new Promise((resume) => setTimeout(resume, 20));
  await serving.stop();
  sending = false;
  await clients;
  const stored = (await small.source.query<[{ n: string }]>('SELECT COUNT(*) AS n FROM `lead`'))[0].n;
  const accepted = answers.filter(({ status }) => status === 201).length;
  expect(accepted).toBeGreaterThan(20);
  expect([...new Set(answers.map(({ status }) => status))].every((status) => [201, 503].includes(status))).toBe(true);
  // Whatever was stored was answered.
  expect(Number(stored)).toBe(accepted);
  expect(cut).toBeGreaterThan(0);
  await small.stop();
}, 60_000);
