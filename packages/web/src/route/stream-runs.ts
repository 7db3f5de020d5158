import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, DestroyRef, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ProblemDocument, RunPreview, ScheduledStream } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { ProgressBarModule } from 'primeng/progressbar';
import { catchError, EMPTY, type Observable, switchMap, timer } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { momentWords } from '../people/moment-words';
import { placesWords } from '../record/places-words';
import { WordingService } from '../wording/wording.service';
import { StreamRunsService } from './stream-runs.service';

/** How often the page asks how far runs are, ms. */
const LOOK = 1500;

/** Streams in force that run by the clock: when next, how the last run ended, and a run now, which is previewed first and can be stopped. */
@Component({
  selector: 'rv-stream-runs',
  imports: [AgoPipe, ButtonModule, DecimalPipe, ProblemNote, ProgressBarModule],
  templateUrl: './stream-runs.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StreamRuns {
  private readonly service = inject(StreamRunsService);
  private readonly words = inject(WordingService);
  private readonly destroyed = inject(DestroyRef);
  protected readonly streams = signal<readonly ScheduledStream[]>([]);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly momentWords = momentWords;
  protected readonly busy = signal(false);
  /** The stream whose run is previewed, and what it would do. */
  protected readonly previewed = signal<{ readonly stream: string; readonly preview: RunPreview } | null>(null);
  protected readonly foreseen = computed(() => {
    const shown = this.previewed();
    if (shown === null) return null;
    const { leads, shown: carried, places } = shown.preview;
    return { stream: shown.stream, leads, carried, words: placesWords(places, this.words.wording().names) };
  });

  constructor() {
    timer(0, LOOK)
      .pipe(
        // A look that fails is made up for by the next one.
        switchMap(() => this.service.scheduled().pipe(catchError(() => EMPTY))),
        takeUntilDestroyed(),
      )
      .subscribe((streams) => {
        this.streams.set(streams);
      });
  }

  protected preview(stream: string): void {
    this.run(this.service.preview(stream), (preview) => {
      this.previewed.set({ stream, preview });
    });
  }

  protected begin(stream: string): void {
    this.run(this.service.begin(stream), () => {
      this.previewed.set(null);
    });
  }

  protected stop(id: number): void {
    this.run(this.service.stop(id), () => undefined);
  }

  private run<T>(work: Observable<T>, done: (result: T) => void): void {
    if (this.busy()) return;
    this.busy.set(true);
    work
      .pipe(
        switchMap((result) => {
          done(result);
          return this.service.scheduled();
        }),
        takeUntilDestroyed(this.destroyed),
      )
      .subscribe({
        next: (streams) => {
          this.busy.set(false);
          this.problem.set(null);
          this.streams.set(streams);
        },
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
        },
      });
  }
}
