import { sendAllHostile } from '../fixture/hostile.fixture';
import { SmallServer } from '../fixture/small-server.fixture';

let server: SmallServer;
beforeAll(async () => {
  server = await SmallServer.start();
});
afterAll(() => server.stop());

test('whatever a client sends, to any endpoint and as anyone, it is told what is wrong with it: never 500, never no answer', async () => {
  const { sent, failures } = await sendAllHostile(server, 12, 11);
  expect(failures).toEqual([]);
  expect(sent).toBe(12 * server.service.endpoints.length);
});
