import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { RecordDetail } from '@relvik/contracts';
import type { Observable } from 'rxjs';
import { saidOf } from '../record/said-words';
import { ValueField } from '../record/value-field';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { RecordService } from './record.service';

/** The values of a contact, company or deal, changed in place; each says whether a hand set it or its leads do. */
@Component({
  selector: 'rv-record-values',
  imports: [ValueField],
  template: `
    <dl class="values">
      @for (item of fields(); track item.field.key) {
        <div>
          <dt>{{ item.field.name }}</dt>
          @if (editing() === item.field.key) {
            <dd class="editing">
              <rv-value-field
                [id]="'edit-' + item.field.key"
                [field]="item.field"
                [value]="typed()"
                [country]="country()"
                (changed)="typed.set($event)"
                (keydown.escape)="editing.set(null)"
                (keydown.control.enter)="save()"
              />
              <button type="button" class="link" (click)="save()" [disabled]="busy()">Save</button>
              <button type="button" class="link" (click)="editing.set(null)">Cancel</button>
            </dd>
          } @else {
            <dd>
              <span [class.unreadable]="item.unreadable">{{ item.shown || '–' }}</span>
              @if (item.unreadable) {
                <small class="wrong">{{ item.unreadable }}</small>
              }
              @if (item.byHand && item.fed) {
                <small class="quiet" title="Its leads don’t change it. Empty it, and it shows what they say again."
                  >set by hand</small
                >
              }
              @if (item.said; as said) {
                <small class="said"
                  >A lead says <b>{{ said.shown }}</b>
                  @if (record().may.edit) {
                    <button
                      type="button"
                      class="link"
                      [attr.aria-label]="'Take over ' + item.field.name"
                      [disabled]="busy()"
                      (click)="settle(item.field.key, true)"
                    >
                      Take over
                    </button>
                    <button
                      type="button"
                      class="link"
                      [attr.aria-label]="'Keep ' + item.field.name + ' as it is'"
                      [disabled]="busy()"
                      (click)="settle(item.field.key, false)"
                    >
                      Keep as it is
                    </button>
                  }
                </small>
              }
              @if (record().may.edit) {
                <button
                  type="button"
                  class="link edit"
                  [attr.aria-label]="'Edit ' + item.field.name"
                  (click)="edit(item.field.key, item.raw)"
                >
                  Edit
                </button>
              }
            </dd>
          }
        </div>
      }
    </dl>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordValues {
  private readonly records = inject(RecordService);
  private readonly words = inject(WordingService);
  readonly record = input.required<RecordDetail>();
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<unknown>>();
  protected readonly editing = signal<string | null>(null);
  protected readonly typed = signal('');

  protected readonly fields = computed(() => {
    const { kind, values, said } = this.record();
    const byField = new Map(values.map((value) => [value.field, value]));
    const saidOfField = new Map(said.map((one) => [one.field, one]));
    const fed = new Set(this.words.fields().map(({ feeds }) => feeds));
    return this.words.fieldsOf(kind).map((field) => {
      const value = byField.get(field.key);
      const raw = value?.shown ?? '';
      return {
        field,
        raw,
        shown: value?.unreadable ? raw : shownAs(field, raw),
        unreadable: value?.unreadable ?? null,
        byHand: value?.byHand ?? false,
        fed: fed.has(field.key),
        said: saidOf(saidOfField.get(field.key), field),
      };
    });
  });

  protected readonly country = computed(
    () => this.fields().find(({ field }) => field.key === this.words.countryKey(this.record().kind))?.raw ?? '',
  );

  protected edit(key: string, raw: string): void {
    this.editing.set(key);
    this.typed.set(raw);
  }

  protected settle(field: string, take: boolean): void {
    const { kind, id } = this.record();
    this.run.emit(this.records.settleSaid(kind, id, field, take));
  }

  protected save(): void {
    const key = this.editing();
    if (key === null) return;
    const { kind, id, version } = this.record();
    this.run.emit(this.records.edit(kind, id, { version, values: { [key]: this.typed() } }));
    this.editing.set(null);
  }
}
