import { ChangeDetectionStrategy, Component, computed, inject, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { RecordKind } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { WordingService } from '../wording/wording.service';

/** The pipeline of a new lead or deal: a row of a form, where there are several. */
@Component({
  selector: 'rv-pipeline-choice',
  imports: [FormsModule, SelectModule],
  template: `
    @if (pipelines().length > 1) {
      <label for="new-pipeline">Pipeline</label>
      <p-select
        inputId="new-pipeline"
        ariaLabel="Pipeline"
        name="pipeline"
        [options]="pipelines()"
        optionLabel="name"
        optionValue="key"
        [ngModel]="chosen() ?? pipelines()[0]?.key"
        (ngModelChange)="chosen.set($event)"
      />
    }
  `,
  // Its label and field are cells of the form's grid.
  styles: ':host { display: contents; }',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PipelineChoice {
  private readonly words = inject(WordingService);
  readonly kind = input.required<RecordKind>();
  /** The key of one; null: the first. */
  readonly chosen = model<string | null>(null);
  protected readonly pipelines = computed(() => [...this.words.pipelinesOf(this.kind())]);
}
