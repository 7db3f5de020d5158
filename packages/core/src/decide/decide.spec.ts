import fc from 'fast-check';
import {
  after,
  clicks,
  lead,
  NOW,
  owned,
  rep,
  route,
  smallCharter,
  smallWorld,
  stage,
  standing,
} from '../charter/charter.fixture';
import { advance, decide } from './decide';
import { duringRun } from './run-of-stream';
import { namesOf } from '../charter/charter-names';
import { axisWords, reasonsOf } from '../reasoning/decision-words';
import { routingWords } from '../reasoning/routing-words';
import type { TeamKey } from '../record/keys';
import { OCCASIONS } from '../record/occasion';
import type { Place } from '../record/place';

const GOOD = { industry: 'Brewery', country: 'NO', email: 'kari@bryggeri.example' };

function setting() {
  const world = smallWorld();
  return { world, charter: smallCharter(world) };
}

test('a good lead runs from its score to the next of the team', () => {
  const { world, charter } = setting();
  const decision = decide(charter, lead(world, GOOD, { activities: clicks(5) }), world, 'created', NOW);
  expect(decision).toMatchObject({
    rank: 120,
    grade: { name: 'B active', verdict: 'hand-over' },
    stage: 'qualified',
    territory: { found: 'covered', territory: 'nordics' },
    place: { kind: 'owner', rep: 'ada' },
    loads: [{ rep: 'ada', by: 1 }],
    effects: [{ kind: 'tell-owner', rep: 'ada' }],
  });
});

test('points are counted before the bounds: 134 − 10 = 124, held at 100', () => {
  const { world, charter } = setting();
  const decision = decide(
    charter,
    lead(world, { ...GOOD, employees: '50', email: 'kari@mail.example' }),
    world,
    'created',
    NOW,
  );
  expect(decision.score.fit).toEqual({ judged: true, positive: 134, negative: -10, sum: 124, score: 100 });
  const wording = { names: namesOf(charter.charter, world), fields: world.fields, baseCurrency: 'EUR' };
  expect(axisWords(decision.score.fit, wording)).toBe('134 − 10 = 124, held at 100');
  expect(reasonsOf(decision, wording).map((r) => r.text)).toEqual([
    'fit +60: A trade we serve',
    'fit +74: Large',
    'fit −10: Free mailbox',
    'fit 134 − 10 = 124, held at 100',
    'engagement 0 − 0 = 0',
    'A quiet: Nurture',
    'Qualify: does not hold (Verdict is Hand over now or Hand over (is Nurture))',
    'Decline: does not hold (Verdict is Decline (is Nurture))',
    'Nordics',
    'Not handed over: Nurture',
  ]);
});

test('activities after asOf are not counted, and a cap takes so many', () => {
  const { world, charter } = setting();
  const later = { kind: 'mail_clicked', at: NOW + 1 };
  const at = (activities: { kind: string; at: number }[]) =>
    decide(charter, lead(world, GOOD, { activities }), world, 'created', NOW).score.engagement;
  expect(at([later])).toMatchObject({ score: 0 });
  expect(at([...clicks(2), later])).toMatchObject({ score: 40 });
  expect(at(clicks(9))).toMatchObject({ score: 60 });
});

