import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type Handling, HANDLINGS } from '@relvik/core';
import { SelectModule } from 'primeng/select';

const WORDS: { readonly [H in Handling]: string } = {
  decide: 'decide all',
  score: 'score and grade only',
  keep: 'keep as it is',
};

/** How far rules are asked of a lead: all, as far as the grade, or not at all. */
@Component({
  selector: 'rv-handling-choice',
  imports: [FormsModule, SelectModule],
  template: `
    <p-select
      [ariaLabel]="label()"
      [options]="choices"
      optionLabel="name"
      optionValue="key"
      [ngModel]="chosen()"
      [ngModelOptions]="{ standalone: true }"
      (ngModelChange)="chosen.set($event)"
    />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HandlingChoice {
  readonly label = input.required<string>();
  readonly chosen = model.required<Handling>();
  protected readonly choices = HANDLINGS.map((key) => ({ key, name: WORDS[key] }));
}
