import type { Problem } from '@relvik/core';

/** An input that can't be used, in words for the person who gave it. */
export class Refusal extends Error {
  static of(file: string, problems: readonly Problem[]): Refusal {
    return new Refusal(problems.map(({ path, message }) => `${file}: ${path || '/'} ${message}`).join('\n'));
  }
}
