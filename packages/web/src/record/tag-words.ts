import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { splitChoices, TAGS } from '@relvik/core';
import { ChipField } from '../ui/chip-field';
import { WordingService } from '../wording/wording.service';

/** Words to tag with: known ones are suggested, any other is typed. */
@Component({
  selector: 'rv-tag-words',
  imports: [ChipField],
  template: `
    <rv-chip-field
      [inputId]="inputId()"
      [label]="label()"
      placeholder="add a tag"
      emptyMessage="A new word: Enter adds it"
      [offered]="offered()"
      [chosen]="chosen()"
      (changed)="changed.emit(distinct($event))"
    />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TagWords {
  private readonly wording = inject(WordingService);
  readonly inputId = input.required<string>();
  readonly label = input.required<string>();
  readonly words = input.required<readonly string[]>();
  readonly changed = output<readonly string[]>();

  protected readonly chosen = computed(() => this.words().map((word) => ({ value: word, label: word })));
  protected readonly offered = computed(() =>
    (this.wording.catalogue().get(TAGS)?.options ?? []).map((word) => ({ value: word, label: word, count: 0 })),
  );

  protected distinct(words: readonly string[]): readonly string[] {
    return splitChoices(words.join(';'));
  }
}
