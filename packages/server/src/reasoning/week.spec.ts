import type { TeamWeek } from '@relvik/contracts';
import { SmallServer } from '../fixture/small-server.fixture';
import { PersonEntity, TeamMemberEntity } from '../store/entity/people.entity';

let server: SmallServer;
afterEach(() => server.stop());

test('the week of a team: hours in instants, without days off; loads; who is next; of other teams a manager is told nothing', async () => {
  server = await SmallServer.start();
  const admin = await server.as('admin');
  const [team] = await server.source.manager.find(TeamMemberEntity, { where: { person: 'ada' } });
  const key = team?.team ?? '';
  const hours = {
    timeZone: 'Europe/Oslo',
    weekly: [1, 2, 3, 4, 5].map((day) => ({ day, from: '08:00', to: '16:00' })),
  };
  const daysOff = [{ from: '2026-03-31', to: '2026-03-31', hours: null }];
  await server.source.manager.update(PersonEntity, { key: 'ada' }, { hours, daysOff });
  // Clocks in Oslo are put forward on 29 March 2026.
  const [from, to] = [Date.parse('2026-03-27T00:00:00Z'), Date.parse('2026-04-01T00:00:00Z')];
  const week = async (query: object) => admin.get('/api/week').query(query);
  const { members } = (await week({ team: key, from, to })).body as TeamWeek;
  const ada = members.find((one) => one.key === 'ada');
  expect(ada?.stretches.map((one) => [new Date(one.from).toISOString(), new Date(one.to).toISOString()])).toEqual([
    ['2026-03-27T07:00:00.000Z', '2026-03-27T15:00:00.000Z'],
    ['2026-03-30T06:00:00.000Z', '2026-03-30T14:00:00.000Z'],
  ]);
  expect(members.flatMap(({ next }) => next)).toContain('north');
  expect((await week({ team: key, from, to: from })).body).toMatchObject({ status: 422, errors: [{ path: '/to' }] });
  expect((await week({ team: 'ghosts', from, to })).status).toBe(404);
  const dee = await server.as('dee');
  expect((await dee.get('/api/week').query({ team: key, from, to })).status).toBe(403);
});
