import { NOW, lead, readyCharter, SMALL_CHARTER, smallWorld } from '../charter/charter.fixture';
import { decide } from '../decide/decide';

// Source: the loan example of OMG's DMN 1.x specification, chapter "Example"; its tables from memory, the sums checked
// with a FEEL library outside this project.
const world = smallWorld((document) => {
  Object.assign(document, {
    fields: [
      { key: 'age', name: 'Age', type: 'number' },
      { key: 'marital', name: 'Marital status', type: 'choice', options: ['S', 'M'] },
      {
        key: 'employment',
        name: 'Employment',
        type: 'choice',
        options: ['unemployed', 'student', 'self-employed', 'employed'],
      },
      { key: 'country', name: 'Country', type: 'country' },
    ],
  });
});

const age = (from: number, to: number | null, points: number) => ({
  kind: 'attribute',
  key: `age-${from}`,
  name: `Age ${from}`,
  axis: 'fit',
  points,
  when: {
    test: 'range',
    subject: { kind: 'field', field: 'age' },
    from: { at: from, included: true },
    to: to === null ? null : { at: to, included: true },
  },
});
const is = (field: string, value: string, points: number) => ({
  kind: 'attribute',
  key: value.toLowerCase(),
  name: value,
  axis: 'fit',
  points,
  when: { test: 'one-of', subject: { kind: 'field', field }, values: [value] },
});

const SIGNALS = [
  age(18, 21, 32),
  age(22, 25, 35),
  age(26, 35, 40),
  age(36, 49, 43),
  age(50, null, 48),
  is('marital', 'S', 25),
  is('marital', 'M', 45),
  is('employment', 'unemployed', 15),
  is('employment', 'student', 18),
  is('employment', 'self-employed', 36),
  is('employment', 'employed', 45),
];

const SET = SMALL_CHARTER.scoreSets[0]!;

function loan(names: string[], cuts: number[]) {
  return readyCharter(
    {
      ...SMALL_CHARTER,
      gates: [],
      streams: [],
      scoreSets: [
        {
          ...SET,
          fit: { least: 0, most: 1000 },
          signals: SIGNALS,
          grid: {
            ...SET.grid,
            fit: { bands: names.map((name, i) => ({ key: `band-${i}`, name })), cuts },
            cells: names.map(() => ['nurture', 'nurture']),
          },
        },
      ],
    },
    world,
  );
}

const existing = loan(['decline', 'high', 'medium', 'low'], [80, 90, 111]);
const fresh = loan(['high', 'medium', 'low', 'very low'], [100, 120, 131]);

test.each([
  [35, 'M', 'employed', 130, 'low', 'low'],
  [51, 'M', 'employed', 138, 'low', 'very low'],
  [18, 'S', 'unemployed', 72, 'decline', 'high'],
  [22, 'S', 'self-employed', 96, 'medium', 'high'],
])(
  '%d, %s, %s scores %d: risk %s for an existing customer, %s for a new one',
  (years, marital, employment, score, known, unknown) => {
    const record = lead(world, { age: years, marital, employment });
    for (const [charter, risk] of [
      [existing, known],
      [fresh, unknown],
    ] as const) {
      const {
        score: { fit },
        grade,
      } = decide(charter, record, world, 'created', NOW);
      expect(fit).toMatchObject({ judged: true, score });
      expect(grade?.name).toBe(`${risk} quiet`);
    }
  },
);

test.each([
  [110, 'medium', 'medium'],
  [111, 'low', 'medium'],
  [130, 'low', 'low'],
  [131, 'low', 'very low'],
])('at the edge, %d is %s for an existing customer and %s for a new one', (score, known, unknown) => {
  for (const [charter, risk] of [
    [existing, known],
    [fresh, unknown],
  ] as const) {
    // One signal gives the whole score, so that the edge itself is met.
    const { lead: rules } = charter.rules;
    const scoreSets = rules.scoreSets.map((set) => ({
      ...set,
      signals: set.signals.filter((s) => s.key === 's').map((s) => ({ ...s, points: score })),
    }));
    const edge = { ...charter, rules: { ...charter.rules, lead: { ...rules, scoreSets } } };
    expect(decide(edge, lead(world, { marital: 'S' }), world, 'created', NOW).grade?.name).toBe(`${risk} quiet`);
  }
});
