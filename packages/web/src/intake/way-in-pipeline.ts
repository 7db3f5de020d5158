import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { SelectModule } from 'primeng/select';
import { WordingService } from '../wording/wording.service';

/** The pipeline into which the leads of a form or key come; hidden where there is one only. */
@Component({
  selector: 'rv-way-in-pipeline',
  imports: [FormsModule, SelectModule],
  template: `
    @if (pipelines().length > 1) {
      <span class="quiet">Its leads come into</span>
      <p-select
        [ariaLabel]="'Pipeline of ' + name()"
        [options]="pipelines()"
        optionLabel="name"
        optionValue="key"
        [ngModel]="into()"
        (ngModelChange)="chosen.emit($event)"
      />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WayInPipeline {
  private readonly words = inject(WordingService);
  /** Of the form or key. */
  readonly name = input.required<string>();
  /** The key of one; null, or one that is no more: the first. */
  readonly pipeline = input.required<string | null>();
  readonly chosen = output<string>();
  protected readonly pipelines = computed(() => [...this.words.pipelinesOf('lead')]);
  protected readonly into = computed(
    () => (this.pipelines().find(({ key }) => key === this.pipeline()) ?? this.pipelines()[0])?.key ?? null,
  );
}