test('a team takes turns, past those who may not and those at their limit, and then the lead waits', () => {
  const { world, charter } = setting();
  const served = Array.from({ length: 5 }, () => {
    const decision = decide(charter, lead(world, GOOD, { activities: clicks(2) }), world, 'created', NOW);
    advance(world.rota, decision);
    return decision;
  });
  expect(served.map((d) => (d.place.kind === 'owner' ? d.place.rep : ''))).toEqual(['ada', 'bo', 'ada', 'bo', 'bo']);
  expect(served[4]?.skipped).toEqual([
    { rep: 'ada', exclusion: { why: 'at-limit', open: 2, limit: 2 } },
    { rep: 'cai', exclusion: { why: 'may-not-take-leads' } },
  ]);

  const bigDeal = decide(
    charter,
    lead(world, { ...GOOD, deal_value: '20000 EUR' }, { activities: clicks(2) }),
    world,
    'created',
    NOW,
  );
  expect(bigDeal.place).toEqual({
    kind: 'bay',
    reason: { why: 'nobody-free', route: 'large', rep: 'ada', team: null },
  });
  expect(bigDeal.effects).toEqual([{ kind: 'tell-operations', of: 'bay' }]);

  // Someone closes a lead: the one that waits leaves the bay by itself.
  world.rota.loads.set(rep('ada'), 1);
  const freed = decide(charter, after(lead(world, { ...GOOD, deal_value: '20000 EUR' }), bigDeal), world, 'freed', NOW);
  expect(freed.place).toEqual(owned('ada'));
});

test.each([
  ['20000 EUR', { kind: 'owner', rep: 'ada' }],
  ['19999.99 EUR', { kind: 'owner', rep: 'ada' }],
  ['235294.12 NOK', { kind: 'owner', rep: 'ada' }],
  ['100 GBP', { kind: 'bay', reason: { why: 'unjudged', fields: ['deal_value'] } }],
  ['a lot', { kind: 'bay', reason: { why: 'unjudged', fields: ['deal_value'] } }],
])('a deal of %s', (deal_value, place) => {
  const { world, charter } = setting();
  const decision = decide(
    charter,
    lead(world, { ...GOOD, deal_value }, { activities: clicks(2) }),
    world,
    'created',
    NOW,
  );
  expect(decision.place).toEqual(place);
  const matched = decision.routing?.match;
  expect(matched?.kind === 'matched' ? matched.route : matched?.kind).toBe(
    deal_value === '19999.99 EUR'
      ? 'north'
      : deal_value.endsWith('GBP') || deal_value === 'a lot'
        ? 'unjudged'
        : 'large',
  );
});

test('no route: the last resort; open ground and a country nobody knows', () => {
  const { world, charter } = setting();
  const at = (country: string) =>
    decide(charter, lead(world, { ...GOOD, country }, { activities: clicks(2) }), world, 'created', NOW);
  expect(at('Malta')).toMatchObject({
    place: { kind: 'queue', queue: 'operations' },
    territory: { found: 'open-ground' },
    effects: [{ kind: 'tell-operations', of: 'last-resort' }],
  });
  expect(at('').territory).toEqual({ found: 'no-address' });
  expect(at('Norwey?').place).toEqual({ kind: 'bay', reason: { why: 'unjudged', fields: ['country'] } });
  expect(
    decide(
      charter,
      lead(world, { ...GOOD, country: 'Malta' }, { pin: 'dach' as never, activities: clicks(2) }),
      world,
      'created',
      NOW,
    ).place,
  ).toEqual({ kind: 'queue', queue: 'projects' });
});

test('a value that no rule reads does no harm; one that a signal reads sends the lead to a person', () => {
  const { world, charter } = setting();
  expect(
    decide(charter, lead(world, { ...GOOD, note: 'x' }, { activities: clicks(2) }), world, 'created', NOW),
  ).toMatchObject({
    place: { kind: 'owner' },
    warnings: [{ field: 'note', raw: 'x' }],
  });
  expect(decide(charter, lead(world, { ...GOOD, employees: 'about 50' }), world, 'created', NOW)).toMatchObject({
    grade: null,
    rank: null,
    place: { kind: 'bay', reason: { why: 'unjudged', fields: ['employees'] } },
    effects: [{ kind: 'tell-operations', of: 'bay' }],
  });
});

