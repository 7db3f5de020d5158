import type { StageKey } from '../record/keys';
import type { PipelineKind } from '../record/kind';
import { enteredInto, passedThrough, skipShare } from './stage-flow';
import { entryOf, type Pipeline, pipelineOfStage, stagesOf, standingStage } from './pipeline';

function pipeline(
  key: string,
  of: PipelineKind,
  stages: readonly string[],
  mergedFrom: readonly string[] = [],
): Pipeline {
  return {
    ...{ key, name: key, of, entry: stages[0] as StageKey },
    stages: stages.map((stage, i) => ({
      ...{ key: stage as StageKey, name: stage, kind: 'open', beside: false, byHand: null },
      mergedFrom: (i === 0 ? mergedFrom : []) as StageKey[],
    })),
  };
}

const pipelines = [
  pipeline('sensing', 'lead', ['new', 'qualified']),
  pipeline('deals', 'deal', ['talks']),
  pipeline('care', 'lead', ['asked', 'offered'], ['heard', 'called']),
];

test('a new record enters the pipeline that its way in names, else the first of its kind; nothing enters where a kind has none', () => {
  expect(entryOf({ pipelines }, 'lead')).toBe('new');
  expect(entryOf({ pipelines }, 'lead', 'care')).toBe('asked');
  expect(['gone', 'deals'].map((key) => entryOf({ pipelines }, 'lead', key))).toEqual(['new', 'new']);
  expect(() => entryOf({ pipelines }, 'company')).toThrow(RangeError);
});

test('a stage that was merged into another stands for that one', () => {
  const stages = stagesOf({ pipelines }, 'lead');
  expect(stages.map(({ key }) => key)).toEqual(['new', 'qualified', 'asked', 'offered']);
  expect(['called', 'new', 'unknown'].map((key) => standingStage(stages, key as StageKey))).toEqual([
    'asked',
    'new',
    'unknown',
  ]);
  expect(['called', 'offered', 'talks', 'unknown'].map((key) => pipelineOfStage({ pipelines }, key)?.key)).toEqual([
    'care',
    'care',
    'deals',
    undefined,
  ]);
});

test('a stage is skipped by moves from before it to behind it on the path; what rests beside the path skips nothing', () => {
  const path = pipeline('sensing', 'lead', ['new', 'nurture', 'qualified', 'offer']);
  const stages = path.stages.map((one) => ({ ...one, beside: one.key === 'nurture' }));
  const moves = [
    { gate: 'at-once', from: 'new', to: 'qualified', count: 6 },
    { gate: null, from: 'nurture', to: 'qualified', count: 2 },
    { gate: null, from: 'new', to: 'nurture', count: 90 },
    { gate: null, from: 'nurture', to: 'offer', count: 50 },
    { gate: null, from: 'new', to: 'offer', count: 2 },
    { gate: null, from: 'offer', to: 'new', count: 1 },
  ];
  const shares = ['new', 'nurture', 'qualified', 'offer'].map((stage) => skipShare({ stages }, moves, stage));
  expect(shares).toEqual([0, null, 0.2, 0]);
  expect([passedThrough(moves, 'at-once'), enteredInto(moves, 'qualified')]).toEqual([6, 8]);
  expect(skipShare({ stages }, [], 'qualified')).toBeNull();
});
