import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { AXES, type Axis, type AxisBounds, type Condition, type ScoreSet } from '@relvik/core';
import { ConditionEditor } from '../condition/condition-editor';
import { pluralOf } from '../wording/kind-words';

type SetChange = (set: ScoreSet) => ScoreSet;

/** One score set, opened in place: its name, its bounds, and whom it admits. */
@Component({
  selector: 'rv-set-editor',
  imports: [ConditionEditor],
  templateUrl: './set-editor.html',
  host: { class: 'editor', '(keydown.escape)': 'closed.emit()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetEditor {
  readonly set = input.required<ScoreSet>();
  /** The only set can't be taken out. */
  readonly alone = input.required<boolean>();
  /** There are as many sets as there may be. */
  readonly full = input.required<boolean>();
  readonly changed = output<SetChange>();
  readonly copied = output();
  readonly removed = output();
  readonly closed = output();
  protected readonly plural = pluralOf;
  protected readonly axes = computed(() =>
    AXES.map((axis) => ({ axis, title: axis === 'fit' ? 'Fit' : 'Engagement', bounds: this.set()[axis] })),
  );

  protected rename(name: string): void {
    if (name.trim() !== '') this.changed.emit((set) => ({ ...set, name: name.trim() }));
  }

  protected ask(when: Condition): void {
    this.changed.emit((set) => ({ ...set, when }));
  }

  /** What is no number shows again what counts. */
  protected bound(axis: Axis, part: keyof AxisBounds, field: HTMLInputElement): void {
    const value = Number(field.value);
    if (field.value.trim() === '' || !Number.isFinite(value)) field.value = String(this.set()[axis][part]);
    else this.changed.emit((set) => ({ ...set, [axis]: { ...set[axis], [part]: value } }));
  }
}
