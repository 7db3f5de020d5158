import { DecimalPipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { type Condition, type Match, readableIn, type RecordKind, type RulePlace } from '@relvik/core';
import { CharterService } from '../charter/charter.service';
import { ImpactService } from '../impact/impact.service';
import { pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { ConditionForm } from './condition-form';

/** The condition of a rule, opened in place, with how many leads it holds for beside it while it is typed. */
@Component({
  selector: 'rv-condition-editor',
  imports: [DecimalPipe, ConditionForm],
  template: `
    <rv-condition-form [condition]="condition()" [scope]="scope()" (changed)="changed.emit($event)" />
    <p class="match" role="status">
      @if (match(); as found) {
        <b>{{ found.yes | number }}</b> {{ matching(found.yes) }}
        @if (names()) {
          : {{ names() }}
        }
        @if (found.blank > 0) {
          <span class="quiet">; of these, {{ found.blank | number }} are blank</span>
        }
        @if (found.unjudged > 0) {
          <span class="wrong">; {{ found.unjudged | number }} can’t be judged</span>
        }
      } @else {
        <span class="quiet">counting …</span>
      }
    </p>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionEditor {
  private readonly charters = inject(CharterService);
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  readonly condition = input.required<Condition>();
  readonly place = input.required<RulePlace>();
  readonly changed = output<Condition>();

  protected readonly match = signal<Match | null>(null);
  protected readonly names = signal('');

  /** The kind of records that the condition is asked of. */
  private readonly kind = computed((): RecordKind => this.impacts.kindAt(this.place()));

  protected matching(count: number): string {
    return count === 1 ? `${this.kind()} matches` : `${pluralOf(this.kind())} match`;
  }

  protected readonly scope = computed(() => {
    const charter = this.charters.shown();
    return charter === null
      ? this.words.listScope()
      : readableIn(charter, this.words.around(), this.place(), this.kind());
  });

  constructor() {
    effect(() => {
      const condition = this.condition();
      const place = this.place();
      // Asked again when the draft changes around it, or the population comes.
      this.impacts.impact();
      untracked(() => void this.count(condition, place));
    });
  }

  private async count(condition: Condition, place: RulePlace): Promise<void> {
    const found = await this.impacts.match(condition, place).catch(() => null);
    if (condition !== this.condition() || found === null) return;
    this.match.set(found);
    if (this.kind() !== 'lead') {
      this.names.set('');
      return;
    }
    const leads = await this.impacts.namesOf(found.ids).catch(() => null);
    if (condition !== this.condition() || leads === null) return;
    const names = found.ids.map((id) => leads.get(id)?.company || leads.get(id)?.name).filter(Boolean);
    this.names.set(names.length < found.yes ? `${names.join(', ')} …` : names.join(', '));
  }
}
