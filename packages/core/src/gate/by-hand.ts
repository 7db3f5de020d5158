import type { StageKey } from '../record/keys';
import { type Pipeline, pipelineOfStage, standingStage } from './pipeline';
import type { Stage } from './stage';

/** Anything with pipelines: a charter. */
interface WithPipelines {
  readonly pipelines: readonly Pipeline[];
}

/** Whether a hand may move records of a pipeline to a stage of it where nothing else is said: leads to open ones, deals to all. */
export function isOpenToHandsByDefault({ of }: Pick<Pipeline, 'of'>, { kind }: Pick<Stage, 'kind'>): boolean {
  return of === 'deal' || kind === 'open';
}

/**
 * The stages of its pipeline to which a hand may move a record of a stage: those that the stage names, else those of {@link isOpenToHandsByDefault}.
 *
 * @param from as it is stored: one that was merged into another stands for that
 */
export function stagesByHand(charter: WithPipelines, from: string): readonly Stage[] {
  const pipeline = pipelineOfStage(charter, from);
  if (pipeline === null) return [];
  const here = standingStage(pipeline.stages, from as StageKey);
  const allowed = pipeline.stages.find(({ key }) => key === here)?.byHand ?? null;
  return pipeline.stages.filter(
    (stage) =>
      stage.key !== here && (allowed === null ? isOpenToHandsByDefault(pipeline, stage) : allowed.includes(stage.key)),
  );
}
