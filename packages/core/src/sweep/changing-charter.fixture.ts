import fc from 'fast-check';
import { readyCharter, SMALL_CHARTER } from '../charter/charter.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import type { Condition } from '../condition/condition';
import type { Subject } from '../condition/subject';
import { effect } from './effect.fixture';
import { STAGES, TERRITORIES, WORLD } from './sweep.fixture';

const field = (key: string): Subject & { kind: 'field' } => ({ kind: 'field', field: key });
const from = (subject: Subject, at: string): Condition => ({
  test: 'range',
  subject,
  from: { at, included: true },
  to: null,
});

/** Tests on all that gates set: of each subject that reads a field, and of each predicate on tags. */
const test = fc.oneof(
  fc.constantFrom<Condition>(
    { test: 'one-of', subject: field('words'), values: ['fish FARM'] },
    { test: 'contains', subject: field('words'), values: ['farm'] },
    from(field('size'), '51'),
    from(field('worth'), '60'),
    from({ kind: 'amount', field: 'worth' }, '60'),
    { test: 'one-of', subject: { kind: 'currency', field: 'worth' }, values: ['NOK'] },
    { test: 'one-of', subject: field('trade'), values: ['Käserei'] },
    { test: 'one-of', subject: field('agreed'), values: ['yes'] },
    from({ kind: 'days-since', day: field('since') }, '1'),
    from(field('since'), '2026-02-28'),
  ),
  fc.constantFrom('words', 'size', 'worth', 'likes', 'since', 'tags').map((key): Condition => ({
    test: 'blank',
    subject: field(key),
  })),
  fc
    .tuple(
      fc.constantFrom('any-of', 'all-of'),
      fc.constantFrom(field('tags'), field('tags'), field('likes')),
      fc.subarray(['Fair 26', 'STRASSE', 'x'], { minLength: 1 }),
    )
    .map(([kind, subject, values]): Condition => ({
      test: kind,
      subject,
      values: subject.field === 'tags' ? values : ['Brewery'],
    })),
);
const condition = fc.oneof(
  test,
  test.map((of): Condition => ({ test: 'not', of })),
  fc
    .tuple(fc.constantFrom('all', 'any'), fc.array(test, { minLength: 2, maxLength: 3 }))
    .map(([kind, of]): Condition => ({ test: kind, of })),
);
const effects = fc.uniqueArray(effect, {
  ...{ minLength: 1, maxLength: 3 },
  selector: (one) => ('field' in one ? one.field : one.tag),
});
const ALWAYS: Condition = { test: 'all', of: [] };

/**
 * Charters whose gates change values that the next gates and the routes ask about: all leads pass the first gate, and some the next;
 * now and then a gate leads back, so that some run in a circle.
 */
export const changingCharter: fc.Arbitrary<ReadyCharter> = fc
  .record({
    first: effects,
    gates: fc.array(
      fc.record({
        ends: fc.constantFrom<[string, string]>(
          ['warm', 'qualified'],
          ['warm', 'new'],
          ['qualified', 'warm'],
          ['warm', 'out'],
        ),
        when: condition,
        effects,
        requiredFields: fc.constantFrom([], [], ['words'], ['worth']),
      }),
      { minLength: 1, maxLength: 5 },
    ),
    routes: fc.array(condition, { minLength: 1, maxLength: 3 }),
  })
  .map(({ first, gates, routes }) => {
    const [leads, ...others] = SMALL_CHARTER.pipelines;
    const stages = STAGES.map((key) => ({
      key,
      name: key,
      kind: key === 'out' ? 'out' : 'open',
      mergedFrom: key === 'warm' ? ['once'] : [],
    }));
    return readyCharter(
      {
        ...SMALL_CHARTER,
        scoreSets: SMALL_CHARTER.scoreSets.map((set) => ({ ...set, signals: [] })),
        pipelines: [{ ...leads, stages, entry: 'new' }, ...others],
        gates: [
          { key: 'first', name: 'First', from: 'new', to: 'warm', when: ALWAYS, effects: first },
          ...gates.map(({ ends: [begin, end], ...gate }, i) => ({
            ...{ key: `g${i}`, name: `g ${i}`, from: begin, to: end },
            ...gate,
          })),
        ],
        territories: {
          field: 'land',
          list: TERRITORIES.map((key) => ({
            key,
            name: key,
            parent: null,
            countries: key === 'north' ? ['NO'] : ['DE'],
          })),
        },
        streams: [
          {
            ...{ key: 'all', name: 'All', entering: STAGES.slice(0, 3), when: ALWAYS },
            routes: routes.map((when, i) => ({ key: `r${i}`, name: 'r', when, to: { kind: 'rep', rep: 'ada' } })),
          },
        ],
      },
      WORLD,
    );
  });
