/** Kept counts are made again when their age is this many times their duration, so they take at most a twentieth of the time. */
const REST = 20;

/** A count, and the instant as of which it is right. */
export interface Counted<T> {
  readonly value: T;
  readonly asOf: number;
}

interface Kept<T> extends Counted<T> {
  /** Duration of the count, ms. */
  readonly took: number;
}

/**
 * A count over all records. While they are few it is made for each request. Of many, requests get the last result at once, and
 * an old one is made again in the background; only the first request waits.
 */
export class KeptCount<T> {
  private kept: Kept<T> | null = null;
  private counting: Promise<Kept<T>> | null = null;

  /**
   * @param areMany whether there are so many records that a request should not wait
   * @param clock the instant, ms
   */
  constructor(
    private readonly count: () => Promise<T>,
    private readonly areMany: () => Promise<boolean>,
    private readonly clock: () => number,
  ) {}

  async get(): Promise<Counted<T>> {
    const { kept } = this;
    if (kept === null) return this.again();
    if (!(await this.areMany())) return this.anew();
    this.renew(kept).catch(() => undefined);
    return kept;
  }

  /** Makes a kept count again if it is old; one that nobody asked for yet is not made. */
  async refresh(): Promise<void> {
    const { kept } = this;
    if (kept !== null && (await this.areMany())) await this.renew(kept);
  }

  /** Counts now, and keeps the result: what was counted before is known to be wrong. */
  async now(): Promise<T> {
    return (await this.anew()).value;
  }

  private async renew({ asOf, took }: Kept<T>): Promise<void> {
    if (this.clock() - asOf > took * REST) await this.again();
  }

  /** One count at a time, shared by all requests that wait for it. */
  private again(): Promise<Kept<T>> {
    this.counting ??= this.anew().finally(() => {
      this.counting = null;
    });
    return this.counting;
  }

  private async anew(): Promise<Kept<T>> {
    const asOf = this.clock();
    const began = performance.now();
    const value = await this.count();
    const fresh = { value, asOf, took: performance.now() - began };
    // A slow count that began earlier does not replace a later one.
    if (this.kept === null || this.kept.asOf <= asOf) this.kept = fresh;
    return fresh;
  }
}
