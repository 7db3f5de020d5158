import type { DataSource } from 'typeorm';
import { clearFailures, noteFailure, WHOLE } from '../store/failures';
import { errorText } from '../store/retry';

const LANES = ['quick', 'long', 'files'] as const;

/** Something that is done in the background, over and over. */
export interface Work {
  readonly name: string;
  /** Quick work does not wait for long work: each lane does one thing after the other. */
  readonly lane: (typeof LANES)[number];
  /** How often it is looked at without being woken, ms. */
  readonly every: number;
  /** Whether it is done at once when something was written that may concern it. */
  readonly woken: boolean;
  run(source: DataSource, now: () => Date): Promise<unknown>;
}

/** Pauses after work as a whole failed, ms: the database may be away, and comes back. */
const PAUSES = [1000, 2000, 5000, 15_000, 60_000];

/** Carries on works, each apart from the others: one that fails holds up none, and is tried again with growing pauses. */
export class Runner {
  private readonly next = new Map<string, number>();
  private readonly failed = new Map<string, number>();
  private readonly running = new Map<Work['lane'], Promise<void>>();

  /** @param report hears what failed */
  constructor(
    private readonly source: DataSource,
    private readonly works: readonly Work[],
    private readonly now: () => Date,
    private readonly report: (why: string) => void,
  ) {}

  /** Makes every work that can be woken due at once. */
  wake(): void {
    for (const { name, woken } of this.works) if (woken && (this.failed.get(name) ?? 0) === 0) this.next.set(name, 0);
  }

  /** Does what is due, unless its lane is at work already. Resolves when all lanes are idle. */
  async tick(): Promise<void> {
    for (const lane of LANES)
      if (!this.running.has(lane))
        this.running.set(
          lane,
          this.runLane(lane).finally(() => this.running.delete(lane)),
        );
    await Promise.all(this.running.values());
  }

  private async runLane(lane: Work['lane']): Promise<void> {
    for (const work of this.works) {
      if (work.lane !== lane) continue;
      if (this.now().getTime() < (this.next.get(work.name) ?? 0)) continue;
      this.next.set(work.name, this.now().getTime() + work.every);
      await this.runOne(work);
    }
  }

  private async runOne({ name, run }: Work): Promise<void> {
    try {
      await run(this.source, this.now);
      if (this.failed.delete(name)) await clearFailures(this.source, name, [WHOLE]);
    } catch (error) {
      const times = (this.failed.get(name) ?? 0) + 1;
      this.failed.set(name, times);
      this.next.set(name, this.now().getTime() + (PAUSES[Math.min(times, PAUSES.length) - 1] ?? 0));
      this.report(`${name}: ${errorText(error)}`);
      await noteFailure(this.source, name, WHOLE, error, this.now()).catch(() => undefined);
    }
  }
}
