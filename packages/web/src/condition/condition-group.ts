import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type Condition, type Scope, subjectsIn, type Test } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { TestEditor } from './test-editor';
import { freshTest, unwrapped, wrapped } from './test-kinds';

type Group = Condition & { readonly test: 'all' | 'any' };

const JOINTS = [
  { value: 'all', label: 'All of' },
  { value: 'any', label: 'Any of' },
  { value: 'not all', label: 'Not all of' },
  { value: 'not any', label: 'None of' },
];

/** A group of questions, each in a row, groups inside it indented. */
@Component({
  selector: 'rv-condition-group',
  imports: [FormsModule, SelectModule, TestEditor],
  template: `
    <div class="joint">
      <p-select
        ariaLabel="How the group is joined"
        [options]="joints"
        optionLabel="label"
        optionValue="value"
        [ngModel]="joint()"
        (ngModelChange)="join($event)"
      />
      @if (group().of.length === 0) {
        <span class="quiet">{{ group().test === 'all' ? 'nothing: it always holds' : 'nothing: it never holds' }}</span>
      }
      <button type="button" class="link" (click)="addTest()">+ test</button>
      <button type="button" class="link" (click)="addGroup()">+ group</button>
      @if (removable()) {
        <button type="button" class="link" (click)="removed.emit()">Remove the group</button>
      }
    </div>
    @for (part of group().of; track $index) {
      <div class="part">
        @if (isGroup(part)) {
          <rv-condition-group
            [condition]="part"
            [scope]="scope()"
            [removable]="true"
            (changed)="replace($index, $event)"
            (removed)="remove($index)"
          />
        } @else {
          <rv-test-editor [condition]="part" [scope]="scope()" (changed)="replace($index, $event)" />
          <button type="button" class="link" [attr.aria-label]="'Remove test ' + ($index + 1)" (click)="remove($index)">
            Remove
          </button>
        }
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConditionGroup {
  readonly condition = input.required<Condition>();
  readonly scope = input.required<Scope>();
  readonly removable = input(false);
  readonly changed = output<Condition>();
  readonly removed = output();
  protected readonly joints = JOINTS;

  private readonly parts = computed(() => unwrapped(this.condition()));
  protected readonly group = computed(() => this.parts().inner as Group);
  protected readonly joint = computed(() => `${this.parts().negated ? 'not ' : ''}${this.group().test}`);

  protected isGroup(part: Condition): boolean {
    const { test } = unwrapped(part).inner;
    return test === 'all' || test === 'any';
  }

  private say(of: readonly Condition[]): void {
    this.changed.emit(wrapped({ test: this.group().test, of }, this.parts().negated));
  }

  protected join(joint: string): void {
    const negated = joint.startsWith('not ');
    this.changed.emit(wrapped({ test: joint.endsWith('all') ? 'all' : 'any', of: this.group().of }, negated));
  }

  /** A first question, about the first of all that can be asked about. */
  private fresh(): readonly Test[] {
    return subjectsIn(this.scope())
      .slice(0, 1)
      .map((subject) => freshTest(subject, this.scope()));
  }

  protected addTest(): void {
    this.say([...this.group().of, ...this.fresh()]);
  }

  protected addGroup(): void {
    const inner = this.group().test === 'all' ? 'any' : 'all';
    this.say([...this.group().of, { test: inner, of: this.fresh() }]);
  }

  protected replace(at: number, part: Condition): void {
    this.say(this.group().of.map((one, i) => (i === at ? part : one)));
  }

  protected remove(at: number): void {
    this.say(this.group().of.filter((_, i) => i !== at));
  }
}
