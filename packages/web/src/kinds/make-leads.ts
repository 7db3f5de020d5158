import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { LeadsMade, ProblemDocument } from '@relvik/contracts';
import type { TieKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { WordingService } from '../wording/wording.service';
import { RecordService } from './record.service';

/** Makes a lead of each of some contacts or companies; of one alone its lead is opened. */
@Component({
  selector: 'rv-make-leads',
  imports: [FormsModule, RouterLink, ButtonModule, SelectModule, ProblemNote],
  template: `
    <div class="joint make-leads">
      @if (pipelines().length > 1) {
        <p-select
          ariaLabel="Pipeline of the new leads"
          [options]="pipelines()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="pipeline() ?? pipelines()[0]?.key"
          (ngModelChange)="pipeline.set($event)"
        />
      }
      <button pButton type="button" [outlined]="true" [disabled]="busy()" (click)="make()">
        {{ ids().length === 1 ? 'Make a lead' : 'Make a lead of each' }}
      </button>
      @if (made(); as result) {
        <span role="status">{{ words() }}</span>
        @for (one of result.refused.slice(0, few); track one.id) {
          <small class="wrong"
            ><a [routerLink]="[path(), one.id]">{{ kind() }} {{ one.id }}</a> {{ one.why }}</small
          >
        }
      }
      <rv-problem-note [problem]="problem()" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MakeLeads {
  private readonly records = inject(RecordService);
  private readonly wording = inject(WordingService);
  private readonly router = inject(Router);
  readonly kind = input.required<TieKind>();
  readonly ids = input.required<readonly number[]>();
  readonly path = input.required<string>();
  readonly done = output();

  /** As many of those that were refused are named. */
  protected readonly few = 5;
  protected readonly pipelines = computed(() => [...this.wording.pipelinesOf('lead')]);
  protected readonly pipeline = signal<string | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly made = signal<LeadsMade | null>(null);
  protected readonly words = computed(() => {
    const { leads = [], refused = [] } = this.made() ?? {};
    const open = leads.filter(({ wasOpen }) => wasOpen).length;
    const some = (n: number, one: string, more: string): string[] => (n === 0 ? [] : [`${n} ${n === 1 ? one : more}`]);
    return [
      ...some(leads.length - open, 'lead made', 'leads made'),
      ...some(open, 'was open already', 'were open already'),
      ...some(refused.length, 'refused', 'refused'),
    ].join(', ');
  });

  protected make(): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.made.set(null);
    this.records.makeLeads(this.kind(), { ids: this.ids(), pipeline: this.pipeline() }).subscribe({
      next: (made) => {
        this.busy.set(false);
        this.problem.set(null);
        this.made.set(made);
        const [first] = made.leads;
        if (this.ids().length === 1 && first !== undefined) void this.router.navigate(['/leads', first.lead]);
        this.done.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
