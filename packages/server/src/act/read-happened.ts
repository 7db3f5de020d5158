import { type ActivityKinds, parseInstant } from '@relvik/core';

/** When something happened, or the field of what was sent that can't be taken in. */
export type Happened =
  | { readonly kind: 'read'; readonly at: Date }
  | { readonly kind: 'refused'; readonly field: 'kind' | 'at'; readonly message: string };

/** Allowed clock skew, ms. */
const AHEAD = 5 * 60_000;

/** Reads the kind of an activity, and its instant; without one it happened now. */
export function readHappened(
  sent: { readonly kind: string; readonly at?: string | undefined },
  kinds: ActivityKinds,
  now: Date,
): Happened {
  const refused = (field: 'kind' | 'at', message: string): Happened => ({ kind: 'refused', field, message });
  const kind = kinds.get(sent.kind);
  if (kind === undefined) return refused('kind', `no such kind of activity: ${sent.kind}`);
  if (kind.retired) return refused('kind', `is retired: ${sent.kind}`);
  const at = sent.at === undefined ? now.getTime() : parseInstant(sent.at);
  if (at === null) return refused('at', 'is no instant: write it as 2026-03-02T09:30:00+01:00');
  if (at > now.getTime() + AHEAD) return refused('at', 'lies in the future');
  return { kind: 'read', at: new Date(at) };
}
