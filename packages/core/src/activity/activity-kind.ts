import type { Instant } from '../record/keys';
import type { Activity } from '../record/record';

/** A kind of activity: what it is called, and whether they did it or we. */
export interface ActivityKind {
  readonly key: string;
  readonly name: string;
  /** Silence is broken by what they do, not by our own mail. */
  readonly by: 'them' | 'us';
  /** No longer offered; what happened stays. */
  readonly retired: boolean;
}

const kind = (key: string, name: string, by: ActivityKind['by'] = 'them'): ActivityKind => ({
  key,
  name,
  by,
  retired: false,
});

/** Kinds by their keys. */
export type ActivityKinds = ReadonlyMap<string, ActivityKind>;

/** The kinds every set-up begins with; the admin adds others. */
export const STANDARD_KINDS: readonly ActivityKind[] = [
  kind('mail_sent', 'Mail sent', 'us'),
  kind('mail_received', 'Mail received'),
  kind('mail_opened', 'Mail opened'),
  kind('mail_clicked', 'Mail clicked'),
  kind('mail_bounced', 'Mail bounced', 'us'),
  kind('mail_unsubscribed', 'Unsubscribed'),
  kind('conversation_opened', 'Conversation opened'),
  kind('conversation_closed', 'Conversation closed', 'us'),
  kind('page_visited', 'Page visited'),
  kind('form_filled', 'Form filled'),
  kind('call_taken', 'Call taken'),
  kind('call_missed', 'Call missed', 'us'),
  kind('event_attended', 'Event attended'),
  kind('agreement_signed', 'Agreement signed'),
  kind('agreement_declined', 'Agreement declined'),
  kind('meeting_held', 'Meeting held'),
];

/** Kinds by their keys. */
export function kindsFrom(kinds: readonly ActivityKind[]): ActivityKinds {
  return new Map(kinds.map((one) => [one.key, one]));
}

/** The last instant up to `asOf` at which they did something; null: they never did. */
export function lastByThem(kinds: ActivityKinds, activities: readonly Activity[], asOf: Instant): Instant | null {
  let last: Instant | null = null;
  for (const { kind: key, at } of activities)
    if (at <= asOf && at > (last ?? -Infinity) && isByThem(kinds, key)) last = at;
  return last;
}

/** A key in words, for a kind that is not listed. */
export function kindInWords(key: string): string {
  const words = key.replaceAll('_', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Whether an activity of that kind is theirs; a kind that is not listed is. */
export function isByThem(kinds: ActivityKinds, key: string): boolean {
  return kinds.get(key)?.by !== 'us';
}

/** A call, a mail or a meeting, whoever began it. */
const CONTACTS: ReadonlySet<string> = new Set(['mail_sent', 'call_taken', 'call_missed', 'meeting_held']);
const STANDARD: ReadonlySet<string> = new Set(STANDARD_KINDS.map(({ key }) => key));

/** Whether an activity of a kind says that the owner has called, mailed or met them; so does every kind of ours that the admin added. */
export function isContact({ key, by }: Pick<ActivityKind, 'key' | 'by'>): boolean {
  return CONTACTS.has(key) || (by === 'us' && !STANDARD.has(key));
}
