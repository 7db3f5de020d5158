import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  closeSchema,
  type CloseLead,
  giveBackSchema,
  type Given,
  type LeadDetail,
  type ProblemDocument,
} from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { GiveLeads } from '../record/give-leads';
import { LeadService } from '../record/lead.service';

const OUTCOMES = [
  { label: 'Won', value: 'won' },
  { label: 'Lost', value: 'lost' },
  { label: 'Disqualified', value: 'disqualified' },
];

/** What can be done with a lead by hand: pick up, give away, close. Each opens in place. */
@Component({
  selector: 'rv-lead-work',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule, GiveLeads, ProblemNote],
  template: `
    @let may = lead().may;
    @if (may.accept || may.pickUp || may.assign || may.giveBack || may.close || may.remove) {
      <div class="work">
        @if (may.pickUp) {
          <button pButton type="button" [disabled]="busy()" (click)="run.emit(leads.pickUp(lead().id))">Pick up</button>
        }
        @if (may.accept) {
          <button pButton type="button" [disabled]="busy()" (click)="run.emit(leads.accept(lead().id))">Accept</button>
        }
        @if (may.assign) {
          <rv-give-leads
            [ids]="[lead().id]"
            [verb]="lead().place.kind === 'owner' ? 'Hand on to' : 'Give to'"
            (given)="given.emit($event)"
          />
        }
        @if (may.giveBack) {
          @if (returning()) {
            <form (ngSubmit)="giveBack()" (keydown.escape)="returning.set(false)">
              <input
                pInputText
                name="why"
                aria-label="Why it goes back"
                placeholder="Why, in a few words"
                [(ngModel)]="reason"
              />
              <button pButton type="submit" [disabled]="busy()">
                {{ lead().acceptance === 'asked' ? 'Give it back' : 'Back to the queue' }}
              </button>
              <button type="button" class="link" (click)="returning.set(false)">Cancel</button>
            </form>
          } @else {
            <button pButton type="button" [outlined]="true" (click)="returning.set(true)">Give back…</button>
          }
        }
        @if (may.close) {
          @if (closing()) {
            <form (ngSubmit)="close()" (keydown.escape)="closing.set(false)">
              <p-select
                ariaLabel="How it ended"
                name="outcome"
                [options]="outcomes"
                optionLabel="label"
                optionValue="value"
                placeholder="How it ended"
                [(ngModel)]="outcome"
              />
              <input
                pInputText
                name="reason"
                aria-label="Reason"
                placeholder="Why, in a few words"
                [(ngModel)]="reason"
              />
              @if (lead().openTasks > 0) {
                <label
                  ><input type="checkbox" name="keepTasks" [(ngModel)]="keepTasks" />
                  {{
                    lead().openTasks === 1
                      ? 'its open task stays open'
                      : 'its ' + lead().openTasks + ' open tasks stay open'
                  }}</label
                >
              }
              <button pButton type="submit" [disabled]="busy()">Close the lead</button>
              <button type="button" class="link" (click)="closing.set(false)">Cancel</button>
            </form>
          } @else {
            <button pButton type="button" [outlined]="true" (click)="closing.set(true)">Close…</button>
          }
        }
        @if (may.join) {
          <button pButton type="button" [outlined]="true" (click)="join.emit()">Join with…</button>
        }
        @if (may.remove) {
          <button pButton type="button" [outlined]="true" [disabled]="busy()" (click)="remove.emit()">
            Remove the test lead
          </button>
        }
      </div>
      <rv-problem-note [problem]="wrong()" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeadWork {
  protected readonly leads = inject(LeadService);
  readonly lead = input.required<LeadDetail>();
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<unknown>>();
  readonly join = output();
  readonly remove = output();
  readonly given = output<Given>();

  protected readonly outcomes = [...OUTCOMES];
  protected readonly closing = signal(false);
  protected readonly returning = signal(false);
  protected readonly wrong = signal<ProblemDocument | null>(null);
  protected outcome: string | null = null;
  protected reason = '';
  /** Else they are cancelled. */
  protected keepTasks = false;

  protected giveBack(): void {
    const back = { reason: this.reason };
    const wrong = problemIn(giveBackSchema, back);
    this.wrong.set(wrong);
    if (wrong !== null) return;
    this.returning.set(false);
    this.run.emit(this.leads.giveBack(this.lead().id, back));
  }

  protected close(): void {
    const closing = { outcome: this.outcome ?? undefined, reason: this.reason, keepTasks: this.keepTasks };
    const wrong = problemIn(closeSchema, closing);
    this.wrong.set(wrong);
    if (wrong !== null) return;
    this.closing.set(false);
    this.run.emit(this.leads.close(this.lead().id, closing as CloseLead));
  }
}
