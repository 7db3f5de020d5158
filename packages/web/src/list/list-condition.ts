import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { type Condition, conditionWords, type Problem, readCondition, type RecordKind, Spot } from '@relvik/core';
import { ConditionForm } from '../condition/condition-form';
import { WordingService } from '../wording/wording.service';

const NOTHING: Condition = { test: 'all', of: [] };

/** The condition of a list, as its address has it: in words, and opened in place to change it. */
@Component({
  selector: 'rv-list-condition',
  imports: [ConditionForm],
  template: `
    @if (condition(); as asked) {
      <span
        >only where <b>{{ words() }}</b></span
      >
      <button type="button" class="link" [attr.aria-expanded]="open()" (click)="open.set(!open())">
        {{ open() ? 'Done' : 'Change' }}
      </button>
      <button type="button" class="link" (click)="takeAway()">Take the condition away</button>
    } @else {
      <button type="button" class="link" [attr.aria-expanded]="open()" (click)="open.set(!open())">+ condition</button>
    }
    @if (unreadable()) {
      <span class="wrong" role="alert">The condition in the address can’t be read: {{ unreadable() }}</span>
    }
    @if (open()) {
      <div class="opened">
        <rv-condition-form
          [condition]="condition() ?? nothing"
          [scope]="scope()"
          (changed)="changed.emit(textOf($event))"
        />
      </div>
    }
  `,
  host: {
    class: 'list-condition',
    '[class.bare]': '!condition() && !open() && !unreadable()',
    '(keydown.escape)': 'open.set(false)',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListCondition {
  protected readonly wording = inject(WordingService);
  /** The condition as JSON; empty: none. */
  readonly when = input.required<string>();
  readonly kind = input<RecordKind>('lead');
  readonly changed = output<string | null>();
  protected readonly scope = computed(() => this.wording.listScope(this.kind()));
  protected readonly open = signal(false);
  protected readonly nothing = NOTHING;

  private readonly reading = computed((): { condition: Condition | null; problem: string } => {
    const text = this.when();
    if (text === '') return { condition: null, problem: '' };
    try {
      const problems: Problem[] = [];
      const condition = readCondition(JSON.parse(text), Spot.root(problems));
      const [first] = problems;
      return first === undefined
        ? { condition, problem: '' }
        : { condition: null, problem: `${first.path} ${first.message}` };
    } catch {
      return { condition: null, problem: 'it is cut off' };
    }
  });
  protected readonly condition = computed(() => this.reading().condition);
  protected readonly unreadable = computed(() => this.reading().problem);
  protected readonly words = computed(() => {
    const condition = this.condition();
    return condition === null ? '' : conditionWords(condition, this.wording.wording());
  });

  protected textOf(condition: Condition): string | null {
    const empty = (condition.test === 'all' || condition.test === 'any') && condition.of.length === 0;
    return empty ? null : JSON.stringify(condition);
  }

  protected takeAway(): void {
    this.open.set(false);
    this.changed.emit(null);
  }
}
