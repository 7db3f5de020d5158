import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type FieldValues, fold, pointsByValue, type Signal, valueWords, withPointsFor } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { SetChoice } from '../charter/set-choice';
import { freshKey } from '../ui/fresh-key';
import { ImpactService } from '../impact/impact.service';
import { WordingService } from '../wording/wording.service';

/** Fields that have few values, each of which can have points of its own. */
const TYPES: readonly string[] = ['choice', 'country', 'yes-no'];

/** Points for the values of one field, typed as one table; the signals behind them are made and changed by it. */
@Component({
  selector: 'rv-points-table',
  imports: [DecimalPipe, FormsModule, SelectModule],
  template: `
    <div class="points-table">
      <p>
        <span>Points for the values of</span>
        <p-select
          ariaLabel="Points for the values of"
          appendTo="body"
          [options]="fields()"
          optionLabel="name"
          optionValue="key"
          placeholder="a field"
          [filter]="true"
          [ngModel]="field()"
          (ngModelChange)="field.set($event)"
        />
        <button type="button" class="link" (click)="closed.emit()">Done</button>
      </p>
      @if (field()) {
        <ul>
          @for (row of rows(); track row.value) {
            <li>
              <label [for]="'points-' + row.value">{{ row.label }}</label>
              @if (row.count !== null) {
                <span class="quiet number">{{ row.count | number }}</span>
              }
              @if (row.was !== null) {
                <s class="code quiet">{{ row.was }}</s>
              }
              <input
                #typed
                class="points-field"
                type="number"
                step="1"
                [id]="'points-' + row.value"
                [class.changed]="row.changed"
                [value]="row.points ?? ''"
                (change)="setPoints(row.label, row.value, typed)"
              />
            </li>
          }
        </ul>
        <p class="quiet">Blank: none. Values with equal points stand in one signal.</p>
      }
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PointsTable {
  private readonly choice = inject(SetChoice);
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  readonly closed = output();
  protected readonly field = signal<string | null>(null);
  private readonly data = signal<FieldValues | null>(null);

  protected readonly fields = computed(() =>
    this.words
      .fieldsOf(this.choice.set()?.of ?? 'lead')
      .filter(({ type, retired }) => TYPES.includes(type) && !retired)
      .map(({ key, name }) => ({ key, name })),
  );

  protected readonly rows = computed(() => {
    const key = this.field();
    const field = this.words.wording().fields.get(key ?? '');
    if (key === null || field === undefined) return [];
    const points = pointsByValue(this.choice.set()?.signals ?? [], key);
    const before = pointsByValue(this.choice.inForce()?.signals ?? [], key);
    const counts = new Map((this.data()?.values ?? []).map(({ value, count }) => [value, count]));
    const listed = field.type === 'choice' ? field.options : field.type === 'yes-no' ? ['yes', 'no'] : [];
    const known = new Set(listed.map(fold));
    const others = [...new Set([...counts.keys(), ...points.keys()])].filter((value) => !known.has(fold(value)));
    return [...listed, ...(field.type === 'choice' ? others.filter((one) => points.has(one)) : others.sort())].map(
      (value) => {
        const [now, was] = [points.get(fold(value)), before.get(fold(value))];
        return {
          value,
          label: valueWords({ kind: 'field', field: key }, value, this.words.wording()),
          count: this.data() === null ? null : (counts.get(fold(value)) ?? 0),
          points: now ?? null,
          was: now === was ? null : (was ?? null),
          changed: now !== was,
        };
      },
    );
  });

  constructor() {
    effect(() => {
      const field = this.field();
      this.impacts.state();
      if (field === null) return;
      void this.impacts.values(field, 'signal').then(
        (values) => {
          if (this.field() === field) this.data.set(values);
        },
        () => {
          this.data.set(null);
        },
      );
    });
  }

  protected setPoints(label: string, value: string, typed: HTMLInputElement): void {
    const field = this.field();
    const points = typed.value.trim() === '' ? null : Math.round(Number(typed.value) * 100) / 100;
    if (field === null || (points !== null && !Number.isFinite(points))) return;
    const keys = this.choice.sets().flatMap(({ signals }) => signals.map(({ key }) => key));
    const name = `${this.words.wording().names.field(field)}: ${label}`;
    this.choice.change((set) => ({
      ...set,
      signals: withPointsFor(set.signals, field, value, points, (): Pick<Signal, 'key' | 'name'> => ({
        key: freshKey('signal', keys),
        name,
      })),
    }));
  }
}
