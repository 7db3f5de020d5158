import { distinctKeys, key, list, object, oneOf, type Read, text } from '../../document/read-json';
import { type Stage, STAGE_KINDS, type StageKind } from '../../gate/stage';
import { allStages, type Pipeline } from '../../gate/pipeline';
import { PIPELINE_KINDS, type PipelineKind } from '../../record/kind';
import type { CharterPart } from './part';

const name = text({ most: 120 });
const stage: Read<Stage> = object<Stage>({ key: key(), name, kind: oneOf(STAGE_KINDS) });
const pipeline: Read<Pipeline> = object<Pipeline>({
  key: key(),
  name,
  of: oneOf(PIPELINE_KINDS),
  stages: list(stage, { least: 1, most: 50 }),
  entry: key(),
});

/** How the stages of a kind close: leads are won and lost by hand, whatever their stage. */
const CLOSING_STAGES: Readonly<
  Record<PipelineKind, { readonly may: readonly StageKind[]; readonly must: readonly StageKind[] }>
> = {
  lead: { may: ['out'], must: [] },
  deal: { may: ['won', 'lost'], must: ['won', 'lost'] },
};

/** One for each kind: gates and streams find a stage by its key alone. */
export const PIPELINES: CharterPart<'pipelines'> = {
  read: list(pipeline, { least: 1, most: PIPELINE_KINDS.length }),
  words: { items: { pipelines: 'pipeline', stages: 'stage' }, members: { entry: 'entry stage' } },
  check(pipelines, _, spot) {
    distinctKeys(pipelines, spot);
    const seen = new Set<string>();
    const kinds = new Set<PipelineKind>();
    pipelines.forEach(({ of, stages, entry }, i) => {
      const at = spot.at(i);
      if (kinds.has(of)) at.at('of').say(`has a pipeline already: ${of}`);
      kinds.add(of);
      const { may, must } = CLOSING_STAGES[of];
      stages.forEach((one, j) => {
        if (seen.has(one.key)) at.at('stages').at(j).at('key').say(`stands twice: ${one.key}`);
        seen.add(one.key);
        if (one.kind !== 'open' && !may.includes(one.kind))
          at.at('stages')
            .at(j)
            .at('kind')
            .say(`must be ${['open', ...may].join(' or ')}, in a pipeline of ${of}s`);
      });
      for (const kind of must)
        if (!stages.some((one) => one.kind === kind)) at.at('stages').say(`needs a stage that is ${kind}`);
      const first = stages.find((one) => one.key === entry);
      if (first === undefined) at.at('entry').say(`no such stage: ${entry}`);
      else if (first.kind !== 'open') at.at('entry').say(`is a stage that closes: ${entry}`);
    });
    for (const kind of PIPELINE_KINDS) if (!kinds.has(kind)) spot.say(`needs a pipeline for ${kind}s`);
  },
  names: (pipelines) => ({ stages: allStages({ pipelines }) }),
  changes(notes, before, after, { names }) {
    notes.each('Stage', allStages({ pipelines: before }), allStages({ pipelines: after }), (one) =>
      one.kind === 'open' ? one.name : `${one.name}, closes`,
    );
    notes.order('Order of stages', allStages({ pipelines: before }), allStages({ pipelines: after }));
    notes.eachInBoth('Pipeline', before, after, (one) => `${one.name}, entered at ${names.stage(one.entry)}`);
  },
};
