import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { DoneEach, LeadDetail, ProblemDocument } from '@relvik/contracts';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { LeadService } from '../record/lead.service';
import { MoveStage, type StageMove } from '../record/move-stage';
import { WordingService } from '../wording/wording.service';
import { DoneEachNote } from './done-each-note';

/** Moves the leads chosen in a list to another stage; those that stay are told why. */
@Component({
  selector: 'rv-move-many',
  imports: [DoneEachNote, MoveStage, ProblemNote],
  template: `
    <div class="tag-many">
      <rv-move-stage [moves]="moves()" [busy]="busy()" (moved)="move($event)" />
      @if (result(); as each) {
        <rv-done-each [each]="each" verb="moved" />
      }
      <rv-problem-note [problem]="problem()" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MoveMany {
  private readonly leads = inject(LeadService);
  private readonly words = inject(WordingService);
  readonly ids = input.required<readonly number[]>();
  readonly moved = output();
  protected readonly busy = signal(false);
  protected readonly result = signal<DoneEach | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);

  /** Which of them may go there is told by the charter, lead by lead; along which gates nobody knows here. */
  protected readonly moves = computed((): LeadDetail['moves'] =>
    this.words.stagesOf('lead').map(({ key }) => ({ stage: key, needsReason: true })),
  );

  protected move({ stage, reason }: StageMove): void {
    this.busy.set(true);
    this.leads.move({ ids: this.ids(), stage, reason }).subscribe({
      next: (result) => {
        this.busy.set(false);
        this.problem.set(null);
        this.result.set(result);
        this.moved.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
