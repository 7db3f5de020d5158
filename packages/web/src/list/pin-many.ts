import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import type { DoneEach, ProblemDocument } from '@relvik/contracts';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { LeadService } from '../record/lead.service';
import { PinTerritory, type TerritoryPin } from '../record/pin-territory';
import { DoneEachNote } from './done-each-note';

/** Pins the leads chosen in a list to a territory, or unpins them. */
@Component({
  selector: 'rv-pin-many',
  imports: [DoneEachNote, PinTerritory, ProblemNote],
  template: `
    <div class="tag-many">
      <rv-pin-territory [busy]="busy()" [unpins]="true" (pinned)="pin($event)" />
      @if (result(); as each) {
        <rv-done-each [each]="each" verb="changed" />
      }
      <rv-problem-note [problem]="problem()" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PinMany {
  private readonly leads = inject(LeadService);
  readonly ids = input.required<readonly number[]>();
  readonly pinned = output();
  protected readonly busy = signal(false);
  protected readonly result = signal<DoneEach | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected pin(pin: TerritoryPin): void {
    this.busy.set(true);
    this.leads.pin({ ids: this.ids(), ...pin }).subscribe({
      next: (result) => {
        this.busy.set(false);
        this.problem.set(null);
        this.result.set(result);
        this.pinned.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
