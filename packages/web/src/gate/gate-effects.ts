import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  addressFields,
  type DealRule,
  ENOUGH_WON,
  type Field,
  type Gate,
  type GateEffect,
  type PipelineKind,
  settingProblem,
  stagesOf,
  type TaskRule,
} from '@relvik/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { SelectModule } from 'primeng/select';
import { catchError, of } from 'rxjs';
import { CycleService } from './cycle.service';
import { CharterService } from '../charter/charter.service';
import { TaskRules } from '../task/task-rules';
import { TagWords } from '../record/tag-words';
import { ValueField } from '../record/value-field';
import { WordingService } from '../wording/wording.service';

type SetEffect = Extract<GateEffect, { kind: 'set' }>;

/** The effects of a gate, by kind. */
interface Effects {
  readonly set: readonly SetEffect[];
  readonly tags: readonly string[];
  readonly deal: DealRule | null;
  readonly tasks: readonly TaskRule[];
}

/** Edits what passing a gate does: it sets fields, tags, and makes tasks and a deal. */
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
    @if (kind() === 'lead') {
      <div class="joint">
        @if (deal(); as one) {
          <span>and makes a deal in</span>
          <p-select
            [ariaLabel]="'Stage of the deal that ' + gate().name + ' makes'"
            [options]="dealStages()"
            optionLabel="label"
            optionValue="value"
            [ngModel]="one.stage"
            (ngModelChange)="setDeal({ stage: $event })"
          />
          <span class="quiet">expected to close in</span>
          <input
            class="points-field"
            type="number"
            min="0"
            max="3650"
            [attr.aria-label]="'Days until the deal that ' + gate().name + ' makes is expected to close'"
            [value]="one.days"
            (change)="setDays($any($event.target).value)"
          />
          <span class="quiet">days,</span>
          <label
            ><input type="checkbox" [checked]="one.measured" (change)="setDeal({ measured: !one.measured })" /> or in
            the usual time, {{ cycleWords() }}</label
          >
          <button
            type="button"
            class="link"
            [attr.aria-label]="'Make no deal by ' + gate().name"
            (click)="emit({ deal: null })"
          >
            ×
          </button>
        } @else if (dealStages()[0]; as first) {
          <button type="button" class="link" (click)="emit({ deal: { stage: first.value, days: 60, measured: true } })">
            + make a deal
          </button>
        }
      </div>
      @if (deal() !== null) {
        <p class="quiet">Only of a lead that has no open deal, with its owner, amount, contact and company.</p>
      }
    }
    <rv-task-rules [tasks]="tasks()" [of]="gate().name" lead="and makes the" (changed)="emit({ tasks: $event })" />
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
  protected readonly deal = computed((): DealRule | null => {
    const found = this.gate().effects.find((effect) => effect.kind === 'deal');
    return found === undefined ? null : { stage: found.stage, days: found.days, measured: found.measured };
  });
  /** The open stages of deals in the draft, in which a deal can begin. */
  protected readonly dealStages = computed(() => {
    const charter = this.charters.shown();
    return charter === null
      ? []
      : stagesOf(charter, 'deal')
          .filter((stage) => stage.kind === 'open')
          .map(({ key, name }) => ({ value: key, label: name }));
  });
  private readonly cycle = toSignal(
    inject(CycleService)
      .cycle()
      .pipe(catchError(() => of(null))),
    {
      initialValue: null,
    },
  );
  protected readonly cycleWords = computed(() => {
    const cycle = this.cycle();
    if (cycle === null) return 'once enough deals were won';
    return cycle.days === null
      ? `once ${ENOUGH_WON} deals were won in a year (${cycle.won} so far)`
      : `now ${cycle.days} ${cycle.days === 1 ? 'day' : 'days'}, the median of ${cycle.won} deals won in a year`;
  });
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
    this.emit({ set: this.set().map((one, i) => (i === at ? { ...one, ...part } : one)) });
  }

  protected takeOut(at: number): void {
    this.emit({ set: this.set().filter((_, i) => i !== at) });
  }

  protected add({ key, options }: Field): void {
    this.emit({ set: [...this.set(), { kind: 'set', field: key, value: options[0] ?? '' }] });
  }

  protected setTags(tags: readonly string[]): void {
    this.emit({ tags });
  }

  protected setDeal(part: Partial<DealRule>): void {
    const deal = this.deal();
    if (deal !== null) this.emit({ deal: { ...deal, ...part } });
  }

  protected setDays(text: string): void {
    const days = Number(text);
    if (text.trim() !== '' && Number.isInteger(days) && days >= 0 && days <= 3650) this.setDeal({ days });
  }

  protected emit(part: Partial<Effects>): void {
    const { set, tags, deal, tasks } = {
      ...{ set: this.set(), tags: this.tags(), deal: this.deal(), tasks: this.tasks() },
      ...part,
    };
    this.changed.emit([
      ...set,
      ...tags.map((tag) => ({ kind: 'tag', tag }) as const),
      ...(deal === null ? [] : [{ kind: 'deal', ...deal } as const]),
      ...tasks.map((task) => ({ kind: 'task', ...task }) as const),
    ]);
  }
}