test('a gate acts when its condition becomes true, not again at each save', () => {
  const { world, charter } = setting();
  const first = lead(world, GOOD);
  const nurtured = decide(charter, first, world, 'created', NOW);
  expect(nurtured).toMatchObject({ stage: 'new', place: { kind: 'not-handed-over', verdict: 'nurture' } });

  const active = { ...after(first, nurtured), activities: clicks(2) };
  const passed = decide(charter, active, world, 'activity', NOW);
  expect(passed.stage).toBe('qualified');

  // Moved back by hand: the condition still holds, so nothing happens until it has been false in between.
  const look = charter.rules.lead.gates[0]?.look ?? '';
  const back = standing(after(active, nurtured), { looks: new Map([[look, 'true']]) });
  expect(decide(charter, back, world, 'edited', NOW)).toMatchObject({
    stage: 'new',
    gates: { looked: [{ answer: 'was-true' }, { answer: 'no' }] },
  });
  const cooled = decide(charter, { ...back, activities: [] }, world, 'edited', NOW);
  expect(decide(charter, { ...after(back, cooled), activities: clicks(2) }, world, 'activity', NOW).stage).toBe(
    'qualified',
  );
});

test('a rescore on enact moves nobody and uses no gate up: the next thing that happens does, time alone does not', () => {
  const { world, charter } = setting();
  const waiting = after(lead(world, GOOD), decide(charter, lead(world, GOOD), world, 'created', NOW));
  const active = { ...waiting, activities: clicks(2) };
  const rescored = decide(charter, active, world, 'enacted', NOW);
  expect(rescored).toMatchObject({ stage: 'new', grade: { name: 'B active' }, place: { kind: 'not-handed-over' } });

  const late = decide(charter, after(active, rescored), world, 'time', NOW);
  expect(late).toMatchObject({ stage: 'new', gates: { looked: [{ answer: 'held-before' }, { answer: 'no' }] } });
  expect(decide(charter, after(active, late), world, 'edited', NOW).stage).toBe('qualified');
  // A gate whose condition was changed has no look: what held under the old one says nothing of it.
  const other = smallCharter(world, (json) => {
    Object.assign(json.gates[0] as object, { when: { test: 'all', of: [] } });
  });
  expect(decide(other, after(active, late), world, 'time', NOW).stage).toBe('qualified');
});

test('a lead that runs in a circle is stopped and handed to a person', () => {
  const world = smallWorld();
  const always = { test: 'all', of: [] };
  const charter = smallCharter(world, (json) =>
    Object.assign(json, {
      gates: [
        { key: 'a', name: 'A', from: 'new', to: 'qualified', when: always },
        { key: 'b', name: 'B', from: 'qualified', to: 'new', when: always },
      ],
    }),
  );
  const decision = decide(charter, lead(world, GOOD), world, 'created', NOW);
  expect(decision).toMatchObject({ stage: 'new', gates: { moves: [] } });
  expect(decision.place).toMatchObject({
    kind: 'bay',
    reason: { why: 'loop', gates: expect.arrayContaining(['a', 'b']) as string[] },
  });
});

test('a disqualifying stage closes the lead and frees its owner, who stays named', () => {
  const { world, charter } = setting();
  const record = lead(world, { email: 'x@mail.example' }, { stage: stage('new'), place: owned('bo') });
  expect(decide(charter, record, world, 'edited', NOW)).toMatchObject({
    status: 'disqualified',
    stage: 'out',
    place: owned('bo'),
    loads: [{ rep: 'bo', by: -1 }],
  });
});

const places = fc.constantFrom<Place | null>(
  null,
  owned('ada'),
  owned('bo'),
  { kind: 'queue', queue: 'projects' as never },
  { kind: 'bay', reason: { why: 'nobody-free', route: route('large'), rep: rep('ada'), team: null } },
  { kind: 'not-handed-over', verdict: 'nurture' },
);
const raws = fc.record({
  industry: fc.constantFrom('', 'Brewery', 'Golf course', 'Mill'),
  employees: fc.constantFrom('', '49', '50', 'many'),
  country: fc.constantFrom('', 'NO', 'Germany', 'Malta', 'Atlantis'),
  deal_value: fc.constantFrom('', '20000 EUR', '5 NOK', 'much'),
});

