import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { ChangeRep, HolidayPlace, People, PersonRow, RetirePerson } from '@relvik/contracts';
import type { RepSkill, SkillList } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { catchError, EMPTY, type Observable } from 'rxjs';
import { CalendarFile } from './calendar-file';
import { DaysOffForm } from './days-off-form';
import { HoursForm } from './hours-form';
import { PeopleService } from './people.service';
import { RetireForm } from './retire-form';

/** One list for all: a new one at each look would be a change at each look. */
const NONE: readonly string[] = [];

/** Edits a rep: limit, weight, hours, holidays, days off and skills. */
@Component({
  selector: 'rv-person-editor',
  imports: [
    FormsModule,
    ButtonModule,
    MultiSelectModule,
    SelectModule,
    HoursForm,
    DaysOffForm,
    CalendarFile,
    RetireForm,
    RouterLink,
  ],
  templateUrl: './person-editor.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonEditor {
  private readonly service = inject(PeopleService);
  readonly person = input.required<PersonRow>();
  readonly people = input.required<People>();
  readonly saved = output<ChangeRep>();
  readonly cancelled = output();
  readonly retired = output<RetirePerson>();
  protected readonly retiring = signal(false);

  protected readonly form = linkedSignal((): Required<ChangeRep> => {
    const { mayTakeLeads, limit, whyNot, weight, hours, holidaysOf, daysOff, away, skills } = this.person();
    const { deputy, getsBack } = this.person();
    return { mayTakeLeads, limit, whyNot, weight, hours, holidaysOf, daysOff, away, skills, deputy, getsBack };
  });
  /** With the hours and days off as they are drawn. */
  protected readonly drawn = computed((): PersonRow => ({ ...this.person(), ...this.form() }));
  protected readonly deputies = computed(() => [
    { key: null, name: 'nobody' },
    ...this.people().people.filter(({ key, mayTakeLeads }) => mayTakeLeads && key !== this.person().key),
  ]);
  private readonly countries = signal<readonly HolidayPlace[]>([]);
  private readonly parts = signal<readonly HolidayPlace[]>([]);
  protected readonly country = computed(() => this.form().holidaysOf?.split('-')[0] ?? null);
  protected readonly countryChoices = computed(() => [{ key: null, name: 'no public holidays' }, ...this.countries()]);
  protected readonly partChoices = computed(() => {
    const country = this.country();
    return this.parts().length === 0 ? [] : [{ key: country, name: 'the whole country' }, ...this.parts()];
  });

  constructor() {
    this.holidayPlaces(null).subscribe((places) => {
      this.countries.set(places);
      this.readParts(this.country());
    });
  }

  /** Without them the place that someone has stays as it is. */
  private holidayPlaces(country: string | null): Observable<readonly HolidayPlace[]> {
    return this.service.holidayPlaces(country).pipe(catchError(() => EMPTY));
  }

  protected set(change: Partial<ChangeRep>): void {
    this.form.update((form) => ({ ...form, ...change }));
  }

  protected setLimit(text: string): void {
    this.set({ limit: text.trim() === '' ? null : Number(text) });
  }

  protected chooseCountry(country: string | null): void {
    this.set({ holidaysOf: country });
    this.readParts(country);
  }

  private readParts(country: string | null): void {
    this.parts.set([]);
    if (country !== null)
      this.holidayPlaces(country).subscribe((parts) => {
        if (this.country() === country) this.parts.set(parts);
      });
  }

  protected has({ key }: SkillList): readonly string[] {
    return this.form().skills.find(({ skill }) => skill === key)?.has ?? NONE;
  }

  protected setSkill({ key }: SkillList, has: string[]): void {
    const others: RepSkill[] = this.form().skills.filter(({ skill }) => skill !== key);
    this.set({ skills: has.length === 0 ? others : [...others, { skill: key, has }] });
  }

  protected save(): void {
    const form = this.form();
    this.saved.emit({ ...form, whyNot: form.whyNot?.trim() ? form.whyNot.trim() : null });
  }
}
