import type { ProblemDocument } from '@relvik/contracts';
import { type ProblemCode, PROBLEMS } from './problems';

export type FieldErrors = readonly { readonly path: string; readonly message: string }[];

/** A request that is refused, as the RFC 9457 document that answers it. */
export class Refused extends Error {
  constructor(readonly problem: ProblemDocument) {
    super(problem.title);
  }

  /** @param more what this case adds: a detail in place of the usual one, fields, or the record that stands in the way */
  static as(code: ProblemCode, more: Pick<ProblemDocument, 'detail' | 'errors' | 'other'> = {}): Refused {
    return new Refused({ type: `/docs/errors.md#${code}`, ...PROBLEMS[code], ...more });
  }

  static invalid(errors: FieldErrors): Refused {
    return Refused.as('invalid', { errors });
  }

  /** Also for what is outside the user's sight. */
  static notFound(): Refused {
    return Refused.as('not-found');
  }
}
