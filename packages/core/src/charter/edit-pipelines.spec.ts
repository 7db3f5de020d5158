import type { Charter } from './charter';
import { SMALL_CHARTER } from './charter.fixture';
import { readBack } from './read-back.fixture';
import { readCharter } from './read-charter';
import {
  addPipeline,
  addStage,
  changeStage,
  enterAt,
  mentionsOfStage,
  mergeStage,
  moveStage,
  pipelinesToTakeOver,
  renamePipeline,
  stagesToMergeInto,
  takeOutPipeline,
} from './edit-pipelines';

const reading = readCharter(SMALL_CHARTER);
const SMALL = (reading.ok ? reading.charter : null) as Charter;
const stages = (charter: Charter, pipeline = 'leads') =>
  charter.pipelines.find(({ key, name }) => [key, name].includes(pipeline))!.stages;
const names = (charter: Charter, pipeline?: string) => stages(charter, pipeline).map(({ name }) => name);

test('a stage is added behind the open ones, renamed under its key, and moved among its sort', () => {
  const added = readBack(addStage(addStage(SMALL, 'leads', 'a', 'Accepted'), 'leads', 'o', 'Offered'));
  expect(names(added)).toEqual(['New', 'Qualified', 'Accepted', 'Offered', 'Disqualified']);
  expect(stages(readBack(changeStage(added, 'a', { name: 'Taken on', beside: true })))[2]).toMatchObject({
    ...{ key: 'a', name: 'Taken on', beside: true },
  });
  const places = [-5, 0, 1, 9].map((place) => names(readBack(moveStage(added, 'o', place))).indexOf('Offered'));
  expect(places).toEqual([0, 0, 1, 3]);
  expect(names(moveStage(added, 'out', 0)).at(-1)).toBe('Disqualified');
  expect(moveStage(added, 'unknown', 0)).toBe(added);
  expect(readBack(enterAt(added, 'a')).pipelines[0]!.entry).toBe('a');
  expect(enterAt(added, 'out')).toBe(added);
});

test('a stage is merged into one of its kind: gates, streams, conditions and the entry name that one, and a gate between the two goes', () => {
  const more = addStage(SMALL, 'leads', 'a', 'Accepted');
  const stageIs = (key: string) => ({ test: 'one-of', subject: { kind: 'stage' }, values: [key, 'new'] }) as const;
  const gate = { ...more.gates[0]!, key: 'accept', name: 'Accept', from: 'qualified', to: 'a', when: stageIs('a') };
  const [stream] = more.streams;
  const asking = {
    ...more,
    gates: [...more.gates, gate],
    streams: [
      { ...stream!, entering: ['qualified', 'a'], routes: [{ ...stream!.routes[0]!, when: stageIs('qualified') }] },
    ],
  } as unknown as Charter;
  expect(mentionsOfStage(asking, 'qualified').map(({ kind, key }) => `${kind} ${key}`)).toEqual([
    'gate qualify',
    'gate accept',
    `stream ${stream!.key}`,
    `route ${stream!.routes[0]!.key}`,
  ]);
  expect(stagesToMergeInto(asking, 'qualified').map(({ key }) => key)).toEqual(['new', 'a']);
  expect(stagesToMergeInto(asking, 'out')).toEqual([]);

  const after = readBack(mergeStage(asking, 'qualified', 'a'));
  expect(stages(after).find(({ key }) => key === 'a')?.mergedFrom).toEqual(['qualified']);
  expect(after.gates.map(({ key, from, to }) => `${key} ${from} ${to}`)).toEqual(['qualify new a', 'decline new out']);
  expect(after.streams[0]).toMatchObject({ entering: ['a'], routes: [{ when: { values: ['a', 'new'] } }] });
  expect(mentionsOfStage(after, 'qualified')).toEqual([]);

  // Merged on, both stand in the last; the entry stage goes with it.
  const again = readBack(mergeStage(after, 'new', 'a'));
  expect(again.pipelines[0]!.entry).toBe('a');
  expect(stages(again)[0]?.mergedFrom).toEqual(['qualified', 'new']);
  expect(stagesToMergeInto(again, 'a')).toEqual([]);
});

test('a pipeline is added with all that it needs, and taken out into another for the same records', () => {
  const two = readBack(renamePipeline(addPipeline(SMALL, 'lead', 'fresh', 'New pipeline'), 'leads', 'Sensing'));
  expect(two.pipelines.map(({ name, of }) => `${name} ${of}`)).toEqual([
    'Sensing lead',
    'Deals deal',
    'New pipeline lead',
  ]);
  expect(names(two, 'New pipeline')).toEqual(['New', 'Disqualified']);
  expect(names(readBack(addPipeline(SMALL, 'deal', 'care', 'Care')), 'Care')).toEqual(['New', 'Won', 'Lost']);

  const fresh = two.pipelines[2]!;
  expect(pipelinesToTakeOver(two, fresh.key).map(({ key }) => key)).toEqual(['leads']);
  expect(takeOutPipeline(two, fresh.key, 'deals')).toBeNull();
  expect(takeOutPipeline(two, fresh.key, fresh.key)).toBeNull();
  const after = readBack(takeOutPipeline(two, fresh.key, 'leads')!);
  expect(stages(after).map(({ mergedFrom }) => mergedFrom)).toEqual([[fresh.entry], [], [fresh.stages[1]!.key]]);
  expect(readBack(takeOutPipeline(two, 'leads', fresh.key)!).gates.map(({ key, from, to }) => [key, from, to])).toEqual(
    [['decline', fresh.entry, fresh.stages[1]!.key]],
  );
});
