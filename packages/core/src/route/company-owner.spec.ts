import { clicks, lead, NOW, owned, rep, route, smallCharter, smallWorld, stage } from '../charter/charter.fixture';
import { namesOf } from '../charter/charter-names';
import { decide } from '../decide/decide';
import type { WorldDocument } from '../people/read-world';
import { routingWords } from '../reasoning/routing-words';
import { COMPANY_OWNER, companyOwnerValue } from './company-owner';

const GOOD = { industry: 'Brewery', country: 'NO', email: 'kari@bryggeri.example' };
const KEPT = {
  ...{ key: 'kept', name: 'Customers', on: true, when: { test: 'all', of: [] } },
  ...{ to: { kind: 'company-owner' }, nobodyFree: { kind: 'next-route' } },
};

function setting(change: object = {}, people: (document: WorldDocument) => unknown = () => undefined) {
  const world = smallWorld(people);
  const charter = smallCharter(world, (json) => {
    for (const stream of json.streams) {
      Object.assign(stream, { again: ['edited'] });
      stream.routes.unshift({ ...KEPT, ...change } as never);
    }
  });
  const from = (owner: string | null, stands: Parameters<typeof lead>[2] & { placedBy?: never } = {}) => ({
    ...lead(world, GOOD, { activities: clicks(5), ...stands }),
    tied: new Map([[COMPANY_OWNER, companyOwnerValue(owner)]]),
  });
  return { world, charter, from, names: namesOf(charter.charter, world) };
}

test('a lead goes to whoever owns its company, without a turn; one of a company that nobody owns goes by the routes below', () => {
  const { world, charter, from, names } = setting();
  const kept = decide(charter, from('bo'), world, 'created', NOW);
  expect(kept).toMatchObject({ place: owned('bo'), turn: null, loads: [{ rep: 'bo', by: 1 }] });
  expect(routingWords(kept, names)).toBe('leads to Bo Rask, the company’s owner');
  expect(decide(charter, from(null), world, 'created', NOW)).toMatchObject({ place: owned('ada') });
  expect(decide(charter, lead(world, GOOD, { activities: clicks(5) }), world, 'created', NOW).place).toEqual(
    owned('ada'),
  );
});

test('an owner who is full, may take none or works here no more: the route below takes it, unless limits do not count', () => {
  const { world, charter, from } = setting();
  world.rota.loads.set(rep('ada'), 2);
  for (const [owner, why] of [
    ['ada', 'at-limit'],
    ['cai', 'may-not-take-leads'],
    ['gone', 'not-here'],
  ] as const) {
    const decision = decide(charter, from(owner), world, 'created', NOW);
    expect(decision).toMatchObject({ place: owned('bo'), placedBy: 'north' });
    expect(decision.skipped[0]).toMatchObject({ rep: owner, exclusion: { why } });
  }
  const beyond = setting({ respects: { hours: true, limit: false } });
  beyond.world.rota.loads.set(rep('ada'), 2);
  expect(decide(beyond.charter, beyond.from('ada'), beyond.world, 'created', NOW).place).toEqual(owned('ada'));
  const waits = setting({ nobodyFree: { kind: 'wait' } });
  expect(decide(waits.charter, waits.from('cai'), waits.world, 'created', NOW).place).toEqual({
    kind: 'bay',
    reason: { why: 'nobody-free', route: 'kept', rep: 'cai', team: null },
  });
});

test('one that another route gave away goes to the owner of its company when it goes through its stream again, once', () => {
  const { world, charter, from } = setting();
  const stands = (owner: string, place: string, by: string) => {
    const record = from(owner, { stage: stage('qualified'), place: owned(place) });
    return { ...record, standing: { ...record.standing, placedBy: route(by) } };
  };
  expect(decide(charter, stands('bo', 'ada', 'north'), world, 'edited', NOW)).toMatchObject({ place: owned('bo') });
  const again = decide(charter, stands('bo', 'bo', 'kept'), world, 'edited', NOW);
  expect(again).toMatchObject({ place: owned('bo'), kept: true, turn: null, loads: [] });
  expect(decide(charter, stands('ada', 'bo', 'kept'), world, 'edited', NOW)).toMatchObject({ place: owned('ada') });
  // Its owner can't take it: it stays with whom the route below gave it, and takes no turn there.
  world.rota.loads.set(rep('ada'), 2);
  expect(decide(charter, stands('ada', 'bo', 'north'), world, 'edited', NOW)).toMatchObject({
    ...{ place: owned('bo'), kept: true, turn: null, loads: [] },
    skipped: [{ rep: 'ada' }, { rep: 'cai' }],
  });
});

test('the owner of the company is no place to go to while nobody is free', () => {
  const elsewhere = {
    to: { kind: 'rep', rep: 'bo' },
    nobodyFree: { kind: 'elsewhere', to: { kind: 'company-owner' } },
  };
  expect(() => setting(elsewhere)).toThrow('is for routes only: company-owner');
});
