import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import type { Condition, Scope } from '@relvik/core';
import { ConditionGroup } from './condition-group';
import { FeelEditor } from './feel-editor';
import { unwrapped } from './test-kinds';

/**
 * A condition as one edits it, wherever it stands: question by question, or as text in FEEL. A lone test stands in a group
 * of one, so that another can be added.
 */
@Component({
  selector: 'rv-condition-form',
  imports: [ConditionGroup, FeelEditor],
  template: `
    @if (asText()) {
      @defer (on immediate) {
        <rv-feel-editor [condition]="condition()" [scope]="scope()" (changed)="changed.emit($event)" />
      } @placeholder {
        <p class="quiet">Opening the text …</p>
      }
    } @else {
      <rv-condition-group [condition]="group()" [scope]="scope()" (changed)="take($event)" />
    }
    <button type="button" class="link as-text" [attr.aria-pressed]="asText()" (click)="asText.set(!asText())">
      {{ asText() ? 'Question by question' : 'As text (FEEL)' }}
    </button>
  `,
  host: { class: 'condition-form' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionForm {
  readonly condition = input.required<Condition>();
  readonly scope = input.required<Scope>();
  readonly changed = output<Condition>();
  protected readonly asText = signal(false);

  protected readonly group = computed((): Condition => {
    const condition = this.condition();
    const { test } = unwrapped(condition).inner;
    return test === 'all' || test === 'any' ? condition : { test: 'all', of: [condition] };
  });

  protected take(condition: Condition): void {
    // A group of one test is that test: the charter stays as short as it was.
    const single = condition.test === 'all' && condition.of.length === 1 ? condition.of[0] : undefined;
    this.changed.emit(single ?? condition);
  }
}
