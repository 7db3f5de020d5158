import {
  distinctKeys,
  key,
  list,
  object,
  oneOf,
  orElse,
  orNull,
  type Read,
  text,
  yesNo,
} from '../../document/read-json';
import { type Stage, STAGE_KINDS, type StageKind } from '../../gate/stage';
import { allStages, type Pipeline } from '../../gate/pipeline';
import { PIPELINE_KINDS, type PipelineKind } from '../../record/kind';
import type { Named } from '../../wording/names';
import type { StageKey } from '../../record/keys';
import type { CharterPart } from './part';

const name = text({ most: 120 });
const stage: Read<Stage> = object<Stage>(
  {
    ...{ key: key(), name, kind: oneOf(STAGE_KINDS), beside: orElse(yesNo, false) },
    byHand: orNull(list(key<StageKey>(), { most: 50 })),
    mergedFrom: orElse(list(key<StageKey>(), { most: 200 }), []),
  },
  ['beside', 'byHand', 'mergedFrom'],
);
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

/** Most pipelines of a charter. */
const MOST_PIPELINES = 20;

/** Gates and streams find a stage by its key alone, so that each key stands once. */
export const PIPELINES: CharterPart<'pipelines'> = {
  read: list(pipeline, { least: 1, most: MOST_PIPELINES }),
  words: { items: { pipelines: 'pipeline', stages: 'stage' }, members: { entry: 'entry stage' } },
  check(pipelines, _, spot) {
    distinctKeys(pipelines, spot);
    const seen = new Set<string>();
    const kinds = new Set<PipelineKind>();
    pipelines.forEach(({ of, stages, entry }, i) => {
      const at = spot.at(i);
      kinds.add(of);
      const { may, must } = CLOSING_STAGES[of];
      stages.forEach((one, j) => {
        if (seen.has(one.key)) at.at('stages').at(j).at('key').say(`stands twice: ${one.key}`);
        seen.add(one.key);
        one.mergedFrom.forEach((key, n) => {
          if (seen.has(key)) at.at('stages').at(j).at('mergedFrom').at(n).say(`stands twice: ${key}`);
          seen.add(key);
        });
        one.byHand?.forEach((to, n) => {
          const spotOf = at.at('stages').at(j).at('byHand').at(n);
          if (!stages.some((other) => other.key === to)) spotOf.say(`no such stage in this pipeline: ${to}`);
          if (to === one.key) spotOf.say('leads back to the stage it comes from');
        });
        if (one.kind !== 'open' && one.beside)
          at.at('stages').at(j).at('beside').say('is for stages that do not close');
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
  names: (pipelines) => ({ stages: namedStages(pipelines) }),
  changes(notes, before, after, { names }) {
    notes.each('Stage', allStages({ pipelines: before }), allStages({ pipelines: after }), (one) =>
      [
        one.name,
        ...(one.kind === 'open' ? [] : ['closes']),
        ...(one.beside ? ['beside the path'] : []),
        ...(one.byHand === null
          ? []
          : [`by hand to ${one.byHand.map((key) => names.stage(key)).join(', ') || 'none'}`]),
        ...one.mergedFrom.map((key) => `with what was in ${names.stage(key)}`),
      ].join(', '),
    );
    notes.order('Order of stages', allStages({ pipelines: before }), allStages({ pipelines: after }));
    notes.eachInBoth('Pipeline', before, after, (one) => `${one.name}, entered at ${names.stage(one.entry)}`);
  },
};

/** Stages by name; where two pipelines call a stage the same, each with its pipeline. */
function namedStages(pipelines: readonly Pipeline[]): Named[] {
  const all = allStages({ pipelines });
  const times = (name: string): number => all.filter((one) => one.name === name).length;
  return pipelines.flatMap((pipeline) =>
    pipeline.stages.map(({ key, name }) => ({ key, name: times(name) > 1 ? `${name} (${pipeline.name})` : name })),
  );
}
