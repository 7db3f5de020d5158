import type { StageKey } from '../record/keys';
import type { PipelineKind, RecordKind } from '../record/kind';
import type { Stage } from './stage';

/** The stages of one kind of record, in order. */
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

/** The stages of records of a kind, in order. */
export function stagesOf({ pipelines }: WithPipelines, kind: RecordKind): readonly Stage[] {
  return pipelines.flatMap(({ of, stages }) => (of === kind ? stages : []));
}

/** The stages of records of all kinds. */
export function allStages({ pipelines }: WithPipelines): readonly Stage[] {
  return pipelines.flatMap(({ stages }) => stages);
}

/**
 * The stage that a new record of a kind enters.
 *
 * @throws RangeError where the kind has no pipeline
 */
export function entryOf({ pipelines }: WithPipelines, kind: RecordKind): StageKey {
  const first = pipelines.find(({ of }) => of === kind);
  if (first === undefined) throw new RangeError(`The charter has no pipeline for a ${kind}`);
  return first.entry;
}
