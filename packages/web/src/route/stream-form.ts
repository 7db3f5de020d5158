import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Schedule, StageKey, Stream } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { CharterService } from '../charter/charter.service';
import { ConditionEditor } from '../condition/condition-editor';
import { ScheduleForm } from './schedule-form';

/** Edits a stream in the draft: its name, the stages on whose entering it acts, its entry condition, and when it runs by itself. */
@Component({
  selector: 'rv-stream-form',
  imports: [FormsModule, MultiSelectModule, ConditionEditor, ScheduleForm],
  template: `
    <div class="editor stream-form">
      <div class="joint">
        <input
          #name
          class="value-field name-field"
          aria-label="Name of the stream"
          [value]="stream().name"
          (change)="rename(name.value)"
        />
        <label
          ><input type="checkbox" [checked]="stream().on" (change)="changed.emit({ on: !stream().on })" /> in use</label
        >
        <span>acts on entering</span>
        <p-multiselect
          [ariaLabel]="'Stages on whose entering ' + stream().name + ' acts'"
          [options]="stages()"
          optionLabel="name"
          optionValue="key"
          [showToggleAll]="false"
          [ngModel]="entering()"
          (ngModelChange)="enter($event)"
        />
        <span class="ends">
          <button type="button" class="link" (click)="takenOut.emit()">Take the stream out</button>
          <button type="button" class="link" (click)="closed.emit()">Done</button>
        </span>
      </div>
      <div class="joint">
        <span>runs</span>
        <rv-schedule-form
          [schedule]="stream().schedule ?? null"
          [name]="stream().name"
          [zone]="zone()"
          (changed)="run($event)"
        />
        @if (stream().schedule) {
          <label
            ><input
              type="checkbox"
              [checked]="stream().onlyOnSchedule === true"
              (change)="changed.emit({ onlyOnSchedule: stream().onlyOnSchedule === true ? undefined : true })"
            />
            gives away only then; until then leads wait in the bay</label
          >
        }
      </div>
      <div class="joint">
        <label
          ><input
            type="checkbox"
            [checked]="stream().accept === true"
            (change)="changed.emit({ accept: stream().accept === true ? undefined : true })"
          />
          owners accept what it gives them, or give it back: then it is routed again without them</label
        >
      </div>
      <p class="quiet">Of those leads it takes the ones for which this holds; an empty condition takes all.</p>
      <rv-condition-editor [condition]="stream().when" place="route" (changed)="changed.emit({ when: $event })" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StreamForm {
  private readonly charters = inject(CharterService);
  readonly stream = input.required<Stream>();
  readonly changed = output<Partial<Stream>>();
  readonly takenOut = output();
  readonly closed = output();

  protected readonly zone = computed(() => this.charters.shown()?.timeZone ?? '');
  protected readonly stages = computed(() =>
    (this.charters.shown()?.pipelines ?? [])
      .filter((one) => one.of === this.stream().of)
      .flatMap(({ stages }) => stages.filter(({ kind }) => kind === 'open'))
      .map(({ key, name }) => ({ key, name })),
  );
  protected readonly entering = computed((): StageKey[] => [...this.stream().entering]);

  protected rename(name: string): void {
    if (name.trim() !== '') this.changed.emit({ name: name.trim() });
  }

  /** In the order of stages, so that the same choice is the same charter; the last stage can't be taken out. */
  protected enter(chosen: readonly StageKey[]): void {
    if (chosen.length === 0) return;
    this.changed.emit({ entering: this.stages().flatMap(({ key }) => (chosen.includes(key) ? [key] : [])) });
  }

  protected run(schedule: Schedule | null): void {
    this.changed.emit(schedule === null ? { schedule: undefined, onlyOnSchedule: undefined } : { schedule });
  }
}
