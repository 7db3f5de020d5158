import { HttpErrorResponse } from '@angular/common/http';
import type { ProblemDocument } from '@relvik/contracts';

function isProblem(body: unknown): body is ProblemDocument {
  return typeof body === 'object' && body !== null && 'title' in body && 'status' in body;
}

/** What went wrong, whatever it was, as a problem document. */
export function problemOf(error: unknown): ProblemDocument {
  if (error instanceof HttpErrorResponse) {
    if (isProblem(error.error)) return error.error;
    if (error.status === 0)
      return {
        type: 'about:blank',
        status: 0,
        title: 'The server can’t be reached',
        detail: 'Nothing was lost. Try again in a moment.',
      };
    return { type: 'about:blank', status: error.status, title: `The server answered ${error.status}` };
  }
  return {
    type: 'about:blank',
    status: 0,
    title: 'Something went wrong on this page',
    detail: error instanceof Error ? error.message : String(error),
  };
}

/** The message about one field, by its path in what was sent. */
export function messageAt(problem: ProblemDocument | null, path: string): string | null {
  return problem?.errors?.find((error) => error.path === path)?.message ?? null;
}
