import { appraise, hasBit, JUST_IN, type ReadyCharter } from '@relvik/core';
import { atMost, type Figure, letGo, ROUNDS, timeOf } from './measure';
import { AS_OF, ATTRIBUTES, type CHARTER_JSON, ready, recordsOf, world } from './setting';
import { fullSweep, residentOf } from './sweep.bench';

type Json = typeof CHARTER_JSON;

const STAGES = Array.from({ length: 9 }, (_, i) => `care-${i}`);

/** The charter of the bench with a second pipeline and 40 gates, some of which ask, wait for a field or time, and tag. */
function withFortyGates(json: Json): void {
  const gate = (i: number, from: string, to: string, more: object = {}) => ({
    ...{ key: `g${i}`, name: `g${i}`, from, to, when: (ATTRIBUTES[i % ATTRIBUTES.length] as { when: object }).when },
    ...more,
  });
  const care = STAGES.flatMap((stage, s) =>
    [0, 1, 2, 3].map((n) => {
      const to = STAGES[s + 1] ?? 'care-out';
      const i = s * 4 + n;
      switch (n) {
        case 0:
          return gate(i, stage, to, { effects: [{ kind: 'tag', tag: `tag ${s}` }] });
        case 1:
          return gate(i, stage, to, { minDays: s });
        case 2:
          return gate(i, stage, to, { requiredFields: ['employees'] });
        default:
          return gate(i, stage, to, { decider: { kind: 'asks', withoutOwner: null, alternatives: [] } });
      }
    }),
  );
  const pipeline = {
    ...{ key: 'care', name: 'Care', of: 'lead', entry: 'care-0' },
    stages: [
      ...STAGES.map((key) => ({ key, name: key, kind: 'open' })),
      { key: 'care-out', name: 'care-out', kind: 'out' },
    ],
  };
  const into = gate(35, 'nurture', 'care-0');
  Object.assign(json, {
    pipelines: [...json.pipelines, pipeline],
    gates: [...json.gates, into, ...care.slice(0, 35)],
  });
}

function check(resident: ReturnType<typeof residentOf>, charter: ReadyCharter, records: ReturnType<typeof recordsOf>) {
  const { stages, rules } = fullSweep(resident, charter);
  const around = world();
  records.slice(0, 2000).forEach(({ record }, i) => {
    const decided = appraise(charter, { ...record, standing: JUST_IN }, around, 'created', AS_OF).stage;
    const swept = rules.stages[stages.findIndex((bits) => hasBit(bits, i))]?.key;
    if (swept !== decided) throw new Error(`Record ${i}: ${swept} over columns, ${decided} by itself`);
  });
}

/** How much two pipelines and 40 gates cost a full sweep that has one and four. */
export function gateFigures(count: number): Figure[] {
  const records = recordsOf(count);
  const resident = residentOf(records);
  const [plain, many] = [ready(), ready(withFortyGates)];
  check(resident, many, records);
  fullSweep(resident, plain);
  const seen = Array.from({ length: ROUNDS }, () => {
    letGo();
    const four = timeOf(() => fullSweep(resident, plain));
    letGo();
    return timeOf(() => fullSweep(resident, many)) / four;
  });
  const whole = count.toLocaleString('en');
  return [
    atMost('S2', `full sweep of ${whole} with two pipelines and 40 gates, against one and four`, 2, 'sweeps', seen),
  ];
}
