import { type Condition, mapTests } from '../condition/condition';
import { endsOf, type Gate } from '../gate/gate';
import { type Pipeline, pipelineOfStage, pipelinesOf } from '../gate/pipeline';
import type { Stage, StageKind } from '../gate/stage';
import type { StageKey } from '../record/keys';
import type { PipelineKind } from '../record/kind';
import type { Charter } from './charter';
import { type RuleMention, rulesNaming, withConditions } from './rule-conditions';

/** Adds an open stage behind the open ones of a pipeline, before those that close. */
export function addStage(charter: Charter, pipeline: string, key: string, name: string): Charter {
  const stage: Stage = { key: key as StageKey, name, kind: 'open', beside: false, byHand: null, mergedFrom: [] };
  return withPipeline(charter, pipeline, (one) => {
    const open = one.stages.filter(({ kind }) => kind === 'open');
    return { ...one, stages: [...open, stage, ...one.stages.filter(({ kind }) => kind !== 'open')] };
  });
}

/** Changes what a stage is called, whether it lies beside the path, or where a hand may move from it. Its key stays, so that no record changes. */
export function changeStage(
  charter: Charter,
  key: string,
  change: Partial<Pick<Stage, 'name' | 'beside' | 'byHand'>>,
): Charter {
  return withStages(charter, key, (stages) => stages.map((one) => (one.key === key ? { ...one, ...change } : one)));
}

/**
 * Moves a stage within its pipeline, so that it stands at a place among the open stages, or among the closing ones.
 *
 * @param place from 0; one outside stands for the nearest inside
 */
export function moveStage(charter: Charter, key: string, place: number): Charter {
  return withStages(charter, key, (stages) => {
    const moved = stages.find((one) => one.key === key);
    if (moved === undefined) return stages;
    const [open, closing] = [true, false].map((are) =>
      stages.filter((one) => (one.kind === 'open') === are && one !== moved),
    ) as [Stage[], Stage[]];
    (moved.kind === 'open' ? open : closing).splice(Math.max(0, place), 0, moved);
    return [...open, ...closing];
  });
}

/** Lets new records enter a pipeline at another of its open stages. */
export function enterAt(charter: Charter, key: string): Charter {
  const pipeline = pipelineOfStage(charter, key);
  const stage = pipeline?.stages.find((one) => one.key === key && one.kind === 'open');
  if (pipeline === null || stage === undefined) return charter;
  return withPipeline(charter, pipeline.key, (one) => ({ ...one, entry: stage.key }));
}

/** The stages into which one may be merged: of its kind, in any pipeline for the same records; its own pipeline's first. */
export function stagesToMergeInto(charter: Charter, key: string): readonly Stage[] {
  const own = pipelineOfStage(charter, key);
  const stage = own?.stages.find((one) => one.key === key);
  if (own === null || stage === undefined) return [];
  const others = pipelinesOf(charter, own.of).filter((one) => one !== own);
  // A pipeline keeps an open stage; without one it is taken out, which is another step.
  if (stage.kind === 'open' && own.stages.filter(({ kind }) => kind === 'open').length < 2) return [];
  return [own, ...others].flatMap(({ stages }) => stages.filter((one) => one.kind === stage.kind && one.key !== key));
}

/** The gates that begin or end in a stage, and the gates, streams and routes that ask for it. */
export function mentionsOfStage(charter: Charter, key: string): readonly RuleMention[] {
  const isIt = (stage: StageKey): boolean => stage === key;
  return rulesNaming(charter, (when) => withStage(when, key, []) !== when, {
    gate: (gate) => isIt(gate.from) || endsOf(gate).some(isIt),
    stream: ({ entering }) => entering.some(isIt),
  });
}

/**
 * Merges a stage into another: on enact all that stands in it stands there. Gates, streams and conditions name the other in its place; a gate between
 * the two goes, since it would lead nowhere.
 */
export function mergeStage(charter: Charter, key: string, into: string): Charter {
  return merged(charter, new Map([[key as StageKey, into as StageKey]]));
}

/**
 * Adds a pipeline with an open stage, and one of each kind that closes records of its kind.
 *
 * @param key one that nothing has or had: the keys of its stages begin with it
 */
export function addPipeline(charter: Charter, of: PipelineKind, key: string, name: string): Charter {
  const closing: Readonly<Record<PipelineKind, readonly (readonly [StageKind, string])[]>> = {
    lead: [['out', 'Disqualified']],
    deal: [
      ['won', 'Won'],
      ['lost', 'Lost'],
    ],
  };
  const stages = ([['open', 'New'], ...closing[of]] as const).map(([kind, called], i): Stage => ({
    ...{ key: `${key}-stage-${i}` as StageKey, name: called, kind },
    ...{ beside: false, byHand: null, mergedFrom: [] },
  }));
  const [first] = stages;
  if (first === undefined) return charter;
  return {
    ...charter,
    pipelines: [...charter.pipelines, { key, name, of, stages, entry: first.key }],
  };
}

