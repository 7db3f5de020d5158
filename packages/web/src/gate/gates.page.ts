import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { addStage, moveStage } from '@relvik/core';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { freshKey } from '../ui/fresh-key';
import { DraftNote } from '../frame/draft-note';
import { GateTable } from './gate-table';
import { PipelineBar } from './pipeline-bar';
import { PipelineChart } from './pipeline-chart';
import { StageEditor } from './stage-editor';

/** Gates: a pipeline drawn from left to right, and the moves between its stages, changed in the draft. */
@Component({
  selector: 'rv-gates',
  imports: [DraftNote, GateTable, PipelineBar, PipelineChart, StageEditor, Waiting],
  templateUrl: './gates.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GatesPage {
  protected readonly charters = inject(CharterService);
  private readonly loaded = toSignal(asLoaded(inject(CountsService).pipelines()), { initialValue: LOADING });
  protected readonly figures = computed(() => valueOf(this.loaded()));
  private readonly chosen = signal<string | null>(null);
  protected readonly stage = signal<string | null>(null);
  protected readonly editing = signal<string | null>(null);

  protected readonly pipeline = computed(() => {
    const pipelines = this.charters.shown()?.pipelines ?? [];
    return pipelines.find(({ key }) => key === this.chosen()) ?? pipelines[0] ?? null;
  });
  protected readonly gates = computed(() => this.charters.shown()?.gates ?? []);

  protected show(pipeline: string): void {
    this.chosen.set(pipeline);
    this.stage.set(null);
    this.editing.set(null);
  }

  protected openGate(gate: string): void {
    this.stage.set(null);
    this.editing.set(gate);
  }

  protected countIn(stage: string): number | null {
    const figures = this.figures();
    if (figures === null) return null;
    const found = figures.stages.find((one) => one.stage === stage);
    const kind = this.pipeline()?.stages.find(({ key }) => key === stage)?.kind;
    return found === undefined ? 0 : kind === 'open' ? found.open : found.open + found.closed;
  }

  protected addStage(pipeline: string): void {
    const stages = (this.charters.shown()?.pipelines ?? []).flatMap((one) => one.stages.map(({ key }): string => key));
    const key = freshKey('stage', stages);
    this.charters.change((charter) => addStage(charter, pipeline, key, 'New stage'));
    this.stage.set(key);
  }

  protected move(stage: string, place: number): void {
    this.charters.change((charter) => moveStage(charter, stage, place));
  }
}
