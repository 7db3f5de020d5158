import type { RequestHandler } from 'express';
import { type ClientRateLimitInfo, rateLimit, type Store } from 'express-rate-limit';
import { createHash } from 'node:crypto';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import type { Endpoint } from './endpoint';

/** Requests a minute from one address. */
export interface Limits {
  readonly signIn: number;
  readonly form: number;
}

const MINUTE = 60_000;

/** Counts of requests by address, kept in the database so that servers share them. An address is kept as its hash. */
class SharedCounts implements Store {
  readonly localKeys = false;

  constructor(
    private readonly source: DataSource,
    private readonly of: string,
  ) {}

  async increment(key: string): Promise<ClientRateLimitInfo> {
    const hash = this.hashOf(key);
    const now = Date.now();
    await this.source.query(
      `INSERT INTO request_count (hash, hits, ends) VALUES (?, 1, ?) ON DUPLICATE KEY UPDATE
         hits = IF(ends <= ?, 1, hits + 1), ends = IF(ends <= ?, VALUES(ends), ends)`,
      [hash, now + MINUTE, now, now],
    );
    const [row] = await this.source.query<{ hits: number; ends: string | number }[]>(
      'SELECT hits, ends FROM request_count WHERE hash = ?',
      [hash],
    );
    return { totalHits: row?.hits ?? 1, resetTime: new Date(Number(row?.ends ?? now + MINUTE)) };
  }

  async decrement(key: string): Promise<void> {
    await this.source.query('UPDATE request_count SET hits = hits - 1 WHERE hash = ? AND hits > 0', [this.hashOf(key)]);
  }

  async resetKey(key: string): Promise<void> {
    await this.source.query('DELETE FROM request_count WHERE hash = ?', [this.hashOf(key)]);
  }

  private hashOf(key: string): string {
    return createHash('sha256').update(`${this.of} ${key}`).digest('hex');
  }
}

/** Counts requests from one address, where an endpoint is limited. A form that was refused, since something in it is not right, counts for nothing. */
export function limitsOf({ limit }: Endpoint, limits: Limits, source: DataSource): RequestHandler[] {
  if (limit === undefined) return [];
  return [
    rateLimit({
      windowMs: MINUTE,
      limit: limit === 'sign-in' ? limits.signIn : limits.form,
      standardHeaders: 'draft-8',
      legacyHeaders: false,
      skipFailedRequests: limit === 'form',
      store: new SharedCounts(source, limit),
      // A proxy that is not trusted may say what it likes of addresses: nothing is believed.
      validate: { xForwardedForHeader: false },
      handler: () => {
        throw Refused.as('too-many-tries');
      },
    }),
  ];
}
