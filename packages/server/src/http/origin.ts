import type { Request } from 'express';
import { Refused } from '../problem/refused';
import type { Endpoint } from './endpoint';

/**
 * Browsers say from which page a request comes: one that changes something must come from this application. Other systems, which
 * have a key and no cookies, may say what they like.
 *
 * @throws Refused `foreign-request`
 */
export function refuseForeign({ method, who }: Pick<Endpoint, 'method' | 'who'>, request: Request): void {
  const origin = request.get('origin');
  if (method === 'get' || who === 'key' || origin === undefined) return;
  if (!URL.canParse(origin) || new URL(origin).host !== request.host) throw Refused.as('foreign-request');
}
