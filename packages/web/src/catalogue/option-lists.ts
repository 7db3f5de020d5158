import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { OptionListRow, ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { TextareaModule } from 'primeng/textarea';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';
import { keyFrom, optionsIn } from './field-form';

/** Lists of options that several fields share: changed once, they are changed everywhere. */
@Component({
  selector: 'rv-option-lists',
  imports: [FormsModule, ButtonModule, InputTextModule, TextareaModule, ProblemNote],
  template: `
    <h2>Option lists <span class="quiet">kept once, used by several fields and forms</span></h2>
    @for (list of lists(); track list.key) {
      @if (editing() === list.key) {
        <form class="editor at-once" (ngSubmit)="save(list.key)" (keydown.escape)="editing.set(null)">
          <div class="joint">
            <input pInputText name="list-name" aria-label="Name of the list" [(ngModel)]="name" />
            <span class="ends"
              ><button type="button" class="link" (click)="editing.set(null)">Cancel</button
              ><button pButton type="submit" [outlined]="true">Save</button></span
            >
          </div>
          <textarea
            pTextarea
            name="list-options"
            rows="6"
            aria-label="Options of the list, one a line"
            [(ngModel)]="options"
          ></textarea>
          <rv-problem-note [problem]="problem()" />
        </form>
      } @else {
        <p>
          <b>{{ list.name }}</b> <span class="quiet">{{ list.options.join(', ') }}</span>
          <span class="quiet">· {{ usedBy(list) }}</span>
          <button type="button" class="link" [attr.aria-label]="'Edit the list ' + list.name" (click)="edit(list)">
            Edit
          </button>
        </p>
      }
    }
    @if (editing() === '') {
      <form class="editor at-once" (ngSubmit)="save(keyOf(name))" (keydown.escape)="editing.set(null)">
        <div class="joint">
          <input
            pInputText
            name="list-name"
            aria-label="Name of the list"
            placeholder="Name of the list"
            [(ngModel)]="name"
          />
          <span class="ends"
            ><button type="button" class="link" (click)="editing.set(null)">Cancel</button
            ><button pButton type="submit">Add the list</button></span
          >
        </div>
        <textarea
          pTextarea
          name="list-options"
          rows="6"
          aria-label="Options of the list, one a line"
          placeholder="Options, one a line"
          [(ngModel)]="options"
        ></textarea>
        <rv-problem-note [problem]="problem()" />
      </form>
    } @else {
      <button type="button" class="link" (click)="begin()">+ option list</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OptionLists {
  private readonly catalogue = inject(CatalogueService);
  private readonly words = inject(WordingService);
  readonly lists = input.required<readonly OptionListRow[]>();
  readonly changed = output<readonly OptionListRow[]>();
  protected readonly editing = signal<string | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly keyOf = keyFrom;
  protected name = '';
  protected options = '';

  protected usedBy({ fields }: OptionListRow): string {
    const { names } = this.words.wording();
    return fields.length === 0 ? 'not used yet' : `used by ${fields.map((key) => names.field(key)).join(', ')}`;
  }

  protected begin(): void {
    [this.name, this.options] = ['', ''];
    this.open('');
  }

  protected edit(list: OptionListRow): void {
    [this.name, this.options] = [list.name, list.options.join('\n')];
    this.open(list.key);
  }

  private open(key: string): void {
    this.problem.set(null);
    this.editing.set(key);
  }

  protected save(key: string): void {
    this.catalogue.keepList(key, { name: this.name, options: optionsIn(this.options) }).subscribe({
      next: (lists) => {
        this.editing.set(null);
        this.changed.emit(lists);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
