import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import type { People } from '@relvik/contracts';
import { fold } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { concatMap, from, type Observable, of, takeLast, tap } from 'rxjs';
import { ChooseFile } from '../ui/choose-file';
import { saveFile } from '../ui/save-file';
import { changeOf, type PeoplePlan, personLines, planOf, withMembers } from './people-changes';
import { PeopleService } from './people.service';

type Plan = Extract<PeoplePlan, { readonly ok: true }>;

/** How many problems, and how many changes, are shown. */
const FEW = 8;

/** People out as a CSV file, and in from one: what it changes is shown first. */
@Component({
  selector: 'rv-people-file',
  imports: [ButtonModule, ChooseFile],
  template: `
    <p class="joint">
      <button type="button" class="link" (click)="save()">All as a CSV file</button>
      <rv-choose-file accept=".csv,text/csv" label="CSV file of people" (chosen)="read($event)"
        >People from a CSV file</rv-choose-file
      >
    </p>
    @if (problems().length > 0) {
      <div class="problem" role="alert">
        Nothing was changed. {{ problems().length > few ? 'Among others:' : '' }}
        <ul class="plain">
          @for (problem of problems().slice(0, few); track problem) {
            <li>{{ problem }}</li>
          }
        </ul>
      </div>
    }
    @if (plan(); as all) {
      <div role="status">
        <b>{{ summaryOf(all) }}</b>
        <ul class="plain">
          @for (one of all.made.slice(0, few); track one.email) {
            <li>
              {{ one.make.name }} <span class="quiet">new, {{ one.make.role }}</span>
            </li>
          }
          @for (one of all.changed.slice(0, few); track one.key) {
            <li>
              {{ one.name }} <span class="quiet">{{ one.columns.join(', ') }}</span>
            </li>
          }
          @for (one of all.teams; track one.key) {
            <li>
              {{ one.name }} <span class="quiet">{{ one.emails.length }} members</span>
            </li>
          }
        </ul>
        <p class="joint">
          @if (all.made.length + all.changed.length + all.teams.length > 0) {
            <p-button size="small" label="Take it over" (onClick)="take(all)" />
          }
          <button type="button" class="link" (click)="plan.set(null)">Cancel</button>
        </p>
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeopleFile {
  private readonly service = inject(PeopleService);
  readonly people = input.required<People>();
  readonly changing = output<Observable<People>>();
  protected readonly few = FEW;
  protected readonly plan = signal<Plan | null>(null);
  protected readonly problems = signal<readonly string[]>([]);

  protected async save(): Promise<void> {
    const { peopleTable, writeCsv } = await import('@relvik/formats');
    const people = this.people();
    saveFile('people.csv', writeCsv(peopleTable(personLines(people), people.skills)), 'text/csv');
  }

  protected async read(text: string): Promise<void> {
    const { peopleFromTable, readCsv } = await import('@relvik/formats');
    this.plan.set(null);
    const table = readCsv(text);
    const reading = table.ok ? peopleFromTable(table.table, this.people().skills) : table;
    if (!reading.ok) {
      this.problems.set(reading.problems.map(({ row, message }) => (row === 0 ? message : `Row ${row}, ${message}`)));
      return;
    }
    const plan = planOf(this.people(), reading.people);
    this.problems.set(plan.ok ? [] : plan.problems);
    this.plan.set(plan.ok ? plan : null);
  }

  protected summaryOf({ made, changed, same }: Plan): string {
    return `${made.length} new, ${changed.length} changed, ${same} as they are`;
  }

  /** New people first, so that teams and deputies find them. */
  protected take({ made, changed, teams }: Plan): void {
    const { service } = this;
    this.plan.set(null);
    const byEmail = (people: People) => new Map(people.people.map((one) => [fold(one.email ?? ''), one]));
    const makes = made.map(
      ({ make }) =>
        () =>
          service.make(make),
    );
    const fills = [...made, ...changed].map(({ said }) => (people: People): Observable<People> => {
      const known = byEmail(people);
      const person = known.get(said.email);
      return person === undefined ? of(people) : service.change(person.key, changeOf(person, said, known));
    });
    const members = teams.map(({ key, emails }) => (people: People): Observable<People> => {
      const team = people.teams.find((one) => one.key === key);
      const known = byEmail(people);
      const keys = emails.flatMap((email) => known.get(email)?.key ?? []);
      return team === undefined ? of(people) : service.changeTeam(key, withMembers(team, keys));
    });
    let now: People = this.people();
    const steps: readonly ((people: People) => Observable<People>)[] = [...makes, ...fills, ...members];
    this.changing.emit(
      from(steps).pipe(
        concatMap((step) => step(now)),
        tap((people) => (now = people)),
        takeLast(1),
      ),
    );
  }
}
