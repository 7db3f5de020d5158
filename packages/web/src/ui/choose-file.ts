import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { chosenFile } from './save-file';

/** A link that lets the user choose a file, whose text it gives on; the same one can be chosen again. */
@Component({
  selector: 'rv-choose-file',
  template: `
    <label class="link file-link"
      ><ng-content /><input #file type="file" [accept]="accept()" [attr.aria-label]="label()" (change)="read(file)"
    /></label>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChooseFile {
  /** File name extensions and media types. */
  readonly accept = input.required<string>();
  /** Accessible name. */
  readonly label = input.required<string>();
  readonly chosen = output<string>();

  protected async read(input: HTMLInputElement): Promise<void> {
    const text = await chosenFile(input);
    if (text !== null) this.chosen.emit(text);
  }
}
