import type { Instant, RepKey } from '../record/keys';
import { IN_BAY } from './placed';
import type { Attempts, Placing, Waiting } from './placing';

/** Records that wait for the same: when one of them can't be placed, none of them can. */
interface Group {
  readonly records: { readonly record: number; readonly rank: number }[];
  first: number;
  /** The result of the last try. */
  waits: Waiting;
}

/** The one of a group that waits longest. */
interface Head {
  readonly group: Group;
  readonly record: number;
  readonly rank: number;
}

/** Records that wait for someone free, by what they wait for and in order of arrival; and the hours that begin. */
export class WaitingLines {
  private readonly groups = new Map<string, Group>();
  /** When the next of those waited for works again. */
  private next: Instant = Infinity;
  private arrived = 0;

  constructor(private readonly placing: Placing) {}

  /** Places a record that comes in; where nobody is free, it waits. */
  arrive(record: number, at: Instant): void {
    const attempts = this.placing.attempts(record);
    const alike = alikeKey(attempts);
    const known = this.groups.get(alike);
    // Whatever frees someone lets those who wait go at once: while one waits, the next like it does too.
    const waits =
      known !== undefined && this.headOf(known) !== null ? known.waits : this.placing.place(record, at, attempts);
    if (waits === null) return;
    this.placing.wait(record);
    const group = known ?? { records: [], first: 0, waits };
    this.groups.set(alike, group);
    group.records.push({ record, rank: this.arrived });
    this.arrived += 1;
    this.noteWaiting(group, waits);
  }

  /** Tries those who wait for a rep, the oldest first. */
  tryFor(rep: RepKey, at: Instant): void {
    this.tryAll(
      ({ waits }) => waits.reps.includes(rep),
      at,
      () => this.placing.hasRoom(rep),
    );
  }

  /** Tries those who wait each time that hours begin, up to and with an instant. */
  passTime(until: Instant): void {
    while (this.next <= until) {
      const at = this.next;
      this.next = Infinity;
      const begins = ({ waits }: Group): boolean => waits.begins !== null && waits.begins <= at;
      for (const group of this.groups.values())
        if (!begins(group) && this.headOf(group) !== null) this.noteWaiting(group, group.waits);
      this.tryAll(begins, at);
    }
  }

  /** @param goesOn whether there is still someone for whom those who wait are tried */
  private tryAll(concerned: (group: Group) => boolean, at: Instant, goesOn = (): boolean => true): void {
    // In order of rank: with many groups a search for the oldest at each step would take longer than placing it.
    const heads = [...this.groups.values()]
      .filter(concerned)
      .flatMap((group): Head[] => this.headsOf(group))
      .sort((a, b) => a.rank - b.rank);
    while (goesOn()) {
      const oldest = heads.shift();
      if (oldest === undefined) return;
      const waits = this.placing.place(oldest.record, at);
      // Placing others meanwhile frees nobody: of a group of which one waits on, all do.
      if (waits !== null) {
        this.noteWaiting(oldest.group, waits);
        continue;
      }
      oldest.group.first += 1;
      for (const next of this.headsOf(oldest.group)) {
        const later = heads.findIndex(({ rank }) => rank > next.rank);
        heads.splice(later < 0 ? heads.length : later, 0, next);
      }
    }
  }

  /** The one of a group that waits longest, if any waits. */
  private headsOf(group: Group): Head[] {
    const head = this.headOf(group);
    return head === null ? [] : [{ group, ...head }];
  }

  private noteWaiting(group: Group, waits: Waiting): void {
    group.waits = waits;
    this.next = Math.min(this.next, waits.begins ?? Infinity);
  }

  /** The one that waits longest, past those that were closed meanwhile; null: nobody waits any more. */
  private headOf(group: Group): Group['records'][number] | null {
    const { records } = group;
    for (; group.first < records.length; group.first += 1) {
      const head = records[group.first];
      if (head !== undefined && this.placing.places[head.record] === IN_BAY) return head;
    }
    return null;
  }
}

/** The routes of a record and the skills it asks for, as text: the same for records that wait for the same. */
function alikeKey(attempts: Attempts | null): string {
  if (attempts === null) return '';
  const [first] = attempts;
  if (attempts.length === 1 && first.skills.length === 0) return leadsTo(first);
  return attempts
    .map((attempt) => `${leadsTo(attempt)}:${attempt.skills.map(({ words }) => words?.join() ?? '?').join(';')}`)
    .join('|');
}

/** A route, with the person where it leads to one: the owners of several companies are not the same. */
function leadsTo({ route: { key, to } }: Attempts[number]): string {
  return to.kind === 'rep' ? `${key}>${to.rep}` : key;
}
