/** Something wrong in a document, with the place as a JSON Pointer (RFC 6901): `/gates/0/to`. */
export interface Problem {
  readonly path: string;
  readonly message: string;
}

/** A place in a document: extends itself and collects what is wrong there. */
export class Spot {
  private constructor(
    readonly path: string,
    private readonly problems: Problem[],
  ) {}

  static root(problems: Problem[]): Spot {
    return new Spot('', problems);
  }

  at(step: string | number): Spot {
    return new Spot(`${this.path}/${String(step).replaceAll('~', '~0').replaceAll('/', '~1')}`, this.problems);
  }

  say(message: string): void {
    this.problems.push({ path: this.path, message });
  }
}
