import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Reasoning } from '@relvik/contracts';
import type { Occasion } from '@relvik/core';
import { DecisionView } from './decision-view';
import { WordingService } from './wording.service';

const OCCASION_WORDS: { readonly [O in Occasion]: string } = {
  created: 'when it came in',
  joined: 'when an inquiry joined it',
  edited: 'after an edit',
  activity: 'after something they did',
  time: 'as time passed',
  freed: 'when someone was free',
  enacted: 'when the charter came into force',
  regated: 'when the charter came into force, gates too',
  rerouted: 'when the charter came into force, gates and routes too',
  'looked-at': 'as it would be now',
};

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
  protected readonly occasion = computed(() => OCCASION_WORDS[this.decision().occasion]);
  protected readonly wording = this.words.wording;
}
