import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { People } from '@relvik/contracts';
import type { Destination, QueueKey, RepKey, TeamKey } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { DESTINATION_KINDS, firstOf } from './destinations';

const ROUTES_ONLY: readonly Destination['kind'][] = ['company-owner', 'handed-on'];

/** Where a route leads: the kind of destination, and which. */
@Component({
  selector: 'rv-destination-form',
  imports: [FormsModule, MultiSelectModule, SelectModule],
  template: `
    <p-select
      [ariaLabel]="label() + ': kind'"
      [options]="kinds()"
      optionLabel="label"
      optionValue="value"
      [ngModel]="to().kind"
      (ngModelChange)="changeKind($event)"
    />
    @switch (to().kind) {
      @case ('team') {
        <p-select
          [ariaLabel]="label() + ': team'"
          [options]="teams()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="team().key"
          (ngModelChange)="changed.emit({ kind: 'team', team: $event, inside: team().inside })"
        />
        <label
          ><input type="checkbox" [checked]="team().inside" (change)="turnInside()" /> with the teams inside it</label
        >
      }
      @case ('rep') {
        <p-select
          [ariaLabel]="label() + ': person'"
          [filter]="true"
          [options]="reps()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="chosen()[0]"
          (ngModelChange)="changed.emit({ kind: 'rep', rep: $event })"
        />
      }
      @case ('reps') {
        <p-multiselect
          [ariaLabel]="label() + ': people'"
          [options]="reps()"
          optionLabel="name"
          optionValue="key"
          [maxSelectedLabels]="6"
          [ngModel]="chosen()"
          (ngModelChange)="chooseReps($event)"
        />
      }
      @case ('queue') {
        <p-select
          [ariaLabel]="label() + ': queue'"
          [options]="queues()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="queue()"
          (ngModelChange)="changed.emit({ kind: 'queue', queue: $event })"
        />
      }
      @case ('handed-on') {
        @if (handedOn(); as own) {
          <p-select
            [ariaLabel]="label() + ': team'"
            [options]="teams()"
            optionLabel="name"
            optionValue="key"
            [ngModel]="own.team"
            (ngModelChange)="changed.emit({ kind: 'handed-on', team: $event, queue: own.queue, minutes: own.minutes })"
          />
          <span>until then in</span>
          <p-select
            [ariaLabel]="label() + ': queue until then'"
            [options]="queues()"
            optionLabel="name"
            optionValue="key"
            [ngModel]="own.queue"
            (ngModelChange)="changed.emit({ kind: 'handed-on', team: own.team, queue: $event, minutes: own.minutes })"
          />
          <label
            >after
            <input
              #minutes
              class="value-field minutes-field"
              type="number"
              min="1"
              max="10000"
              placeholder="never"
              [attr.aria-label]="label() + ': working minutes of the manager'"
              [value]="own.minutes ?? ''"
              (change)="setMinutes(minutes.value)"
            />
            working minutes of the manager, one of the team</label
          >
        }
      }
      @case ('nobody') {
        <label
          >because
          <input
            #reason
            class="value-field"
            maxlength="200"
            [attr.aria-label]="label() + ': why nobody'"
            [value]="because()"
            (change)="sayWhy(reason.value)"
        /></label>
      }
      @case ('company-owner') {
        <span class="quiet">takes only leads of a company that somebody owns</span>
      }
      @case ('skilled') {
        <span class="quiet">of all people, those who have what is asked for below</span>
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DestinationForm {
  readonly to = input.required<Destination>();
  readonly people = input.required<People>();
  /** Accessible name. */
  readonly label = input.required<string>();
  readonly changed = output<Destination>();

  /** It is for when nobody is free: some destinations are of routes only. */
  readonly elsewhere = input(false);
  protected readonly kinds = computed(() =>
    DESTINATION_KINDS.filter(({ value }) => !this.elsewhere() || !ROUTES_ONLY.includes(value)),
  );
  protected readonly teams = computed(() => [...this.people().teams]);
  protected readonly queues = computed(() => [...this.people().queues]);
  protected readonly reps = computed(() => this.people().people.filter((one) => one.mayTakeLeads));

  protected readonly team = computed(() => {
    const to = this.to();
    return to.kind === 'team' ? { key: to.team, inside: to.inside === true } : { key: '' as TeamKey, inside: false };
  });
  protected readonly chosen = computed((): RepKey[] => {
    const to = this.to();
    if (to.kind === 'rep') return [to.rep];
    return to.kind === 'reps' ? [...to.reps] : [];
  });
  protected readonly queue = computed((): QueueKey | null => {
    const to = this.to();
    return to.kind === 'queue' ? to.queue : null;
  });
  protected readonly handedOn = computed(() => {
    const to = this.to();
    return to.kind === 'handed-on' ? to : null;
  });
  protected readonly because = computed(() => {
    const to = this.to();
    return to.kind === 'nobody' ? to.reason : '';
  });

  protected changeKind(kind: Destination['kind']): void {
    const first = firstOf(kind, this.people());
    if (first !== null) this.changed.emit(first);
  }

  protected turnInside(): void {
    const { key, inside } = this.team();
    this.changed.emit(inside ? { kind: 'team', team: key } : { kind: 'team', team: key, inside: true });
  }

  /** In the order in which they are listed: the order of turns. */
  protected chooseReps(reps: RepKey[]): void {
    if (reps.length === 0) return;
    const kept = this.chosen().filter((rep) => reps.includes(rep));
    this.changed.emit({ kind: 'reps', reps: [...kept, ...reps.filter((rep) => !kept.includes(rep))] });
  }

  /** Empty: no clock runs. */
  protected setMinutes(text: string): void {
    const own = this.handedOn();
    const minutes = text.trim() === '' ? null : Number(text);
    const isRight = minutes === null || (Number.isInteger(minutes) && minutes >= 1 && minutes <= 10_000);
    if (own !== null && isRight) this.changed.emit({ ...own, minutes });
  }

  protected sayWhy(reason: string): void {
    if (reason.trim() !== '') this.changed.emit({ kind: 'nobody', reason: reason.trim() });
  }
}
