import { ChangeDetectionStrategy, Component, inject, linkedSignal, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { messageAt, problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { HandlingChoice } from './handling-choice';
import { LeadService } from './lead.service';
import { PipelineChoice } from './pipeline-choice';
import { ValueField } from './value-field';
import { WordingService } from '../wording/wording.service';

/** A lead typed in by hand: the same decisions as for any other. */
@Component({
  selector: 'rv-new-lead',
  imports: [RouterLink, ButtonModule, HandlingChoice, PipelineChoice, ProblemNote, ValueField],
  template: `
    <section class="page">
      <h1>Add a lead</h1>
      <p class="quiet">
        An e-mail, a name or a company is enough. If an open lead of the pipeline has the same e-mail, what you type
        joins it.
      </p>
      <form (submit)="bringIn($event)" class="fields two pairs">
        <rv-pipeline-choice kind="lead" [(chosen)]="pipeline" />
        @for (field of words.fields(); track field.key) {
          <label [for]="'new-' + field.key">{{ field.name }}</label>
          <div>
            <rv-value-field
              [id]="'new-' + field.key"
              [field]="field"
              [value]="values()[field.key] ?? ''"
              [country]="values()[words.countryKey('lead')] ?? ''"
              (changed)="set(field.key, $event)"
            />
            @if (message(field.key); as wrong) {
              <small class="wrong">{{ wrong }}</small>
            }
          </div>
        }
        <span class="label">Then</span>
        <rv-handling-choice label="What is done with the lead" [(chosen)]="handling" />
        <label class="tick"
          ><input type="checkbox" [checked]="test()" (change)="test.set(!test())" /> Only a test: it joins nobody and
          can be removed without a trace in lists and counts</label
        >
        <rv-problem-note [problem]="problem()" />
        <div class="buttons">
          <button pButton type="submit" [disabled]="busy()">Add the lead</button>
          <a pButton routerLink="/leads" [text]="true">Cancel</a>
        </div>
      </form>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewLeadPage {
  private readonly leads = inject(LeadService);
  private readonly router = inject(Router);
  protected readonly words = inject(WordingService);
  protected readonly values = signal<Readonly<Record<string, string>>>({});
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  protected readonly test = signal(false);
  protected readonly handling = linkedSignal(() => this.words.byHand());
  protected readonly pipeline = signal<string | null>(null);
  private once = crypto.randomUUID();

  protected set(key: string, value: string): void {
    this.values.update((values) => ({ ...values, [key]: value }));
  }

  protected message(key: string): string | null {
    return messageAt(this.problem(), `/values/${key}`);
  }

  protected bringIn(event: Event): void {
    event.preventDefault();
    if (this.busy()) return;
    this.busy.set(true);
    const values = Object.fromEntries(Object.entries(this.values()).filter(([, value]) => value !== ''));
    this.leads
      .bringIn(
        { values, pipeline: this.pipeline(), owner: null, test: this.test(), handling: this.handling() },
        this.once,
      )
      .subscribe({
        next: ({ id }) => void this.router.navigate(['/leads', id]),
        error: (error: unknown) => {
          this.busy.set(false);
          const problem = problemOf(error);
          this.problem.set(problem);
          // Refused: what is sent next is another request. Where it is not known how it ended, it is the same one.
          if (problem.status < 500) this.once = crypto.randomUUID();
        },
      });
  }
}
