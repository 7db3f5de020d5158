import { type Bits, bitsByKey, noBits, setBit } from '../column/bits';
import type { GatePlan } from './plan';
import type { Population } from './population';

type Pipelines = Pick<GatePlan, 'stages' | 'mergedFrom' | 'entryStages'>;

/** For each stage the records that stand in it, or in one that was merged into it, as they are stored. */
export function standingIn({ standing, size }: Population, { stages, mergedFrom }: Pipelines): Bits[] {
  const keys = stages.flatMap((stage, s) => [stage, ...(mergedFrom[s] ?? [])]);
  const owner = stages.flatMap((_, s) => [s, ...(mergedFrom[s] ?? []).map(() => s)]);
  const starts = stages.map(() => noBits(size));
  bitsByKey(standing.stage, standing.keys, keys).forEach((bits, k) => {
    const start = starts[owner[k] as number] as Bits;
    for (let w = 0; w < bits.length; w += 1) start[w] = (start[w] as number) | (bits[w] as number);
  });
  return starts;
}

/** For each stage the records that enter it when they come in, each into the pipeline that its way in named, or the first. */
export function enteringAt({ standing, size }: Population, everyone: Bits, { stages, entryStages }: Pipelines): Bits[] {
  const [first] = entryStages;
  if (entryStages.length < 2) return stages.map((stage) => (stage === first?.[1] ? everyone : noBits(size)));
  const starts = stages.map(() => noBits(size));
  const byPipeline = new Map(entryStages);
  const startOf = [null, ...standing.keys].map((key) => {
    const stage = (key === null ? undefined : byPipeline.get(key)) ?? first?.[1];
    return starts[stages.findIndex((one) => one === stage)] as Bits;
  });
  for (let i = 0; i < size; i += 1) setBit(startOf[standing.cameInto[i] as number] as Bits, i);
  return starts;
}
