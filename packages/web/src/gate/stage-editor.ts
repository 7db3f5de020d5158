import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  changeStage,
  enterAt,
  isOpenToHandsByDefault,
  mentionsOfStage,
  mergeStage,
  moveStage,
  pipelineOfStage,
  stagesByHand,
  type StageKey,
  stagesToMergeInto,
} from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { pathOf, pluralOf } from '../wording/kind-words';

/** A stage that was chosen on the drawing: what stands in it, and in a draft its name, place and end. */
@Component({
  selector: 'rv-stage-editor',
  imports: [DecimalPipe, FormsModule, RouterLink, MultiSelectModule, SelectModule],
  templateUrl: './stage-editor.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StageEditor {
  protected readonly charters = inject(CharterService);
  readonly stage = input.required<string>();
  /** How many records stand in it. */
  readonly count = input<number | null>(null);
  readonly closed = output();

  private readonly pipeline = computed(() => {
    const charter = this.charters.shown();
    return charter === null ? null : pipelineOfStage(charter, this.stage());
  });
  protected readonly found = computed(() => {
    const pipeline = this.pipeline();
    const stage = pipeline?.stages.find(({ key }) => key === this.stage());
    if (pipeline === null || stage === undefined) return null;
    const sort = pipeline.stages.filter(({ kind }) => (kind === 'open') === (stage.kind === 'open'));
    return {
      ...stage,
      place: sort.indexOf(stage),
      last: sort.length - 1,
      handWords: pipeline.of === 'deal' ? 'every stage' : 'every open stage',
      isEntry: pipeline.entry === stage.key,
      plural: pluralOf(pipeline.of),
      path: pathOf(pipeline.of),
      query: { stage: stage.key, status: stage.kind === 'open' ? 'open' : 'any' },
    };
  });
  /** Stages that may take it over, each with its pipeline where that is another. */
  protected readonly others = computed(() => {
    const charter = this.charters.shown();
    if (charter === null) return [];
    return stagesToMergeInto(charter, this.stage()).map(({ key, name }) => {
      const pipeline = pipelineOfStage(charter, key);
      return { value: key, label: pipeline === this.pipeline() ? name : `${pipeline?.name ?? ''}: ${name}` };
    });
  });
  protected readonly mentions = computed(() => {
    const charter = this.charters.shown();
    const named = charter === null ? [] : mentionsOfStage(charter, this.stage());
    return named.map(({ kind, name }) => `${kind} ${name}`).join(', ');
  });
  protected readonly into = linkedSignal<string, string | null>({ source: this.stage, computation: () => null });

  /** The stages of its pipeline, in which a hand may set it down. */
  protected readonly handStages = computed(() =>
    (this.pipeline()?.stages ?? []).filter(({ key }) => key !== this.stage()),
  );
  protected readonly byHand = computed(() => {
    const charter = this.charters.shown();
    return charter === null ? [] : stagesByHand(charter, this.stage()).map(({ key }) => key);
  });

  protected setByHand(keys: readonly StageKey[]): void {
    const pipeline = this.pipeline();
    if (pipeline === null) return;
    const byDefault = this.handStages().filter((stage) => isOpenToHandsByDefault(pipeline, stage));
    const isAll = byDefault.length === keys.length && byDefault.every(({ key }) => keys.includes(key));
    this.charters.change((charter) => changeStage(charter, this.stage(), { byHand: isAll ? null : keys }));
  }

  protected rename(typed: HTMLInputElement): void {
    const name = typed.value.trim();
    if (name === '') typed.value = this.found()?.name ?? '';
    else this.charters.change((charter) => changeStage(charter, this.stage(), { name }));
  }

  protected setBeside(beside: boolean): void {
    this.charters.change((charter) => changeStage(charter, this.stage(), { beside }));
  }

  protected enterHere(): void {
    this.charters.change((charter) => enterAt(charter, this.stage()));
  }

  protected move(place: number): void {
    this.charters.change((charter) => moveStage(charter, this.stage(), place));
  }

  protected merge(into: string): void {
    const stage = this.stage();
    this.closed.emit();
    this.charters.change((charter) => mergeStage(charter, stage, into));
  }
}
