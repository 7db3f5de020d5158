import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  correctRateSchema,
  type NewRate,
  type ProblemDocument,
  type RateGiven,
  type RateList,
} from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { CatalogueService } from './catalogue.service';

/** Rates of currencies, each from a day on; each can be corrected. */
@Component({
  selector: 'rv-rates',
  imports: [FormsModule, ButtonModule, InputTextModule, ProblemNote],
  templateUrl: './rates.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Rates {
  private readonly catalogue = inject(CatalogueService);
  readonly list = input.required<RateList>();
  readonly given = output<RateGiven>();
  /** The rate that is being put right. */
  protected readonly editing = signal<NewRate | null>(null);
  protected readonly typed = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected begin(rate: NewRate): void {
    this.editing.set(rate);
    this.typed.set(rate.rate);
    this.problem.set(null);
  }

  protected save(): void {
    const rate = this.editing();
    if (rate === null || this.busy()) return;
    const wrong = problemIn(correctRateSchema, { rate: this.typed() });
    this.problem.set(wrong);
    if (wrong !== null) return;
    this.busy.set(true);
    this.catalogue.correctRate({ ...rate, rate: this.typed() }).subscribe({
      next: (given) => {
        this.busy.set(false);
        this.editing.set(null);
        this.given.emit(given);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
