/** Numbers from a seed, fast and the same everywhere (xorshift32). */
export class Dice {
  private state: number;

  constructor(seed: number) {
    this.state = seed | 1;
  }

  /** From 0 up to but without `below`. */
  whole(below: number): number {
    let x = this.state;
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    this.state = x;
    return (x >>> 0) % below;
  }

  chance(share: number): boolean {
    return this.whole(10_000) < share * 10_000;
  }

  pick<T>(list: readonly T[]): T {
    return list[this.whole(list.length)] as T;
  }
}
