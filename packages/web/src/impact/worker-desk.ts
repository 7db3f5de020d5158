import { askDesk, ImpactDesk, readWorld } from '@relvik/core';
import { populationFromArrow } from '@relvik/formats';
import type { FromWorker, ToWorker } from './worker-messages';

/** What stands in the worker: a desk, once a population was loaded, and an answer to every message. */
export class WorkerDesk {
  private desk: ImpactDesk | null = null;

  answer(message: ToWorker): FromWorker {
    try {
      return { id: message.id, ok: true, answer: this.do(message) };
    } catch (error) {
      return { id: message.id, ok: false, why: error instanceof Error ? error.message : String(error) };
    }
  }

  private do(message: ToWorker): unknown {
    if (message.kind === 'load') {
      const world = readWorld(message.world);
      if (!world.ok) throw new Error(world.problems.map(({ path, message: why }) => `${path} ${why}`).join('; '));
      const { population, meta } = populationFromArrow(new Uint8Array(message.bytes));
      this.desk = new ImpactDesk(population, world.world, meta.asOf);
      return { ...meta, size: population.size };
    }
    if (this.desk === null) throw new Error('No population is loaded yet');
    return askDesk(this.desk, message.question, message.asks);
  }
}
