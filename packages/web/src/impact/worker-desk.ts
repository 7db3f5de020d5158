import type { PopulationState } from '@relvik/contracts';
import {
  askDesk,
  type Asks,
  type Charter,
  ImpactDesk,
  type ImpactQuestionName,
  missingFor,
  readWorld,
} from '@relvik/core';
import { populationFromArrow } from '@relvik/formats';
import { applyDelta, type Delta } from './charter-delta';
import type { FromWorker, ToWorker } from './worker-messages';

/** What stands in the worker: a desk, once a population was loaded, and an answer to every message. */
export class WorkerDesk {
  private desk: ImpactDesk | null = null;
  /** The charters of the last question, by number. */
  private charters = new Map<number, Charter>();

  answer(message: ToWorker): FromWorker {
    const { id } = message;
    try {
      switch (message.kind) {
        case 'load':
          return { id, said: 'answer', answer: this.load(message.bytes, message.world) };
        case 'give':
          for (const found of message.found) this.loaded().give(found);
          return { id, said: 'answer', answer: null };
        case 'ask': {
          const asks = this.asksOf(message);
          const lookups = missingFor(this.loaded(), asks);
          if (lookups.length > 0) return { id, said: 'missing', lookups };
          return { id, said: 'answer', answer: askDesk(this.loaded(), message.question, asks) };
        }
      }
    } catch (error) {
      return { id, said: 'failed', why: error instanceof Error ? error.message : String(error) };
    }
  }

  private asksOf({ asks, pair, charters }: ToWorker & { kind: 'ask' }): Asks<ImpactQuestionName> {
    if (pair === null) return asks as Asks<ImpactQuestionName>;
    const known = new Map(this.charters);
    for (const { number, from, delta } of charters) {
      const before = from === null ? undefined : this.charters.get(from);
      known.set(number, applyDelta(before, JSON.parse(delta) as Delta) as Charter);
    }
    const [inForce, draft] = [known.get(pair.inForce), known.get(pair.draft)];
    if (inForce === undefined || draft === undefined) throw new Error('A charter of the question was not sent');
    this.charters = new Map([
      [pair.inForce, inForce],
      [pair.draft, draft],
    ]);
    return { ...asks, pair: { inForce, draft } };
  }

  private loaded(): ImpactDesk {
    if (this.desk === null) throw new Error('No population is loaded yet');
    return this.desk;
  }

  private load(bytes: ArrayBuffer, document: unknown): PopulationState {
    const world = readWorld(document);
    if (!world.ok) throw new Error(world.problems.map(({ path, message: why }) => `${path} ${why}`).join('; '));
    const { population, meta } = populationFromArrow(new Uint8Array(bytes));
    this.desk = new ImpactDesk(population, world.world, meta.asOf, meta.past);
    return { asOf: meta.asOf, version: meta.version, size: population.size };
  }
}