export function renamePipeline(charter: Charter, key: string, name: string): Charter {
  return withPipeline(charter, key, (one) => ({ ...one, name }));
}

/** The pipelines into which one may be taken out. */
export function pipelinesToTakeOver(charter: Charter, key: string): readonly Pipeline[] {
  return charter.pipelines.filter((into) => takeOutPipeline(charter, key, into.key) !== null);
}

/**
 * Takes a pipeline out: on enact what stands in an open stage of it stands in the entry stage of another for the same records, and what it closed in
 * the first stage there that closes alike.
 *
 * @returns null: there is no such other pipeline, or one of its closing stages has no like there
 */
export function takeOutPipeline(charter: Charter, key: string, into: string): Charter | null {
  const [gone, other] = [key, into].map((one) => charter.pipelines.find((pipeline) => pipeline.key === one));
  if (gone === undefined || other === undefined || gone === other || gone.of !== other.of) return null;
  const to = new Map<StageKey, StageKey>();
  for (const stage of gone.stages) {
    const like = stage.kind === 'open' ? other.entry : other.stages.find(({ kind }) => kind === stage.kind)?.key;
    if (like === undefined) return null;
    to.set(stage.key, like);
  }
  const changed = merged(charter, to);
  return { ...changed, pipelines: changed.pipelines.filter((one) => one.key !== key) };
}

function withPipeline(charter: Charter, key: string, change: (pipeline: Pipeline) => Pipeline): Charter {
  return { ...charter, pipelines: charter.pipelines.map((one) => (one.key === key ? change(one) : one)) };
}

function withStages(charter: Charter, stage: string, change: (stages: readonly Stage[]) => readonly Stage[]): Charter {
  const pipeline = pipelineOfStage(charter, stage);
  if (pipeline === null) return charter;
  return withPipeline(charter, pipeline.key, (one) => ({ ...one, stages: change(one.stages) }));
}

/** The charter without some stages, each of which another takes over. */
function merged(charter: Charter, to: ReadonlyMap<StageKey, StageKey>): Charter {
  const now = (key: StageKey): StageKey => to.get(key) ?? key;
  const { gates, streams } = withConditions(charter, (when) =>
    [...to].reduce((condition, [key, into]) => withStage(condition, key, [into]), when),
  );
  const taken = charter.pipelines.flatMap(({ stages }) => stages.filter(({ key }) => to.has(key)));
  return {
    ...charter,
    pipelines: charter.pipelines.map((pipeline) => ({
      ...pipeline,
      entry: now(pipeline.entry),
      stages: pipeline.stages
        .filter(({ key }) => !to.has(key))
        .map((stage) => ({
          ...stage,
          byHand: stage.byHand && [...new Set(stage.byHand.map(now))].filter((one) => one !== stage.key),
          mergedFrom: [
            ...stage.mergedFrom,
            ...taken.flatMap(({ key, mergedFrom }) => (now(key) === stage.key ? [key, ...mergedFrom] : [])),
          ],
        })),
    })),
    gates: gates.map((gate) => movedEnds(gate, now)).filter(({ from, to: end }) => from !== end),
    streams: streams.map((stream) => ({ ...stream, entering: [...new Set(stream.entering.map(now))] })),
  };
}

/** A gate between other stages; of its alternatives those that still lead elsewhere. */
function movedEnds(gate: Gate, now: (key: StageKey) => StageKey): Gate {
  const { decider } = gate;
  const [from, to] = [now(gate.from), now(gate.to)];
  if (decider.kind !== 'asks') return { ...gate, from, to };
  const seen = new Set([from, to]);
  const alternatives = decider.alternatives.flatMap(({ to: end, when }) => {
    if (seen.has(now(end))) return [];
    seen.add(now(end));
    return [{ to: now(end), when }];
  });
  return { ...gate, from, to, decider: { ...decider, alternatives } };
}

/** A condition that asks for other stages in place of one; the same object where it does not name it. */
function withStage(condition: Condition, key: string, by: readonly string[]): Condition {
  return mapTests(condition, (test) => {
    if (test.subject.kind !== 'stage' || test.test !== 'one-of' || !test.values.includes(key)) return test;
    return { ...test, values: [...new Set(test.values.flatMap((value) => (value === key ? by : [value])))] };
  });
}
