import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  addressFields,
  type Field,
  type Gate,
  type GateEffect,
  type PipelineKind,
  settingProblem,
  type TaskRule,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { TaskRules } from '../task/task-rules';
import { TagWords } from '../record/tag-words';
import { ValueField } from '../record/value-field';
import { WordingService } from '../wording/wording.service';

type SetEffect = Extract<GateEffect, { kind: 'set' }>;

/** Edits what passing a gate does: it sets fields, tags, and makes tasks. */
@Component({
  selector: 'rv-gate-effects',
  imports: [FormsModule, SelectModule, TagWords, TaskRules, ValueField],
  template: `
    @for (one of set(); track one.field; let i = $index) {
      <div class="joint">
        <span>{{ i === 0 ? 'Passing it sets' : 'and' }}</span>
        <p-select
          [ariaLabel]="'Field ' + (i + 1) + ' that ' + gate().name + ' sets'"
          [options]="fieldsFor(one.field)"
          optionLabel="name"
          optionValue="key"
          [filter]="true"
          [ngModel]="one.field"
          (ngModelChange)="change(i, { field: $event, value: '' })"
        />
        <span>to</span>
        @if (fieldOf(one.field); as field) {
          <rv-value-field
            [id]="gate().key + '-sets-' + one.field"
            [field]="field"
            [value]="one.value"
            (changed)="change(i, { value: $event })"
          />
        }
        @if (one.value.trim() === '') {
          <span class="quiet">it is emptied</span>
        }
        <button
          type="button"
          class="link"
          [attr.aria-label]="'Do not set ' + (fieldOf(one.field)?.name ?? one.field)"
          (click)="takeOut(i)"
        >
          ×
        </button>
      </div>
    }
    <div class="joint">
      <span>{{ set().length === 0 ? 'Passing it tags the ' + kind() : 'and tags the ' + kind() }}</span>
      <rv-tag-words
        [inputId]="gate().key + '-tags'"
        [label]="'Tags that ' + gate().name + ' adds'"
        [words]="tags()"
        (changed)="setTags($event)"
      />
      @if (free()[0]; as next) {
        <button type="button" class="link" (click)="add(next)">+ set a field</button>
      }
    </div>
    <rv-task-rules [tasks]="tasks()" [of]="gate().name" lead="and makes the" (changed)="emit(set(), tags(), $event)" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GateEffects {
  private readonly charters = inject(CharterService);
  private readonly wording = inject(WordingService);
  readonly gate = input.required<Gate>();
  /** Of the records that it moves. */
  readonly kind = input.required<PipelineKind>();
  readonly changed = output<readonly GateEffect[]>();

  protected readonly set = computed(() => this.gate().effects.filter((one) => one.kind === 'set'));
  protected readonly tags = computed(() =>
    this.gate().effects.flatMap((effect) => (effect.kind === 'tag' ? [effect.tag] : [])),
  );
  protected readonly tasks = computed(() =>
    this.gate().effects.flatMap((effect): TaskRule[] => {
      if (effect.kind !== 'task') return [];
      const { kind: _, ...task } = effect;
      return [task];
    }),
  );
  /** Fields that a gate may set, and that this one does not set yet. */
  protected readonly free = computed(() => {
    const territories = this.charters.shown()?.territories;
    const address = territories === undefined ? [] : addressFields(territories);
    const taken = new Set(this.set().map(({ field }) => field));
    const kind = this.kind();
    return this.wording
      .fieldsOf(kind)
      .filter((field) => !taken.has(field.key) && settingProblem(field, kind, address) === null);
  });

  protected fieldOf(key: string): Field | null {
    return this.wording.catalogue().get(key) ?? null;
  }

  protected fieldsFor(own: string): Field[] {
    const field = this.fieldOf(own);
    return field === null ? this.free() : [field, ...this.free()];
  }

  protected change(at: number, part: Partial<SetEffect>): void {
    this.emit(this.set().map((one, i) => (i === at ? { ...one, ...part } : one)));
  }

  protected takeOut(at: number): void {
    this.emit(this.set().filter((_, i) => i !== at));
  }

  protected add({ key, options }: Field): void {
    this.emit([...this.set(), { kind: 'set', field: key, value: options[0] ?? '' }]);
  }

  protected setTags(tags: readonly string[]): void {
    this.emit(this.set(), tags);
  }

  protected emit(
    set: readonly SetEffect[],
    tags: readonly string[] = this.tags(),
    tasks: readonly TaskRule[] = this.tasks(),
  ): void {
    this.changed.emit([
      ...set,
      ...tags.map((tag) => ({ kind: 'tag', tag }) as const),
      ...tasks.map((task) => ({ kind: 'task', ...task }) as const),
    ]);
  }
}