test('every decision gives exactly one place, keeps a right owner, and is the same twice', () => {
  fc.assert(
    fc.property(raws, fc.nat(4), places, fc.constantFrom(...OCCASIONS), (raw, clicked, place, occasion) => {
      const { world, charter } = setting();
      const record = lead(world, raw, {
        activities: clicks(clicked),
        place,
        stage: place === null ? null : stage('new'),
      });
      const decision = decide(charter, record, world, occasion, NOW);
      // A lead that is handed on goes to an owner or a queue, never into the bay.
      if (place?.kind === 'owner' && occasion === 'handed-on')
        expect(['owner', 'queue']).toContain(decision.place.kind);
      else if (place?.kind === 'owner' && occasion !== 'given-back') expect(decision.place).toEqual(place);
      if (decision.place.kind === 'owner' && place?.kind !== 'owner')
        expect(decision.skipped.map((s) => s.rep)).not.toContain(decision.place.rep);
      if (occasion === 'looked-at') expect([decision.loads, decision.effects]).toEqual([[], []]);
      expect(JSON.stringify(decide(charter, structuredClone(record), world, occasion, NOW))).toBe(
        JSON.stringify(decision),
      );
    }),
    { numRuns: 500 },
  );
});

test('a lead that is handed on goes where routes lead now; it stays where none takes it, or nobody is free', () => {
  const { world, charter } = setting();
  const onward = (country: string, owner: string) =>
    decide(
      charter,
      lead(world, { ...GOOD, country }, { activities: clicks(5), place: owned(owner), stage: stage('qualified') }),
      world,
      'handed-on',
      NOW,
    );
  expect(onward('DE', 'ada')).toMatchObject({
    place: { kind: 'queue', queue: 'projects' },
    loads: [{ rep: 'ada', by: -1 }],
    effects: [{ kind: 'tell-queue', queue: 'projects' }],
  });
  expect(onward('NO', 'cai')).toMatchObject({
    place: owned('ada'),
    loads: [
      { rep: 'cai', by: -1 },
      { rep: 'ada', by: 1 },
    ],
    effects: [{ kind: 'tell-owner', rep: 'ada' }],
  });
  expect(onward('FR', 'ada')).toMatchObject({ place: owned('ada'), loads: [], effects: [] });
  const busy = { ...world, rota: { ...world.rota, loads: new Map([[rep('ada'), 2]]) } };
  const alone = { ...busy, reps: new Map([...busy.reps].filter(([key]) => key !== 'bo')) };
  const stays = lead(world, GOOD, { activities: clicks(5), place: owned('cai'), stage: stage('qualified') });
  expect(decide(charter, stays, alone, 'handed-on', NOW)).toMatchObject({ place: owned('cai'), loads: [], turn: null });
});

test('the first set that admits a lead grades it, those after it score beside, and one that is off does neither', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    const [set] = json.scoreSets as [(typeof json.scoreSets)[number]];
    const more = (key: string, rest: object) => ({
      ...set,
      key,
      name: key,
      signals: set.signals.map((signal) => ({ ...signal, key: `${key}-${signal.key}` })),
      ...rest,
    });
    const large = {
      test: 'range',
      subject: { kind: 'field', field: 'employees' },
      from: { at: '100', included: true },
      to: null,
    };
    json.scoreSets = [more('off', { on: false }), more('large', { when: large }), set];
  });
  const setsOf = (employees: string) => {
    const { score, grade, place } = decide(charter, lead(world, { ...GOOD, employees }), world, 'created', NOW);
    return [score.admitted, score.set, score.beside.map((one) => one.set), grade?.name, place.kind];
  };
  expect(setsOf('100')).toEqual(['yes', 'large', ['leads'], 'A quiet', 'not-handed-over']);
  expect(setsOf('99')).toEqual(['yes', 'leads', [], 'A quiet', 'not-handed-over']);
  expect(setsOf('')).toEqual(['yes', 'leads', [], 'B quiet', 'not-handed-over']);
  // Nobody knows which set is its own: it is not graded by the next.
  expect(setsOf('many')).toEqual(['unjudged', null, ['leads'], undefined, 'bay']);
});

