import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { FieldRow, OptionListRow, ProblemDocument } from '@relvik/contracts';
import { FIELD_TYPES, type FieldType, isChosen, type RecordKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { TextareaModule } from 'primeng/textarea';
import { ProblemNote } from '../api/problem-note';
import { WordingService } from '../wording/wording.service';
import {
  feedTargets,
  type FieldForm,
  freeRoles,
  hasOptions,
  keyFrom,
  listChoices,
  mayChangeRole,
  ROLE_WORDS,
  TYPE_WORDS,
} from './field-form';

/** One field, typed in or changed in place: what it holds, what it is read for, whether it is personal, and what it feeds. */
@Component({
  selector: 'rv-field-editor',
  imports: [FormsModule, ButtonModule, CheckboxModule, InputTextModule, SelectModule, TextareaModule, ProblemNote],
  template: `
    @let one = form();
    <form class="editor at-once" (ngSubmit)="saved.emit(form())" (keydown.escape)="closed.emit()">
      <div class="joint">
        <input
          pInputText
          name="name"
          aria-label="Name"
          placeholder="Name"
          [ngModel]="one.name"
          (ngModelChange)="named($event)"
        />
        @if (field() === null) {
          <input
            pInputText
            name="key"
            class="code"
            aria-label="Key"
            placeholder="key"
            [ngModel]="one.key"
            (ngModelChange)="set({ key: $event })"
          />
          <p-select
            ariaLabel="What it holds"
            name="type"
            [options]="types"
            optionLabel="label"
            optionValue="value"
            [ngModel]="one.type"
            (ngModelChange)="typed($event)"
          />
        } @else {
          <span class="quiet"
            >key and type never change
            @if (one.role && !roleCanChange()) {
              ; it is {{ roleWords[one.role] }}
            }
          </span>
        }
        @if (roleCanChange() && roles().length > 1) {
          <p-select
            ariaLabel="What it is"
            name="role"
            [options]="roles()"
            optionLabel="label"
            optionValue="value"
            [ngModel]="one.role"
            (ngModelChange)="set({ role: $event })"
          />
        }
        <span class="ends">
          @if (field(); as known) {
            <button type="button" class="link" (click)="retired.emit(form())">
              {{ known.retired ? 'Use it again' : 'Retire it' }}
            </button>
          }
          <button type="button" class="link" (click)="closed.emit()">Cancel</button>
          <button pButton type="submit" [outlined]="field() !== null">
            {{ field() === null ? 'Add the field' : 'Save' }}
          </button>
        </span>
      </div>
      <label class="check" for="field-personal"
        ><p-checkbox
          inputId="field-personal"
          name="personal"
          [binary]="true"
          [ngModel]="one.personal"
          (ngModelChange)="set({ personal: $event })"
        />
        Personal: it tells who someone is, and stays on the server</label
      >
      @if (kind() === 'lead' && targets().length > 1) {
        <div class="joint">
          <span>What leads say in it goes to</span>
          <p-select
            ariaLabel="What it feeds"
            name="feeds"
            [options]="targets()"
            optionLabel="label"
            optionValue="value"
            [ngModel]="one.feeds"
            (ngModelChange)="set({ feeds: $event })"
          />
        </div>
      }
      @if (withOptions()) {
        @if (lists().length > 0) {
          <p-select
            ariaLabel="Whose options"
            name="list"
            [options]="shared()"
            optionLabel="label"
            optionValue="value"
            [ngModel]="one.optionList"
            (ngModelChange)="set({ optionList: $event })"
          />
        }
        @if (one.optionList === null) {
          <textarea
            pTextarea
            name="options"
            rows="6"
            aria-label="Options, one a line"
            placeholder="Options, one a line"
            [ngModel]="one.options"
            (ngModelChange)="set({ options: $event })"
          ></textarea>
        }
      }
      <rv-problem-note [problem]="problem()" />
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldEditor {
  private readonly words = inject(WordingService);
  readonly kind = input.required<RecordKind>();
  /** Null: a new one. */
  readonly field = input.required<FieldRow | null>();
  readonly begun = input.required<FieldForm>();
  readonly fields = input.required<readonly FieldRow[]>();
  readonly lists = input.required<readonly OptionListRow[]>();
  readonly problem = input.required<ProblemDocument | null>();
  readonly saved = output<FieldForm>();
  readonly retired = output<FieldForm>();
  readonly closed = output();

  protected readonly form = linkedSignal(() => this.begun());
  protected readonly types = FIELD_TYPES.map((value) => ({ value, label: TYPE_WORDS[value] }));
  protected readonly roleWords = ROLE_WORDS;
  protected readonly roles = computed(() => freeRoles(this.kind(), this.form().type, this.fields(), this.field()?.key));
  protected readonly roleCanChange = computed(() => this.field() === null || mayChangeRole(this.kind(), this.form()));
  protected readonly targets = computed(() =>
    feedTargets(this.form().type, this.fields(), (key) => this.words.wording().names.field(key)),
  );
  protected readonly shared = computed(() => listChoices(this.lists()));
  protected readonly withOptions = computed(() => {
    const field = this.field();
    return field === null ? isChosen(this.form().type) : hasOptions(field);
  });

  protected set(change: Partial<FieldForm>): void {
    this.form.update((form) => ({ ...form, ...change }));
  }

  protected named(name: string): void {
    const { key, name: before } = this.form();
    this.set(key === keyFrom(before) && this.field() === null ? { name, key: keyFrom(name) } : { name });
  }

  /** An e-mail tells who someone is, unless one says otherwise. What does not suit the type is let go. */
  protected typed(type: FieldType): void {
    this.set({ type, role: null, feeds: null, ...(type === 'email' ? { personal: true } : {}) });
  }
}
