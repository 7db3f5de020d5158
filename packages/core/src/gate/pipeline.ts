import type { StageKey } from '../record/keys';
import type { PipelineKind, RecordKind } from '../record/kind';
import type { Stage } from './stage';

/** Stages of one kind of record, in order. A kind may have several pipelines; a key is that of one stage only. */
export interface Pipeline {
  readonly key: string;
  readonly name: string;
  readonly of: PipelineKind;
  readonly stages: readonly Stage[];
  /** The stage that a new record enters. */
  readonly entry: StageKey;
}

/** Anything with pipelines: a charter. */
interface WithPipelines {
  readonly pipelines: readonly Pipeline[];
}

/** The pipelines of a kind, in order: new records enter the first, unless their way in names another. */
export function pipelinesOf({ pipelines }: WithPipelines, kind: RecordKind): readonly Pipeline[] {
  return pipelines.filter(({ of }) => of === kind);
}

/** The stages of records of a kind, of one pipeline after the other, in order. */
export function stagesOf(charter: WithPipelines, kind: RecordKind): readonly Stage[] {
  return pipelinesOf(charter, kind).flatMap(({ stages }) => stages);
}

/** The stages of records of all kinds. */
export function allStages({ pipelines }: WithPipelines): readonly Stage[] {
  return pipelines.flatMap(({ stages }) => stages);
}

/** The pipeline that holds a stage, or that held it before it was merged into another; null: none. */
export function pipelineOfStage({ pipelines }: WithPipelines, stage: string): Pipeline | null {
  return (
    pipelines.find(({ stages }) =>
      stages.some(({ key, mergedFrom }) => [key, ...mergedFrom].includes(stage as StageKey)),
    ) ?? null
  );
}

/** The kind of the records that a gate out of a stage moves: of those whose pipeline holds it; of leads where none does. */
export function kindOfStage(charter: WithPipelines, stage: string): PipelineKind {
  return pipelineOfStage(charter, stage)?.of ?? 'lead';
}

/**
 * The stage that a new record of a kind enters.
 *
 * @param pipeline the one that its way in names; null, or one that is no more: the first
 * @throws RangeError where the kind has no pipeline
 */
export function entryOf(charter: WithPipelines, kind: RecordKind, pipeline: string | null = null): StageKey {
  const own = pipelinesOf(charter, kind);
  const entered = own.find(({ key }) => key === pipeline) ?? own[0];
  if (entered === undefined) throw new RangeError(`The charter has no pipeline for a ${kind}`);
  return entered.entry;
}

/** The stage in which a record stands whose stage is stored under a key: that one, or the one that it was merged into. */
export function standingStage(stages: readonly Stage[], key: StageKey): StageKey {
  return stages.find(({ mergedFrom }) => mergedFrom.includes(key))?.key ?? key;
}