test('for whom no set admits scores are blank, not open: gates and routes go on', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    Object.assign(json.scoreSets[0]!, {
      when: { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] },
    });
    Object.assign(json.gates[0]!, { when: { test: 'blank', subject: { kind: 'verdict' } } });
  });
  const decision = decide(charter, lead(world, { ...GOOD, industry: 'Golf course' }), world, 'created', NOW);
  expect(decision).toMatchObject({
    grade: null,
    rank: null,
    stage: 'qualified',
    place: { kind: 'owner', rep: 'ada' },
  });
  const wording = { names: namesOf(charter.charter, world), fields: world.fields, baseCurrency: 'EUR' };
  expect(reasonsOf(decision, wording).map((r) => r.text)).toContain('no score set admits it');
});

test('who is handed from queue to queue is told to the new one, who stays where it was is told to nobody', () => {
  const { world, charter } = setting();
  const to = (queue: string) =>
    smallCharter(world, (json) => {
      const [stream] = json.streams;
      Object.assign(stream as object, {
        routes: [{ key: 'all', name: 'All', when: { test: 'all', of: [] }, to: { kind: 'queue', queue } }],
      });
    });
  const stands: Place = { kind: 'queue', queue: 'projects' as never };
  const waiting = lead(world, GOOD, { stage: stage('qualified'), place: stands });
  const moved = decide(to('operations'), waiting, world, 'rerouted', NOW);
  expect(moved).toMatchObject({
    place: { kind: 'queue', queue: 'operations' },
    effects: [{ kind: 'tell-queue', queue: 'operations' }],
  });
  expect(decide(to('projects'), waiting, world, 'rerouted', NOW).effects).toEqual([]);
  // Only a charter that is to route moves what waits in a queue.
  expect(decide(to('operations'), waiting, world, 'edited', NOW)).toMatchObject({ place: stands, routing: null });
  expect(decide(charter, waiting, world, 'regated', NOW).place).toEqual(stands);
});

test('a lead that comes in with its owner is on nobody’s load before, and on the owner’s after', () => {
  const { world, charter } = setting();
  const brought = lead(world, GOOD, { place: owned('bo') });
  expect(decide(charter, brought, world, 'created', NOW).loads).toEqual([{ rep: 'bo', by: 1 }]);
  const kept = standing(brought, { stage: stage('new') });
  expect(decide(charter, kept, world, 'edited', NOW).loads).toEqual([]);
});

test('a lead that a route gave away: the account says where a hand gives it, and why it stays', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    for (const stream of json.streams) Object.assign(stream, { again: ['edited'] });
  });
  const names = namesOf(charter.charter, world);
  const stands = (country: string, owner: string) => {
    const record = lead(
      world,
      { ...GOOD, country },
      { activities: clicks(5), place: owned(owner), stage: stage('qualified') },
    );
    return { ...record, standing: { ...record.standing, placedBy: route('north') } };
  };
  const said = (country: string, occasion: 'edited' | 'given', owner = 'bo'): string | null => {
    const gives = { kind: 'gives', to: { kind: 'team', team: 'north' as TeamKey, method: 'round-robin' } } as const;
    const decision = decide(charter, stands(country, owner), world, occasion, NOW, occasion === 'given' ? gives : null);
    expect(decision.turn === null || occasion === 'given').toBe(true);
    return routingWords(decision, names);
  };
  expect(said('NO', 'edited')).toBe('leads to Team north: it has its place there already, and stays');
  expect(said('DE', 'edited')).toBe('leads to queue Projects');
  expect(said('FR', 'edited')).toBe('No route matches: it stays where it is');
  expect(said('DE', 'given')).toBe('given by hand to Team north');
  world.rota.loads.set(rep('ada'), 2);
  const nobody = { ...world, reps: new Map([...world.reps].filter(([key]) => key !== 'bo')) };
  const kept = decide(charter, stands('NO', 'cai'), nobody, 'edited', NOW);
  expect(kept).toMatchObject({ place: owned('cai'), kept: true, loads: [] });
  const away = decide(charter, stands('NO', 'dee'), nobody, 'edited', NOW);
  expect(routingWords(away, names)).toBe('leads to Team north, where nobody is free: it stays where it is');
});

