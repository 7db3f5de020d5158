import { SmallServer } from '../fixture/small-server.fixture';
import { NearDesk } from './population-desk';
import { readAhead } from './read-ahead';
import { UnroutedSubject } from './unrouted-population';

let server: SmallServer;
beforeAll(async () => {
  server = await SmallServer.start();
  await (await server.as('admin')).post('/api/leads').send({ values: { email: 'a@b.example' } });
});
afterAll(() => server.stop());

test('with many leads, counts are made and each desk has answered about the charter in force; with few, nothing is read', async () => {
  const { source } = server;
  const now = (): Date => server.now;
  const desks = [new NearDesk(source, now), new NearDesk(source, now, new UnroutedSubject(source, 'deal'))];
  const asked = desks.map((desk) => jest.spyOn(desk, 'ask'));
  const warm = jest.fn(() => Promise.resolve());
  await readAhead(source.manager, { warm }, desks, 10);
  expect(warm).not.toHaveBeenCalled();
  await readAhead(source.manager, { warm }, desks, 0);
  expect(warm).toHaveBeenCalledTimes(1);
  for (const one of asked) expect(await one.mock.results[0]?.value).toMatchObject({ answer: { ok: true } });
});
