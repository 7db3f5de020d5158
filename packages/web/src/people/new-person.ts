import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  type MakePerson,
  makePersonSchema,
  type People,
  type ProblemDocument,
  type Role,
  ROLES,
} from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { PeopleService } from './people.service';

/** Makes someone new: name, e-mail, role and team. */
@Component({
  selector: 'rv-new-person',
  imports: [FormsModule, ButtonModule, SelectModule, ProblemNote],
  template: `
    @if (open()) {
      <form class="joint" (ngSubmit)="make()" (keydown.escape)="open.set(false)">
        <input
          class="value-field"
          name="name"
          aria-label="Name of the new person"
          placeholder="Name"
          [(ngModel)]="name"
        />
        <input
          class="value-field"
          name="email"
          type="email"
          aria-label="E-mail"
          placeholder="E-mail"
          [(ngModel)]="email"
        />
        <p-select ariaLabel="Role" name="role" [options]="roles" [(ngModel)]="role" />
        <p-select
          ariaLabel="Team"
          name="team"
          [options]="teams()"
          optionLabel="name"
          optionValue="key"
          [(ngModel)]="team"
        />
        <p-button type="submit" label="Add" size="small" />
        <button type="button" class="link" (click)="open.set(false)">Cancel</button>
        <small class="quiet">They get leads at once; to sign in they need a password.</small>
      </form>
      <rv-problem-note [problem]="wrong()" />
    } @else {
      <button type="button" class="link" (click)="open.set(true)">+ person</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewPerson {
  private readonly service = inject(PeopleService);
  readonly people = input.required<People>();
  /** A change that is on its way to the server. */
  readonly changing = output<Observable<People>>();

  protected readonly open = signal(false);
  protected readonly wrong = signal<ProblemDocument | null>(null);
  protected readonly roles: Role[] = [...ROLES].reverse();
  protected readonly teams = computed(() => [
    { key: null, name: 'no team' },
    ...this.people().teams.map(({ key, name }) => ({ key, name })),
  ]);
  protected name = '';
  protected email = '';
  protected role: Role = 'rep';
  protected team: string | null = null;

  protected make(): void {
    const person: MakePerson = { name: this.name, email: this.email, role: this.role, team: this.team };
    const wrong = problemIn(makePersonSchema, person);
    this.wrong.set(wrong);
    if (wrong === null) this.changing.emit(this.service.make(person));
  }
}
