import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import type { ProblemDocument, Tagged } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { TagService } from './tag.service';
import { TagWords } from '../record/tag-words';

/** A number of records of a kind in words: "3 companies". */
function counted(count: number, kind: RecordKind): string {
  return `${count} ${count === 1 ? kind : pluralOf(kind)}`;
}

/** The result of tagging in words: "3 leads changed, 2 were so already, 1 is not yours to edit". */
export function taggedWords({ changed, unchanged, refused }: Tagged, kind: RecordKind): string {
  return [
    changed === 0 ? `No ${kind} changed` : `${counted(changed, kind)} changed`,
    ...(unchanged > 0 ? [`${unchanged} ${unchanged === 1 ? 'was' : 'were'} so already`] : []),
    ...(refused > 0 ? [`${refused} ${refused === 1 ? 'is' : 'are'} not yours to edit`] : []),
  ].join(', ');
}

/** Tags put on the records chosen in a list, or taken off. */
@Component({
  selector: 'rv-tag-many',
  imports: [ButtonModule, ProblemNote, TagWords],
  template: `
    <form class="tag-many" (submit)="$event.preventDefault()">
      <b>{{ chosen() }} chosen</b>
      <rv-tag-words inputId="tag-many" label="Tags" [words]="words()" (changed)="words.set($event)" />
      <button pButton type="button" [outlined]="true" [disabled]="idle()" (click)="tag(words(), [])">Tag them</button>
      <button pButton type="button" [outlined]="true" [disabled]="idle()" (click)="tag([], words())">
        Take these tags off
      </button>
      <button type="button" class="link" (click)="closed.emit()">Choose none</button>
      @if (done(); as result) {
        <span class="quiet" role="status">{{ result }}</span>
      }
      <rv-problem-note [problem]="problem()" />
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TagMany {
  private readonly tags = inject(TagService);
  private readonly wording = inject(WordingService);
  readonly kind = input.required<RecordKind>();
  readonly ids = input.required<readonly number[]>();
  readonly tagged = output();
  readonly closed = output();

  protected readonly chosen = computed(() => counted(this.ids().length, this.kind()));
  protected readonly words = signal<readonly string[]>([]);
  protected readonly busy = signal(false);
  protected readonly done = signal<string | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly idle = computed(() => this.busy() || this.words().length === 0);

  protected tag(add: readonly string[], remove: readonly string[]): void {
    this.busy.set(true);
    this.done.set(null);
    this.tags.tag(this.kind(), { ids: this.ids(), add, remove }).subscribe({
      next: (result) => {
        this.busy.set(false);
        this.problem.set(null);
        this.done.set(taggedWords(result, this.kind()));
        this.wording.load();
        this.tagged.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
