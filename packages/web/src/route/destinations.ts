import type { People } from '@relvik/contracts';
import type { Destination, QueueKey, RepKey, TeamKey } from '@relvik/core';

/** A destination as the value of a list: simple ones by their key, all others as they are. */
export function codeOf(to: Destination): string {
  switch (to.kind) {
    case 'rep':
      return `rep:${to.rep}`;
    case 'queue':
      return `queue:${to.queue}`;
    case 'team':
      return to.inside === true ? JSON.stringify(to) : `team:${to.team}`;
    case 'reps':
    case 'skilled':
    case 'company-owner':
    case 'handed-on':
    case 'nobody':
      return JSON.stringify(to);
  }
}

export function destinationOf(code: string): Destination {
  if (code.startsWith('{')) return JSON.parse(code) as Destination;
  const [kind, key = ''] = code.split(':');
  if (kind === 'rep') return { kind, rep: key as RepKey };
  return kind === 'team' ? { kind, team: key as TeamKey } : { kind: 'queue', queue: key as QueueKey };
}

/** Kinds of destinations, as they are offered. */
export const DESTINATION_KINDS: readonly { readonly value: Destination['kind']; readonly label: string }[] = [
  { value: 'team', label: 'a team' },
  { value: 'rep', label: 'one person' },
  { value: 'reps', label: 'some people' },
  { value: 'skilled', label: 'everyone with the skills' },
  { value: 'company-owner', label: 'the company’s owner' },
  { value: 'handed-on', label: 'a team, handed on by its manager' },
  { value: 'queue', label: 'a queue' },
  { value: 'nobody', label: 'nobody' },
];

/** A destination of another kind, to begin with; null: there is none of it yet. */
export function firstOf(kind: Destination['kind'], people: People): Destination | null {
  const [team] = people.teams;
  const [queue] = people.queues;
  const rep = people.people.find(({ mayTakeLeads }) => mayTakeLeads);
  switch (kind) {
    case 'team':
      return team === undefined ? null : { kind, team: team.key as TeamKey };
    case 'rep':
      return rep === undefined ? null : { kind, rep: rep.key as RepKey };
    case 'reps':
      return rep === undefined ? null : { kind, reps: [rep.key as RepKey] };
    case 'queue':
      return queue === undefined ? null : { kind, queue: queue.key as QueueKey };
    case 'skilled':
    case 'company-owner':
      return { kind };
    case 'handed-on':
      if (team === undefined || queue === undefined) return null;
      return { kind, team: team.key as TeamKey, queue: queue.key as QueueKey, minutes: 120 };
    case 'nobody':
      return { kind, reason: 'not a buyer' };
  }
}
