import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { ChangeTeam, People, TeamRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { HoursForm } from './hours-form';

/** Edits a team: members in the order of turns, parent team, hours, paused or not. */
@Component({
  selector: 'rv-team-editor',
  imports: [FormsModule, ButtonModule, MultiSelectModule, SelectModule, HoursForm],
  template: `
    <form class="editor at-once" (ngSubmit)="saved.emit(form())" (keydown.escape)="cancelled.emit()">
      <div class="joint">
        <input
          #name
          class="value-field"
          aria-label="Name of the team"
          [value]="form().name"
          (change)="set({ name: name.value })"
        />
        <label
          ><input type="checkbox" [checked]="form().paused" (change)="set({ paused: !form().paused })" /> paused: nobody
          gets leads as a member of it</label
        >
        <span class="quiet">inside</span>
        <p-select
          ariaLabel="Inside which team"
          [options]="parents()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="form().parent"
          [ngModelOptions]="{ standalone: true }"
          (ngModelChange)="set({ parent: $event })"
        />
      </div>
      <div class="joint">
        <rv-hours-form
          label="hours of members who have none of their own"
          [hours]="form().hours"
          (changed)="set({ hours: $event })"
        />
      </div>
      <ol class="members">
        @for (member of members(); track member.key) {
          <li>
            {{ member.name }}
            @if (member.leads || member.manager) {
              <label class="quiet"
                ><input
                  type="checkbox"
                  [attr.aria-label]="member.name + ' leads it'"
                  [checked]="member.leads"
                  (change)="turnLead(member.key)"
                />
                leads</label
              >
            }
            <button
              type="button"
              class="link"
              [disabled]="$first"
              [attr.aria-label]="'Move ' + member.name + ' up'"
              (click)="lift($index)"
            >
              ↑
            </button>
            <button
              type="button"
              class="link"
              [attr.aria-label]="'Take ' + member.name + ' out'"
              (click)="drop(member.key)"
            >
              ×
            </button>
          </li>
        }
      </ol>
      <div class="joint">
        <p-select
          ariaLabel="Add someone"
          [filter]="true"
          placeholder="+ someone"
          [options]="others()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="null"
          [ngModelOptions]="{ standalone: true }"
          (ngModelChange)="add($event)"
        />
        <p-button type="submit" label="Save" size="small" />
        <button type="button" class="link" (click)="cancelled.emit()">Cancel</button>
        <button type="button" class="link" (click)="removed.emit()">Take the team out</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TeamEditor {
  readonly team = input.required<TeamRow>();
  readonly people = input.required<People>();
  readonly saved = output<ChangeTeam>();
  readonly removed = output();
  readonly cancelled = output();

  protected readonly form = linkedSignal((): ChangeTeam => {
    const { name, paused, parent, hours, members, leaders } = this.team();
    return { name, paused, parent, hours, members, leaders };
  });
  protected readonly parents = computed(() => [
    { key: null, name: 'no team' },
    ...this.people()
      .teams.filter(({ key }) => key !== this.team().key)
      .map(({ key, name }) => ({ key, name })),
  ]);
  protected readonly members = computed(() => {
    const { people } = this.people();
    const { members, leaders = [] } = this.form();
    return members.map((key) => {
      const person = people.find((one) => one.key === key);
      return { key, name: person?.name ?? key, leads: leaders.includes(key), manager: person?.role === 'manager' };
    });
  });
  protected readonly others = computed(() => {
    const { members } = this.form();
    return this.people().people.filter(({ key }) => !members.includes(key));
  });

  protected set(change: Partial<ChangeTeam>): void {
    this.form.update((form) => ({ ...form, ...change }));
  }

  protected turnLead(key: string): void {
    const { leaders = [] } = this.form();
    this.set({ leaders: leaders.includes(key) ? leaders.filter((one) => one !== key) : [...leaders, key] });
  }

  protected add(key: string): void {
    this.set({ members: [...this.form().members, key] });
  }

  protected drop(key: string): void {
    const { members, leaders = [] } = this.form();
    this.set({ members: members.filter((one) => one !== key), leaders: leaders.filter((one) => one !== key) });
  }

  protected lift(at: number): void {
    const members = [...this.form().members];
    members.splice(at - 1, 0, ...members.splice(at, 1));
    this.set({ members });
  }
}
