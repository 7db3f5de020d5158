import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import type { ProblemDocument, Taken, TakePreview, UnjudgedRow } from '@relvik/contracts';
import { type Field, kindOfField, unknownPart } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { ValueField } from '../record/value-field';
import { countOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';

/** Adds a spelling for a value that is not recognised, after a preview of the values that it corrects. */
@Component({
  selector: 'rv-take-spelling',
  imports: [ButtonModule, ProblemNote, ValueField],
  template: `
    <form class="joint" (submit)="take(); $event.preventDefault()" (keydown.escape)="closed.emit()">
      <span>From now on “{{ written() }}” stands for</span>
      <rv-value-field
        id="means"
        [field]="choosing()"
        [value]="means()"
        [country]="country()"
        (changed)="means.set($event)"
      />
      <button pButton type="submit" [disabled]="busy() || means() === ''">Add the spelling</button>
      <button type="button" class="link" (click)="closed.emit()">Cancel</button>
    </form>
    @if (told()) {
      <p class="quiet" role="status">{{ told() }}</p>
    }
    <rv-problem-note [problem]="problem()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TakeSpelling {
  private readonly catalogue = inject(CatalogueService);
  private readonly words = inject(WordingService);
  readonly row = input.required<UnjudgedRow>();
  readonly field = input.required<Field>();
  readonly taken = output<Taken>();
  readonly closed = output();
  protected readonly means = linkedSignal(() => this.row().likely ?? '');
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  private readonly preview = signal<TakePreview | null>(null);

  protected readonly written = computed(() => unknownPart(this.field(), this.row().raw));
  /** Of several options one is meant. */
  protected readonly choosing = computed(() => {
    const field = this.field();
    return field.type === 'choices' ? { ...field, type: 'choice' as const } : field;
  });
  /** Regions are offered of the country of the newest record. */
  protected readonly country = computed(() => this.row().country ?? this.row().likely?.slice(0, 2) ?? '');

  protected readonly told = computed(() => {
    const preview = this.preview();
    if (preview === null) return '';
    const { names } = this.words.wording();
    const corrected = preview.corrects.map(({ field, records, inBay }) => {
      const waiting = inBay > 0 ? `, ${inBay} of them in the bay` : '';
      return `${countOf(kindOfField(field), records)} in ${names.field(field)}${waiting}`;
    });
    const others = preview.others > 0 ? ` ${preview.others} of other countries stay as they are.` : '';
    return corrected.length === 0
      ? `It corrects nothing that waits, only what comes.${others}`
      : `It corrects ${corrected.join('; ')}, and all that comes so written. Leads are decided again; it can be undone.${others}`;
  });

  constructor() {
    effect((onCleanup) => {
      const means = this.means();
      this.preview.set(null);
      if (means === '') return;
      const { field, raw } = this.row();
      const asking = this.catalogue.previewTake({ field, raw, means }).subscribe({
        next: (preview) => {
          this.preview.set(preview);
          this.problem.set(null);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
        },
      });
      onCleanup(() => {
        asking.unsubscribe();
      });
    });
  }

  protected take(): void {
    const { field, raw } = this.row();
    this.busy.set(true);
    this.catalogue.takeFor({ field, raw, means: this.means() }).subscribe({
      next: (taken) => {
        this.busy.set(false);
        this.taken.emit(taken);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
