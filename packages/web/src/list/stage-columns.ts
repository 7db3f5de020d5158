import { type CdkDragDrop, DragDropModule } from '@angular/cdk/drag-drop';
import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { LeadRow, ProblemDocument } from '@relvik/contracts';
import type { PipelineKind, Stage } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { combineLatest, forkJoin, map, type Observable, startWith, Subject, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { GradeBadge } from '../ui/grade-badge';
import { pathOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';

/** A record as a column shows it. */
export interface StageCard extends Pick<LeadRow, 'id' | 'name' | 'grade' | 'fitBand' | 'engagementBand' | 'rank'> {
  /** Its company or contact, shown below the name. */
  readonly beside: string;
  /** Its amount. Missing: the kind has none. */
  readonly worth?: string;
  /** Warnings about it. */
  readonly amiss?: readonly string[];
}

/** The heading of a column. */
export interface ColumnHead {
  readonly count: number;
  /** The sum of their amounts. Missing: the kind has none. */
  readonly worth?: string;
  /** Warnings about some of them. */
  readonly amiss?: readonly string[];
}

/** Where columns get their records from, and how a hand moves one. */
export interface ColumnSource {
  readonly page: (stage: Stage) => Observable<readonly StageCard[]>;
  /** By stage; one that is missing has no records. */
  readonly heads: (stages: readonly Stage[]) => Observable<ReadonlyMap<string, ColumnHead>>;
  /** Gives why it stays where it is; null: it moved. */
  readonly move: (id: number, stage: string, reason: string | null) => Observable<string | null>;
}

/** A move that is not done yet, since it takes a reason or is not allowed. */
interface Held {
  readonly card: StageCard;
  readonly stage: Stage;
  readonly why: string;
}

/** The records of a list in columns, one for each stage of a pipeline: a hand moves them by drag, or with Shift and an arrow. */
@Component({
  selector: 'rv-stage-columns',
  imports: [
    DecimalPipe,
    DragDropModule,
    FormsModule,
    RouterLink,
    ButtonModule,
    InputTextModule,
    SelectModule,
    GradeBadge,
    ProblemNote,
    Waiting,
  ],
  templateUrl: './stage-columns.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StageColumns {
  protected readonly words = inject(WordingService);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  readonly kind = input.required<PipelineKind>();
  readonly source = input.required<ColumnSource>();

  private readonly chosen = signal<string | null>(null);
  protected readonly pipelines = computed(() => [...this.words.pipelinesOf(this.kind())]);
  protected readonly pipeline = computed(
    () => this.pipelines().find(({ key }) => key === this.chosen()) ?? this.pipelines()[0] ?? null,
  );
  protected readonly path = computed(() => pathOf(this.kind()));
  protected readonly busy = signal(false);
  protected readonly held = signal<Held | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly said = signal('');
  protected reason = '';

  private readonly again = new Subject<void>();
  private readonly asked = computed(() => ({ source: this.source(), stages: this.pipeline()?.stages ?? [] }));
  protected readonly loaded = toSignal(
    combineLatest([toObservable(this.asked), this.again.pipe(startWith(undefined))]).pipe(
      switchMap(([{ source, stages }]) =>
        asLoaded(
          forkJoin([source.heads(stages), forkJoin(stages.map((stage) => source.page(stage)))]).pipe(
            map(([heads, pages]) =>
              stages.map((stage, i) => ({
                stage,
                cards: [...(pages[i] ?? [])],
                head: heads.get(stage.key) ?? { count: 0 },
              })),
            ),
          ),
        ),
      ),
    ),
    { initialValue: LOADING },
  );
  private kept: readonly Column[] = [];
  /** Kept while they are loaded again, so that the page does not jump. */
  protected readonly columns = computed(
    () => (this.kept = valueOf(this.loaded()) ?? (this.loaded().state === 'loading' ? this.kept : [])),
  );

  protected choose(pipeline: string): void {
    this.chosen.set(pipeline);
    this.held.set(null);
  }

  protected drop({ item, container, previousContainer }: CdkDragDrop<Stage, Stage, StageCard>): void {
    if (container !== previousContainer) this.move(item.data, container.data, null);
  }

  /** Shift and an arrow move a card to the column beside; an arrow alone goes to the next card. */
  protected press(event: KeyboardEvent, column: Column, card: StageCard): void {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (by === undefined || !event.shiftKey) return;
    event.preventDefault();
    const columns = this.columns();
    const next = columns[columns.findIndex(({ stage }) => stage.key === column.stage.key) + by];
    if (next !== undefined) this.move(card, next.stage, null);
  }

  protected moveHeld({ card, stage }: Held): void {
    if (this.reason.trim() !== '') this.move(card, stage, this.reason.trim());
  }

  private move(card: StageCard, stage: Stage, reason: string | null): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.said.set('');
    this.source()
      .move(card.id, stage.key, reason)
      .subscribe({
        next: (why) => {
          this.busy.set(false);
          this.problem.set(null);
          this.held.set(why === null ? null : { card, stage, why });
          this.reason = '';
          if (why === null) {
            this.said.set(`${card.name} stands in ${stage.name} now.`);
            this.again.next();
          } else setTimeout(() => this.host.nativeElement.querySelector<HTMLElement>('.held input')?.focus());
        },
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
          this.again.next();
        },
      });
  }
}

interface Column {
  readonly stage: Stage;
  readonly cards: StageCard[];
  readonly head: ColumnHead;
}
