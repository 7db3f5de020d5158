import type { ProblemDocument } from '@relvik/contracts';
import type { ErrorRequestHandler } from 'express';
import type { Logger } from 'pino';
import { Refused } from '../problem/refused';
import { isDatabaseAway } from '../store/transaction';

/** Errors of Express's body readers, by their type. */
function bodyProblem(error: unknown): ProblemDocument | null {
  const type = typeof error === 'object' && error !== null && 'type' in error ? error.type : undefined;
  switch (type) {
    case 'entity.parse.failed':
      return Refused.as('not-json', { detail: error instanceof Error ? error.message : undefined }).problem;
    case 'entity.too.large':
      return Refused.as('too-large').problem;
    case 'encoding.unsupported':
    case 'charset.unsupported':
      return Refused.as('encoding-not-supported').problem;
    case 'request.aborted':
      return Refused.as('cut-off').problem;
    default:
      // Such as what is not packed as its Content-Encoding says.
      return isClients(error) ? Refused.as('not-readable').problem : null;
  }
}

/** Whether Express, or a body reader, says that the client sent something wrong. */
function isClients(error: unknown): boolean {
  const status = typeof error === 'object' && error !== null && 'status' in error ? error.status : undefined;
  return typeof status === 'number' && status >= 400 && status < 500;
}

function awayProblem(error: unknown): ProblemDocument | null {
  return isDatabaseAway(error) ? Refused.as('database-away').problem : null;
}

function foreseenIn(error: unknown): ProblemDocument | null {
  if (error instanceof Refused) return error.problem;
  // An address that can't be decoded is that of nothing.
  if (error instanceof URIError) return Refused.notFound().problem;
  return bodyProblem(error) ?? awayProblem(error);
}

/** Answers errors as problem documents; what nobody foresaw is logged and told without its cause. */
export function answerErrors(log: Logger): ErrorRequestHandler {
  return (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const foreseen = foreseenIn(error);
    if (foreseen === null) log.error({ err: error, path: request.path }, 'a request failed');
    else if (foreseen.status === 503) log.warn({ path: request.path }, foreseen.title);
    const answer = foreseen ?? Refused.as('failed').problem;
    if (answer.status === 503) response.setHeader('Retry-After', '5');
    response.status(answer.status).type('application/problem+json').send(JSON.stringify(answer));
  };
}
