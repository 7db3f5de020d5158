import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Reasoning } from '@relvik/contracts';
import { gradeWords } from '@relvik/core';
import { DecisionView } from './decision-view';
import { occasionWords } from './occasion-words';
import { WordingService } from '../wording/wording.service';

/** Why this score, grade, stage and owner; as it was decided, and as it would be decided now. */
@Component({
  selector: 'rv-reasoning',
  imports: [DatePipe, DecisionView],
  templateUrl: './reasoning-view.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ReasoningView {
  private readonly words = inject(WordingService);
  readonly reasoning = input.required<Reasoning>();
  protected readonly reading = signal<'then' | 'now'>('then');
  protected readonly shown = computed(() => this.reasoning()[this.reading()]);
  protected readonly decision = computed(() => this.shown().decision);
  protected readonly occasion = computed(() => occasionWords(this.decision().occasion));
  protected readonly wording = this.words.wording;
  protected readonly gradeWords = gradeWords;
}
