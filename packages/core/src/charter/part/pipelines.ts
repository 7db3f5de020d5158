import { distinctKeys, key, list, object, oneOf, type Read, text } from '../../document/read-json';
import type { Stage } from '../../gate/stage';
import { type Pipeline, stagesOf } from '../../gate/pipeline';
import { PIPELINE_KINDS } from '../../record/kind';
import type { CharterPart } from './part';

const name = text({ most: 120 });
const stage: Read<Stage> = object<Stage>({ key: key(), name, kind: oneOf(['open', 'out']) });
const pipeline: Read<Pipeline> = object<Pipeline>({
  key: key(),
  name,
  of: oneOf(PIPELINE_KINDS),
  stages: list(stage, { least: 1, most: 50 }),
  entry: key(),
});

/** One for leads: gates and streams find a stage by its key alone. */
export const PIPELINES: CharterPart<'pipelines'> = {
  read: list(pipeline, { least: 1, most: PIPELINE_KINDS.length }),
  words: { items: { pipelines: 'pipeline', stages: 'stage' }, members: { entry: 'entry stage' } },
  check(pipelines, _, spot) {
    distinctKeys(pipelines, spot);
    const seen = new Set<string>();
    pipelines.forEach(({ stages, entry }, i) => {
      const at = spot.at(i);
      stages.forEach((one, j) => {
        if (seen.has(one.key)) at.at('stages').at(j).at('key').say(`stands twice: ${one.key}`);
        seen.add(one.key);
      });
      if (!stages.some((one) => one.key === entry)) at.at('entry').say(`no such stage: ${entry}`);
    });
  },
  names: (pipelines) => ({ stages: stagesOf({ pipelines }) }),
  changes(notes, before, after, { names }) {
    notes.each('Stage', stagesOf({ pipelines: before }), stagesOf({ pipelines: after }), (one) =>
      one.kind === 'out' ? `${one.name}, closes` : one.name,
    );
    notes.order('Order of stages', stagesOf({ pipelines: before }), stagesOf({ pipelines: after }));
    notes.eachInBoth('Pipeline', before, after, (one) => `${one.name}, entered at ${names.stage(one.entry)}`);
  },
};
