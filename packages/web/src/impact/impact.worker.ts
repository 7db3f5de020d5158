/// <reference lib="webworker" />
import { askDesk, ImpactDesk, readWorld } from '@relvik/core';
import { populationFromArrow } from '@relvik/formats';
import type { FromWorker, ToWorker } from './worker-messages';

let desk: ImpactDesk | null = null;

function answer(message: ToWorker): unknown {
  if (message.kind === 'load') {
    const world = readWorld(message.world);
    if (!world.ok) throw new Error(world.problems.map(({ path, message: why }) => `${path} ${why}`).join('; '));
    const { population, meta } = populationFromArrow(new Uint8Array(message.bytes));
    desk = new ImpactDesk(population, world.world, meta.asOf);
    return { ...meta, size: population.size };
  }
  if (desk === null) throw new Error('No population is loaded yet');
  return askDesk(desk, message.question, message.asks);
}

addEventListener('message', ({ data }: MessageEvent<ToWorker>) => {
  let back: FromWorker;
  try {
    back = { id: data.id, ok: true, answer: answer(data) };
  } catch (error) {
    back = { id: data.id, ok: false, why: error instanceof Error ? error.message : String(error) };
  }
  postMessage(back);
});
