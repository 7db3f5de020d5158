import { ChangeDetectionStrategy, Component, computed, inject, input, numberAttribute } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { GradeBadge } from '../ui/grade-badge';
import { PlaceLabel } from '../record/place-label';
import { ScoreAccount } from '../record/score-account';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { CompanyService } from './company.service';

/** One company: its scores and why, what is known of it, and its leads. */
@Component({
  selector: 'rv-company',
  imports: [RouterLink, GradeBadge, PlaceLabel, ScoreAccount, Waiting],
  templateUrl: './company.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CompanyPage {
  private readonly companies = inject(CompanyService);
  protected readonly words = inject(WordingService);
  readonly id = input.required({ transform: numberAttribute });
  protected readonly loaded = toSignal(
    toObservable(this.id).pipe(switchMap((id) => asLoaded(this.companies.one(id)))),
    { initialValue: LOADING },
  );
  protected readonly company = computed(() => valueOf(this.loaded()));
  /** What is known of it, without what is one person's. */
  protected readonly values = computed(() => {
    const { fields, names } = this.words.wording();
    return (this.company()?.values ?? [])
      .filter(({ field }) => !PERSONAL.includes(field))
      .map(({ field, shown, unreadable }) => ({
        name: names.field(field),
        shown: shownAs(fields.get(field)?.type ?? 'text', shown),
        unreadable,
      }));
  });
}

/** Fields that tell of a person, not of the company. */
const PERSONAL = ['name', 'email', 'phone', 'title', 'company'];
