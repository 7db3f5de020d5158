/** A kind of activity: what it is called, and whether they did it or we. */
export interface ActivityKind {
  readonly key: string;
  readonly name: string;
  /** Silence is broken by what they do, not by our own mail. */
  readonly by: 'them' | 'us';
}

const kind = (key: string, name: string, by: ActivityKind['by'] = 'them'): ActivityKind => ({ key, name, by });

/** The kinds every set-up begins with. */
export const ACTIVITY_KINDS: readonly ActivityKind[] = [
  kind('mail_sent', 'Mail sent', 'us'),
  kind('mail_received', 'Mail received'),
  kind('mail_opened', 'Mail opened'),
  kind('mail_clicked', 'Mail clicked'),
  kind('mail_bounced', 'Mail bounced', 'us'),
  kind('mail_unsubscribed', 'Unsubscribed'),
  kind('page_visited', 'Page visited'),
  kind('pricing_visited', 'Pricing page visited'),
  kind('form_filled', 'Form filled'),
  kind('call_taken', 'Call taken'),
  kind('call_missed', 'Call missed', 'us'),
  kind('event_attended', 'Event attended'),
  kind('agreement_signed', 'Agreement signed'),
  kind('agreement_declined', 'Agreement declined'),
  kind('meeting_held', 'Meeting held'),
];

const BY_KEY = new Map(ACTIVITY_KINDS.map((one) => [one.key, one]));

/** The name of a kind; of one that is not listed, its key in words. */
export function activityName(key: string): string {
  const words = key.replaceAll('_', ' ');
  return BY_KEY.get(key)?.name ?? words.charAt(0).toUpperCase() + words.slice(1);
}

/** Whether an activity of that kind is theirs; a kind that is not listed is. */
export function isByThem(key: string): boolean {
  return BY_KEY.get(key)?.by !== 'us';
}
