import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import type { People, PersonRow } from '@relvik/contracts';
import type { DaysOff } from '@relvik/core';
import { ChooseFile } from '../ui/choose-file';
import { saveFile } from '../ui/save-file';
import { OWN_ZONE } from './moment-words';

/** How far a file is read: from last week to two years ahead. */
const [BACK, AHEAD] = [7 * 86_400_000, 2 * 366 * 86_400_000];

interface Found {
  /** Days off that are not known yet. */
  readonly fresh: readonly DaysOff[];
  readonly words: string;
}

/** Days off out of an iCalendar file, and someone's hours and days off as one. */
@Component({
  selector: 'rv-calendar-file',
  imports: [ChooseFile],
  template: `
    <rv-choose-file accept=".ics,text/calendar" label="Calendar file with days off" (chosen)="read($event)"
      >Days off from a calendar file</rv-choose-file
    >
    <button type="button" class="link" (click)="save()">All as a calendar file</button>
    @if (problem(); as wrong) {
      <span class="wrong" role="alert">{{ wrong }}</span>
    }
    @if (found(); as read) {
      <span role="status">{{ read.words }}</span>
      @if (read.fresh.length > 0) {
        <button type="button" class="choice" (click)="take(read)">Take them over</button>
      }
      <button type="button" class="link" (click)="found.set(null)">Cancel</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CalendarFile {
  readonly person = input.required<PersonRow>();
  readonly people = input.required<People>();
  /** With those that were there. */
  readonly taken = output<readonly DaysOff[]>();

  protected readonly found = signal<Found | null>(null);
  protected readonly problem = signal<string | null>(null);
  private readonly zone = computed(() => this.person().zone ?? OWN_ZONE);

  protected async read(text: string): Promise<void> {
    // Only who reads or writes such a file needs its library.
    const { daysOffFromIcal } = await import('@relvik/formats');
    const day = (at: number): string => new Date(at).toISOString().slice(0, 10);
    const now = Date.now();
    const reading = daysOffFromIcal(text, this.zone(), { from: day(now - BACK), to: day(now + AHEAD) });
    this.problem.set(reading.ok ? null : reading.problem);
    this.found.set(null);
    if (!reading.ok) return;
    const known = new Set(this.person().daysOff.map((one) => JSON.stringify([one.from, one.to, one.hours])));
    const fresh = reading.daysOff.filter(({ from, to, hours }) => !known.has(JSON.stringify([from, to, hours])));
    this.found.set({
      fresh,
      words: [
        `${fresh.length} new ${fresh.length === 1 ? 'entry' : 'entries'}`,
        ...fresh.slice(0, 3).map(daysWords),
        ...(fresh.length > 3 ? ['…'] : []),
        ...(reading.daysOff.length > fresh.length ? [`${reading.daysOff.length - fresh.length} known already`] : []),
        ...reading.passedOver.slice(0, 2).map(({ name, why }) => `“${name}” ${why}`),
      ].join(', '),
    });
  }

  protected take({ fresh }: Found): void {
    this.found.set(null);
    this.taken.emit([...this.person().daysOff, ...fresh]);
  }

  protected async save(): Promise<void> {
    const { workTimesToIcal } = await import('@relvik/formats');
    const { key, hours, daysOff, teams } = this.person();
    const ofTeam = this.people().teams.find((team) => teams.includes(team.key) && team.hours !== null);
    const { weekly = null } = hours ?? ofTeam?.hours ?? {};
    const times = { key, timeZone: this.zone(), weekly, daysOff };
    saveFile('work-times.ics', workTimesToIcal(times, Date.now()), 'text/calendar');
  }
}

function daysWords({ from, to, hours }: DaysOff): string {
  return `${from}${to === from ? '' : ` to ${to}`}${hours === null ? '' : ` ${hours.from}-${hours.to}`}`;
}
