import type { ProblemDocument } from '@relvik/contracts';

/** A request that is refused, as the RFC 9457 document that answers it. */
export class Refused extends Error {
  constructor(readonly problem: ProblemDocument) {
    super(problem.title);
  }

  static of(status: number, title: string, detail?: string): Refused {
    return new Refused({ type: 'about:blank', status, title, ...(detail === undefined ? {} : { detail }) });
  }

  static invalid(
    errors: readonly { path: string; message: string }[],
    title = 'Something in it is not right',
  ): Refused {
    return new Refused({ type: 'about:blank', status: 422, title, errors });
  }

  /** Also for what is outside the user's sight. */
  static notFound(): Refused {
    return Refused.of(404, 'There is nothing here', 'It does not exist, or it is outside what you may see.');
  }

  static forbidden(): Refused {
    return Refused.of(403, 'Your role does not allow this');
  }

  static conflict(title: string, detail: string): Refused {
    return Refused.of(409, title, detail);
  }
}
