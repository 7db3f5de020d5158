import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  addPipeline,
  type PipelineKind,
  PIPELINE_KINDS,
  pipelinesToTakeOver,
  renamePipeline,
  takeOutPipeline,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../ui/fresh-key';
import { pluralOf } from '../wording/kind-words';

/** The pipelines of the charter, of which one is looked at; in a draft they are added, named and taken out here. */
@Component({
  selector: 'rv-pipeline-bar',
  imports: [FormsModule, SelectModule],
  templateUrl: './pipeline-bar.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PipelineBar {
  protected readonly charters = inject(CharterService);
  readonly chosen = input.required<string | null>();
  readonly choose = output<string>();
  protected readonly editing = signal(false);
  protected readonly kinds = PIPELINE_KINDS;
  protected readonly plural = pluralOf;
  protected readonly into = signal<string | null>(null);

  protected readonly pipelines = computed(() => {
    const known = new Set((this.charters.inForce()?.charter.pipelines ?? []).map(({ key }) => key));
    return (this.charters.shown()?.pipelines ?? []).map((one) => ({ ...one, isNew: !known.has(one.key) }));
  });
  protected readonly here = computed(() => this.pipelines().find(({ key }) => key === this.chosen()) ?? null);
  /** The pipelines that may take over what is in it. */
  protected readonly others = computed(() => {
    const [charter, key] = [this.charters.shown(), this.chosen()];
    const others = charter === null || key === null ? [] : pipelinesToTakeOver(charter, key);
    return others.map((one) => ({ value: one.key, label: one.name }));
  });

  protected open(key: string): void {
    this.into.set(null);
    this.editing.set(key === this.chosen() && this.charters.draft() !== null && !this.editing());
    this.choose.emit(key);
  }

  protected rename(key: string, typed: HTMLInputElement): void {
    const name = typed.value.trim();
    if (name === '') typed.value = this.here()?.name ?? '';
    else this.charters.change((charter) => renamePipeline(charter, key, name));
  }

  protected add(of: PipelineKind): void {
    const key = freshKey(
      'pipeline',
      (this.charters.shown()?.pipelines ?? []).map((one) => one.key),
    );
    this.charters.change((charter) => addPipeline(charter, of, key, `New for ${pluralOf(of)}`));
    this.into.set(null);
    this.editing.set(true);
    this.choose.emit(key);
  }

  protected takeOut(key: string, into: string): void {
    this.editing.set(false);
    this.choose.emit(into);
    this.charters.change((charter) => takeOutPipeline(charter, key, into) ?? charter);
  }
}
