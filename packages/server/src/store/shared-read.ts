/**
 * Lets those who ask at the same moment share one read. A read serves whoever asked before it began, so that nobody gets an
 * answer older than their question.
 */
export class SharedRead<Key, Answer> {
  private waiting: { readonly key: Key; resolve(answer: Answer): void; reject(error: unknown): void }[] = [];

  /** @param read answers many at once, in the order given */
  constructor(private readonly read: (keys: readonly Key[]) => Promise<readonly Answer[]>) {}

  get(key: Key): Promise<Answer> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ key, resolve, reject });
      if (this.waiting.length === 1) setImmediate(() => void this.begin());
    });
  }

  private async begin(): Promise<void> {
    const asked = this.waiting;
    this.waiting = [];
    try {
      const answers = await this.read(asked.map(({ key }) => key));
      asked.forEach(({ resolve }, i) => {
        resolve(answers[i] as Answer);
      });
    } catch (error) {
      for (const { reject } of asked) reject(error);
    }
  }
}
