import fc from 'fast-check';
import { type Problem, Spot } from '../document/problem';
import type { Answer } from '../condition/answer';
import { bindCondition } from '../condition/bind-condition';
import { condition, factsOf, rawRecord, SCOPE } from '../condition/conditions.fixture';
import { judge } from '../condition/judge';
import type { RouteKey, StageKey } from '../record/keys';
import { matchRoute, type ReadyRoute, type ReadyStream, routesOnEntering } from './match-route';
import type { Destination } from './destination';

const QUALIFIED = 'qualified' as StageKey;
const to: Destination = { kind: 'queue', queue: 'q' as never };
const ready = condition.map((when) => {
  const problems: Problem[] = [];
  return { when, ready: bindCondition(when, SCOPE, Spot.root(problems)) };
});
const routes = fc.array(fc.tuple(ready, fc.boolean()), { maxLength: 6 });
const streams = fc.array(fc.tuple(ready, routes, fc.boolean(), fc.boolean()), { maxLength: 3 }).map((list) =>
  list.map(([entry, inside, on, here], s): ReadyStream => ({
    key: `s${s}`,
    name: `s${s}`,
    of: 'lead',
    on,
    entering: [here ? QUALIFIED : ('other' as StageKey)],
    ...entry,
    routes: inside.map(([one, active], r): ReadyRoute => ({
      key: `s${s}r${r}` as RouteKey,
      name: `${r}`,
      on: active,
      to,
      ...one,
    })),
  })),
);

test('streams in order, then routes in order, the first match wins; what can’t be judged above it stops all below', () => {
  fc.assert(
    fc.property(streams, rawRecord, (list, raw) => {
      const facts = factsOf(raw);
      const { match, looked } = matchRoute(list, QUALIFIED, facts, false);

      // The same, written as one flat list of what would be asked.
      const asked = list
        .filter((stream) => stream.on && stream.entering.includes(QUALIFIED))
        .flatMap((stream): { route: RouteKey | null; answer: Answer }[] => {
          const entry = judge(stream.ready, facts);
          if (entry !== 'yes') return [{ route: null, answer: entry }];
          return stream.routes
            .filter((route) => route.on)
            .map((route) => ({ route: route.key, answer: judge(route.ready, facts) }));
        });
      const first = asked.find(({ route, answer }) => answer === 'unjudged' || (answer === 'yes' && route !== null));
      if (first === undefined) expect(match).toEqual({ kind: 'none' });
      else if (first.answer === 'unjudged') expect(match).toMatchObject({ kind: 'unjudged' });
      else expect(match).toEqual({ kind: 'matched', route: first.route, to });
      if (match.kind === 'unjudged') expect(match.fields.length).toBeGreaterThan(0);
      if (match.kind === 'matched')
        expect(looked.at(-1)).toMatchObject({ route: match.route, account: { answer: 'yes' } });
    }),
    { numRuns: 500 },
  );
});

test('a stage is routed on entering when a stream that is on names it', () => {
  const stream = (on: boolean, ...entering: string[]) => ({ on, entering: entering as StageKey[] });
  expect(routesOnEntering([stream(true, 'a', 'qualified')], QUALIFIED)).toBe(true);
  expect(routesOnEntering([stream(false, 'qualified'), stream(true, 'a')], QUALIFIED)).toBe(false);
});
