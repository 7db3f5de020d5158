import seedrandom from 'seedrandom';

/** Chance from a seed: the same seed gives the same world. */
export class Dice {
  private readonly next: () => number;

  constructor(seed: string) {
    this.next = seedrandom(seed);
  }

  /** From 0 up to, not including, 1. */
  share(): number {
    return this.next();
  }

  chance(of: number): boolean {
    return this.next() < of;
  }

  /** A whole number from `least` to `most`, both included. */
  whole(least: number, most: number): number {
    return least + Math.floor(this.next() * (most - least + 1));
  }

  pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.next() * from.length)] as T;
  }

  /** One of them, each as likely as its weight. */
  weighted<T>(from: readonly (readonly [T, number])[]): T {
    let left = this.next() * from.reduce((sum, [, weight]) => sum + weight, 0);
    for (const [item, weight] of from) {
      left -= weight;
      if (left < 0) return item;
    }
    return (from.at(-1) as readonly [T, number])[0];
  }

  /** Roughly normal, around 0 with a deviation of 1. */
  normal(): number {
    let sum = 0;
    for (let i = 0; i < 12; i += 1) sum += this.next();
    return sum - 6;
  }
}
