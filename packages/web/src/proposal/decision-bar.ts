import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';

/** A stage to which the proposals chosen may let their leads go. */
export interface Outcome {
  readonly stage: string;
  readonly name: string;
}

/** The actions on the chosen proposals: take the rule's pick, take another outcome, or refuse with a reason. */
@Component({
  selector: 'rv-decision-bar',
  imports: [FormsModule, ButtonModule, InputTextModule],
  template: `
    <div class="decision-bar" role="group" aria-label="Decide">
      <b>{{ count() === 1 ? '1 chosen' : count() + ' chosen' }}</b>
      <button pButton type="button" [disabled]="busy() || !pickable()" (click)="picked.emit()">
        Take the rule’s pick <kbd>⏎</kbd>
      </button>
      @switch (open()) {
        @case ('other') {
          @for (outcome of outcomes(); track outcome.stage) {
            <button pButton type="button" [outlined]="true" [disabled]="busy()" (click)="take(outcome.stage)">
              {{ outcome.name }}
            </button>
          } @empty {
            <span class="quiet">What you chose has no outcome in common.</span>
          }
          <button type="button" class="link" (click)="open.set(null)">Cancel</button>
        }
        @case ('refuse') {
          <form (ngSubmit)="refuse()" (keydown.escape)="open.set(null)">
            <input
              pInputText
              name="reason"
              aria-label="Why you refuse"
              placeholder="Why, in a few words"
              [(ngModel)]="reason"
            />
            <button pButton type="submit" [outlined]="true" [disabled]="busy() || reason.trim() === ''">Refuse</button>
            <button type="button" class="link" (click)="open.set(null)">Cancel</button>
          </form>
        }
        @default {
          <button pButton type="button" [outlined]="true" [disabled]="busy()" (click)="open.set('other')">
            Another outcome… <kbd>O</kbd>
          </button>
          <button pButton type="button" [outlined]="true" [disabled]="busy()" (click)="open.set('refuse')">
            Refuse… <kbd>X</kbd>
          </button>
        }
      }
      <span class="quiet keys"
        ><kbd>J</kbd> <kbd>K</kbd> next, previous · <kbd>Space</kbd> choose · <kbd>U</kbd> undo</span
      >
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DecisionBar {
  readonly count = input.required<number>();
  /** Whether the rule picks something for each. */
  readonly pickable = input.required<boolean>();
  readonly outcomes = input.required<readonly Outcome[]>();
  readonly busy = input.required<boolean>();
  readonly picked = output();
  readonly taken = output<string>();
  readonly refused = output<string>();
  readonly open = signal<'other' | 'refuse' | null>(null);
  protected reason = '';

  protected take(stage: string): void {
    this.open.set(null);
    this.taken.emit(stage);
  }

  protected refuse(): void {
    this.open.set(null);
    this.refused.emit(this.reason.trim());
    this.reason = '';
  }
}
