import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Charter } from '@relvik/core';
import { withPoints } from '../../../core/src/charter/changed-charter.fixture';
import { CharterService } from '../charter/charter.service';
import { CHARTER } from '../page.fixture';
import { ImpactService } from './impact.service';
import { PopulationService } from './population.service';

/** A desk whose answers come when the test says so. */
class SlowDesk {
  readonly state = signal({ state: 'ready' as const, value: { asOf: 0, version: '1', size: 4 } });
  readonly outdated = signal(false);
  readonly asked: { question: string; points: number; answer: (it: unknown) => Promise<void> }[] = [];
  load(): Promise<void> {
    return Promise.resolve();
  }
  ask(question: string, { pair }: { pair: { draft: Charter } }): Promise<unknown> {
    return new Promise((resolve) => {
      this.asked.push({
        question,
        points: pointsIn(pair.draft),
        answer: async (it) => {
          resolve(it);
          await settled();
        },
      });
    });
  }
}

const settled = async (): Promise<void> => {
  for (let turns = 0; turns < 5; turns += 1) await Promise.resolve();
  TestBed.tick();
};
const pointsIn = (charter: Charter): number => charter.scoreSets[0]?.signals[0]?.points ?? NaN;
const draftOf = (points: number): Charter => withPoints(CHARTER, 'trade', points);

function setting() {
  const draft = signal<{ charter: Charter } | null>({ charter: draftOf(1) });
  const desk = new SlowDesk();
  const charters = {
    draft,
    shown: () => draft()?.charter ?? CHARTER,
    inForce: () => ({ id: 1, number: 1, charter: CHARTER }),
  };
  TestBed.configureTestingModule({
    providers: [
      { provide: PopulationService, useValue: desk },
      { provide: CharterService, useValue: charters },
    ],
  });
  const impacts = TestBed.inject(ImpactService);
  impacts.want();
  TestBed.tick();
  return { draft, desk, impacts };
}

const ok = (answer: object) => ({ ok: true, answer });

test('one question at a time: of what is typed meanwhile only the newest is asked, and owners last', async () => {
  const { draft, desk, impacts } = setting();
  await settled();
  for (const points of [2, 3, 4]) {
    draft.set({ charter: draftOf(points) });
    await settled();
  }
  expect(desk.asked.map(({ question, points }) => [question, points])).toEqual([['impact', 1]]);
  await desk.asked[0]!.answer(ok({ size: 1 }));
  await desk.asked[1]!.answer(ok({ signals: {} }));
  expect(desk.asked.map(({ question, points }) => [question, points])).toEqual([
    ['impact', 1],
    ['tally', 1],
    ['impact', 4],
  ]);
  await desk.asked[2]!.answer(ok({ size: 4 }));
  await desk.asked[3]!.answer(ok({ signals: {} }));
  await desk.asked[4]!.answer(ok({ course: { before: 1, after: 2 } }));
  expect(desk.asked.map(({ question, points }) => [question, points]).slice(3)).toEqual([
    ['tally', 4],
    ['owners', 4],
  ]);
  expect(impacts.owners()).toEqual({ course: { before: 1, after: 2 } });
});

test('owners of a moment ago stay, marked, until the new ones are counted', async () => {
  const { draft, desk, impacts } = setting();
  await settled();
  await desk.asked[0]!.answer(ok({ size: 1 }));
  await desk.asked[1]!.answer(ok({ signals: {} }));
  expect([impacts.owners(), impacts.ownersBehind()]).toEqual([null, true]);
  await desk.asked[2]!.answer(ok({ loads: [] }));
  expect([impacts.owners(), impacts.ownersBehind()]).toEqual([{ loads: [] }, false]);
  draft.set({ charter: draftOf(2) });
  await settled();
  await desk.asked[3]!.answer(ok({ size: 1 }));
  expect([impacts.owners(), impacts.ownersBehind()]).toEqual([{ loads: [] }, true]);
});

test('a draft that can’t be swept says why and leaves the last impact; a desk that fails is told in words', async () => {
  const { draft, desk, impacts } = setting();
  await settled();
  await desk.asked[0]!.answer(ok({ size: 1 }));
  draft.set({ charter: draftOf(2) });
  await settled();
  await desk.asked[1]!.answer(ok({ signals: {} }));
  const problems = [{ path: '/lastResort', message: 'no such queue: moon' }];
  await desk.asked[2]!.answer({ ok: false, problems });
  expect([impacts.problems(), impacts.impact()]).toEqual([problems, { size: 1 }]);
  draft.set({ charter: draftOf(3) });
  await settled();
  await desk.asked[3]!.answer(Promise.reject(new Error('The computation stopped; it starts again.')));
  await settled();
  expect(impacts.failed()).toBe('The computation stopped; it starts again.');
  draft.set({ charter: draftOf(4) });
  await settled();
  await desk.asked[4]!.answer(ok({ size: 2 }));
  expect([impacts.problems(), impacts.impact()]).toEqual([[], { size: 2 }]);
});

test('a match is asked for only once there is a population', async () => {
  const { desk, impacts } = setting();
  desk.state.set({ state: 'loading' } as never);
  expect(await impacts.match({ test: 'all', of: [] }, 'signal')).toBeNull();
  expect(await impacts.values('industry', 'signal')).toBeNull();
});
