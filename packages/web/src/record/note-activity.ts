import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type NoteActivity as Noted, noteActivitySchema, type ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { WordingService } from '../wording/wording.service';

/** Asks what happened with a record: a call, a meeting. */
@Component({
  selector: 'rv-note-activity',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule, ProblemNote],
  template: `
    @if (noting()) {
      <form class="note-activity" (ngSubmit)="save()" (keydown.escape)="noting.set(false)">
        <p-select
          ariaLabel="What happened"
          name="kind"
          [options]="kinds()"
          optionLabel="name"
          optionValue="key"
          [filter]="true"
          placeholder="What happened"
          [(ngModel)]="kind"
        />
        <input pInputText name="at" type="datetime-local" aria-label="When" [(ngModel)]="at" />
        <input pInputText name="about" aria-label="About what" placeholder="About what" [(ngModel)]="about" />
        <button pButton type="submit" [disabled]="busy()">Note it</button>
        <button type="button" class="link" (click)="noting.set(false)">Cancel</button>
      </form>
      <rv-problem-note [problem]="wrong()" />
    } @else {
      <button type="button" class="link" (click)="begin()">+ note what happened</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoteActivity {
  private readonly words = inject(WordingService);
  readonly busy = input.required<boolean>();
  readonly noted = output<Noted>();

  protected readonly kinds = computed(() => [...this.words.kinds()]);
  protected readonly noting = signal(false);
  protected readonly wrong = signal<ProblemDocument | null>(null);
  protected kind: string | null = null;
  /** Local time, as the field has it. */
  protected at = '';
  protected about = '';

  protected begin(): void {
    this.kind = null;
    this.about = '';
    this.at = localText(new Date());
    this.wrong.set(null);
    this.noting.set(true);
  }

  protected save(): void {
    const activity = {
      kind: this.kind ?? undefined,
      at: this.at === '' ? undefined : new Date(this.at).toISOString(),
      properties: this.about.trim() === '' ? {} : { about: this.about.trim() },
    };
    const wrong = problemIn(noteActivitySchema, activity);
    this.wrong.set(wrong);
    if (wrong !== null) return;
    this.noting.set(false);
    this.noted.emit(activity as Noted);
  }
}

function localText(at: Date): string {
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
