import { lead, NOW, readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import { appraise } from '../decide/decide';

// Source: the scorecard example of DMG's PMML 4.4 specification, chapter "Scorecard", with its reason codes by "pointsBelow":
// baseline less partial score, the largest first, ties as declared. The example is from memory; the sums and orders were
// checked outside this project (checks.md, Scorecard).

const BASELINES = { department: 19, age: 18, income: 10 } as const;
type Characteristic = keyof typeof BASELINES;

const world = smallWorld((document) => {
  Object.assign(document, {
    fields: [
      { key: 'department', name: 'Department', type: 'choice', options: ['marketing', 'engineering', 'business'] },
      { key: 'age', name: 'Age', type: 'number' },
      { key: 'income', name: 'Income', type: 'number' },
      { key: 'country', name: 'Country', type: 'country' },
    ],
  });
});

const signal = (of: Characteristic, nth: number, points: number, when: object) => ({
  kind: 'attribute',
  key: `${of}-${nth}`,
  name: `${of} ${nth}`,
  axis: 'fit',
  points,
  when,
});
const upTo = (field: string, from: string | null, to: string | null) => ({
  test: 'range',
  subject: { kind: 'field', field },
  from: from === null ? null : { at: from, included: false },
  to: to === null ? null : { at: to, included: true },
});
const department = (value: string) => ({
  test: 'one-of',
  subject: { kind: 'field', field: 'department' },
  values: [value],
});
const missing = (field: string) => ({ test: 'blank', subject: { kind: 'field', field } });

const charter = readyCharter(
  {
    ...SMALL_CHARTER,
    scoreSets: [
      {
        ...SMALL_CHARTER.scoreSets[0]!,
        fit: { least: -100, most: 100, decimals: 0 },
        signals: [
          signal('department', 0, -9, missing('department')),
          signal('department', 1, 19, department('marketing')),
          signal('department', 2, 3, department('engineering')),
          signal('department', 3, 6, department('business')),
          signal('age', 0, -1, missing('age')),
          signal('age', 1, -3, upTo('age', null, '18')),
          signal('age', 2, 0, upTo('age', '18', '29')),
          signal('age', 3, 12, upTo('age', '29', '39')),
          signal('age', 4, 18, upTo('age', '39', null)),
          signal('income', 0, 5, missing('income')),
          signal('income', 1, 26, upTo('income', null, '1000')),
          signal('income', 2, 5, upTo('income', '1000', '2500')),
          signal('income', 3, -3, upTo('income', '2500', null)),
        ],
      },
    ],
    gates: [],
    streams: [],
  },
  world,
);

test.each([
  ['engineering', '25', '500', 29, 'age 18, department 16, income -16'],
  ['marketing', '40', '500', 63, 'department 0, age 0, income -16'],
  ['', '', '', -5, 'department 28, age 19, income 5'],
  ['business', '18', '2501', 0, 'age 21, department 13, income 13'],
])('%s, %s years, income %s: %d points, for the reasons %s', (work, age, income, points, reasons) => {
  const record = lead(world, { department: work, age, income });
  const { score } = appraise(charter, record, world, 'created', NOW);
  expect(score.fit).toMatchObject({ judged: true, score: points });
  const partial = (of: Characteristic): number =>
    score.signals.filter((one) => one.signal.startsWith(of)).reduce((sum, one) => sum + one.points, 0);
  const below = (Object.keys(BASELINES) as Characteristic[])
    .map((of) => ({ of, points: BASELINES[of] - partial(of) }))
    .sort((a, b) => b.points - a.points);
  expect(below.map((one) => `${one.of} ${one.points}`).join(', ')).toBe(reasons);
});