test('a stream that gives away only by its schedule lets leads wait in the bay until it runs; it goes over what it gave away again', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    Object.assign(json.streams[0]!, {
      schedule: { kind: 'daily', at: '02:00' },
      onlyOnSchedule: true,
      again: ['schedule'],
    });
  });
  const came = lead(world, GOOD, { activities: clicks(5) });
  const waits = decide(charter, came, world, 'created', NOW);
  const { key } = charter.rules.lead.streams[0]!;
  expect(waits).toMatchObject({
    place: { kind: 'bay', reason: { why: 'scheduled', stream: key } },
    effects: [],
    turn: null,
  });
  const waiting = after(came, waits);
  for (const occasion of ['edited', 'freed', 'rerouted', 'time'] as const)
    expect(decide(charter, waiting, world, occasion, NOW).place).toEqual(waits.place);
  const running = duringRun(charter, key);
  expect(decide(charter, waiting, world, 'scheduled', NOW).place).toEqual(waits.place);
  const gone = decide(running, waiting, world, 'scheduled', NOW);
  expect(gone).toMatchObject({ place: owned('ada'), effects: [{ kind: 'tell-owner', rep: 'ada' }] });
  expect(decide(charter, waiting, world, 'handed-on', NOW).place).toEqual(owned('ada'));

  // Its place is that of the route still; when another route matches, the next run gives it on, and no edit does.
  const given = standing(after(came, gone), { placedBy: route('north') });
  expect(decide(running, given, world, 'scheduled', NOW)).toMatchObject({ place: owned('ada'), kept: true });
  const moved = { ...given, values: lead(world, { ...GOOD, country: 'DE' }).values };
  expect(decide(charter, moved, world, 'edited', NOW).place).toEqual(owned('ada'));
  expect(decide(running, moved, world, 'scheduled', NOW).place).toEqual({ kind: 'queue', queue: 'projects' });
});

test('a run of one stream lets go nothing that waits for the run of another', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    const [stream] = json.streams;
    const nightly = { schedule: { kind: 'daily', at: '02:00' }, onlyOnSchedule: true };
    const [, north] = stream!.routes;
    const first = { ...stream!, ...nightly, key: 'first', name: 'First', routes: [{ ...north!, key: 'north-first' }] };
    json.streams = [first, { ...stream!, ...nightly, key: 'second', name: 'Second' }] as never;
  });
  const came = lead(world, GOOD, { activities: clicks(5) });
  const waits = decide(charter, came, world, 'created', NOW);
  expect(waits.place).toMatchObject({ kind: 'bay', reason: { why: 'scheduled', stream: 'first' } });
  const waiting = after(came, waits);
  expect(decide(duringRun(charter, 'second'), waiting, world, 'scheduled', NOW).place).toEqual(waits.place);
  expect(decide(duringRun(charter, 'first'), waiting, world, 'scheduled', NOW).place).toEqual(owned('ada'));
});

test('a run takes what nobody has in its stages, and asks no gate', () => {
  const world = smallWorld();
  const charter = smallCharter(world, (json) => {
    Object.assign(json.streams[0]!, { schedule: { kind: 'every', minutes: 60 } });
  });
  const resting = lead(world, GOOD, {
    ...{ activities: clicks(5), stage: stage('qualified') },
    place: { kind: 'not-handed-over', verdict: null },
  });
  expect(decide(charter, resting, world, 'edited', NOW).place.kind).toBe('not-handed-over');
  expect(decide(charter, resting, world, 'scheduled', NOW).place).toEqual(owned('ada'));
  const before = standing(resting, { stage: stage('new') });
  expect(decide(charter, before, world, 'scheduled', NOW)).toMatchObject({ stage: 'new', routing: null });
});
