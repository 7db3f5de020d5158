import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import type { ActivityOutcome, ProblemDocument } from '@relvik/contracts';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { IntakeService } from './intake.service';

/** A file of activities, taken in row by row. */
@Component({
  selector: 'rv-activity-file',
  imports: [DecimalPipe, ProblemNote],
  template: `
    <h2>CSV file of activities</h2>
    <p class="quiet">
      Columns kind, at, and lead or email; event where there is an id that may come again. Every other column is a
      property, such as the page.
    </p>
    <label class="file"
      ><input
        #file
        type="file"
        accept=".csv,text/csv"
        aria-label="CSV file of activities"
        [disabled]="sending()"
        (change)="send(file)"
    /></label>
    @if (sending()) {
      <p role="status">Taking the activities in …</p>
    }
    <rv-problem-note [problem]="problem()" />
    @if (outcome(); as done) {
      <div class="outcome" role="status">
        <p>
          <b>{{ done.accepted | number }} accepted</b>, {{ done.repeated | number }} known already ·
          <b [class.wrong]="done.refused.length > 0">{{ done.refused.length | number }} refused</b>
        </p>
        @if (done.refused.length > 0) {
          <table class="list">
            <thead>
              <tr>
                <th class="number">Row</th>
                <th>Column</th>
                <th>What is wrong</th>
              </tr>
            </thead>
            <tbody>
              @for (one of done.refused.slice(0, 100); track $index) {
                <tr>
                  <td class="number">{{ one.row }}</td>
                  <td>{{ one.field }}</td>
                  <td>{{ one.message }}</td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ActivityFile {
  private readonly service = inject(IntakeService);
  protected readonly sending = signal(false);
  protected readonly outcome = signal<ActivityOutcome | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected async send(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    if (file === undefined) return;
    this.outcome.set(null);
    this.problem.set(null);
    this.sending.set(true);
    const text = await file.text();
    input.value = '';
    this.service.sendActivities(text).subscribe({
      next: (outcome) => {
        this.outcome.set(outcome);
        this.sending.set(false);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        this.sending.set(false);
      },
    });
  }
}
