import { type ActivityKinds, parseInstant } from '@relvik/core';

/** The instant of an activity, or the field for which it is refused. */
export type CheckedActivity =
  | { readonly kind: 'ok'; readonly at: Date }
  | { readonly kind: 'refused'; readonly field: 'kind' | 'at'; readonly message: string };

/** Allowed clock skew, ms. */
const AHEAD = 5 * 60_000;

/** Checks the kind of an activity and its instant, by default now. */
export function checkActivity(
  sent: { readonly kind: string; readonly at?: string | undefined },
  kinds: ActivityKinds,
  now: Date,
): CheckedActivity {
  const refused = (field: 'kind' | 'at', message: string): CheckedActivity => ({ kind: 'refused', field, message });
  const kind = kinds.get(sent.kind);
  if (kind === undefined) return refused('kind', `no such kind of activity: ${sent.kind}`);
  if (kind.retired) return refused('kind', `is retired: ${sent.kind}`);
  const at = sent.at === undefined ? now.getTime() : parseInstant(sent.at);
  if (at === null) return refused('at', 'is no instant: write it as 2026-03-02T09:30:00+01:00');
  if (at > now.getTime() + AHEAD) return refused('at', 'lies in the future');
  return { kind: 'ok', at: new Date(at) };
}
