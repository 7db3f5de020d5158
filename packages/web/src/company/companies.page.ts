import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { CompanyQuery, CompanyRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { GradeBadge } from '../ui/grade-badge';
import { WordingService } from '../wording/wording.service';
import { CompanyService } from './company.service';

/** Companies, the best rank first, with what each of their score sets gives. */
@Component({
  selector: 'rv-companies',
  imports: [DatePipe, FormsModule, RouterLink, ButtonModule, InputTextModule, SelectModule, GradeBadge, Waiting],
  templateUrl: './companies.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CompaniesPage {
  private readonly router = inject(Router);
  private readonly companies = inject(CompanyService);
  protected readonly words = inject(WordingService);
  /** From the address. */
  readonly find = input<string>();
  readonly set = input<string>();
  protected readonly rankings = computed(() => [
    { key: null, name: 'Ranked by the grading set' },
    ...this.words.companySets(),
  ]);
  private readonly asked = computed((): CompanyQuery => ({ find: this.find(), set: this.set() }));
  /** The marks of the pages before this one; another search begins at the first. */
  protected readonly passed = linkedSignal<CompanyQuery, readonly string[]>({
    source: this.asked,
    computation: () => [],
  });
  private readonly query = computed((): CompanyQuery => ({ ...this.asked(), after: this.passed().at(-1) }));
  protected readonly loaded = toSignal(
    toObservable(this.query).pipe(switchMap((query) => asLoaded(this.companies.page(query)))),
    { initialValue: LOADING },
  );
  protected readonly page = computed(() => valueOf(this.loaded()));

  protected readonly anyBeside = computed(() =>
    (this.page()?.rows ?? []).some(({ beside }) => Object.keys(beside).length > 0),
  );

  protected besideOf({ beside }: CompanyRow): { readonly name: string; readonly scores: string }[] {
    return Object.entries(beside).map(([set, { rank, fit, engagement }]) => ({
      name: this.words.wording().names.set(set),
      scores: `${rank ?? '–'} (${fit ?? '–'} · ${engagement ?? '–'})`,
    }));
  }

  protected ask(change: { readonly find: string | null } | { readonly set: string | null }): void {
    void this.router.navigate([], { queryParams: change, queryParamsHandling: 'merge' });
  }

  protected next(): void {
    const next = this.page()?.next;
    if (next) this.passed.update((passed) => [...passed, next]);
  }

  protected back(): void {
    this.passed.update((passed) => passed.slice(0, -1));
  }
}
