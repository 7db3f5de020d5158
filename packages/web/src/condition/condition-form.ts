import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Condition, Field } from '@relvik/core';
import { ConditionGroup } from './condition-group';
import { unwrapped } from './test-kinds';

/** A condition as one edits it, wherever it stands: a lone test stands in a group of one, so that another can be added. */
@Component({
  selector: 'rv-condition-form',
  imports: [ConditionGroup],
  template: `<rv-condition-group [condition]="group()" [fields]="fields()" (changed)="take($event)" />`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionForm {
  readonly condition = input.required<Condition>();
  readonly fields = input.required<readonly Field[]>();
  readonly changed = output<Condition>();

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
