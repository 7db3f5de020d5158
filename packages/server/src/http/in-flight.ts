import type { RequestHandler } from 'express';
import { Refused } from '../problem/refused';

/** Counts the requests that are being answered, so that a stop can wait for them. */
export class InFlight {
  private count = 0;
  private stopping = false;
  private idle: (() => void) | null = null;

  get isStopping(): boolean {
    return this.stopping;
  }

  /** Lets requests through and counts them; once the server is stopping it refuses new ones. */
  readonly handler: RequestHandler = (_request, response, next) => {
    if (this.stopping) {
      response.setHeader('Connection', 'close');
      next(Refused.as('stopping'));
      return;
    }
    this.count += 1;
    response.once('close', () => {
      this.count -= 1;
      if (this.count === 0) this.idle?.();
    });
    const write = response.writeHead.bind(response) as (...head: unknown[]) => typeof response;
    // While stopping, every answer closes its connection.
    response.writeHead = (...head: unknown[]) => {
      if (this.stopping) response.setHeader('Connection', 'close');
      return write(...head);
    };
    next();
  };

  /** Takes no new requests; resolves when those accepted are answered, or after so many milliseconds. */
  async finish(most: number): Promise<void> {
    this.stopping = true;
    if (this.count === 0) return;
    let timer: NodeJS.Timeout | undefined;
    await Promise.race([
      new Promise<void>((resolve) => (this.idle = resolve)),
      new Promise<void>((resolve) => (timer = setTimeout(resolve, most))),
    ]);
    clearTimeout(timer);
  }
}
