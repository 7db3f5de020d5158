import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { RecordDetail } from '@relvik/contracts';
import { InputTextModule } from 'primeng/inputtext';
import type { Observable } from 'rxjs';
import { RecordService } from './record.service';

/** Alias names and mail domains of a company, by which its leads are found. */
@Component({
  selector: 'rv-known-names',
  imports: [FormsModule, InputTextModule],
  template: `
    <h2>Known by <span class="quiet">whoever names it so, or writes from there, works here</span></h2>
    <ul class="plain known-by">
      @for (one of company().knownBy; track one.kind + one.text) {
        <li>
          {{ one.kind === 'domain' ? '@' : '' }}{{ one.text }}
          @if (company().may.edit && (one.kind !== 'name' || names() > 1)) {
            <button
              type="button"
              class="link"
              [attr.aria-label]="'Take away ' + one.text"
              (click)="run.emit(records.forgetBy(company().id, one))"
            >
              Take away
            </button>
          }
        </li>
      }
    </ul>
    @if (company().may.edit) {
      <form class="joint" (ngSubmit)="add()">
        <input
          pInputText
          name="known"
          aria-label="Another name, or @ and a domain"
          placeholder="Another name, or @domain"
          [(ngModel)]="text"
        />
        <button type="submit" class="link" [disabled]="busy() || text.trim() === ''">Add</button>
      </form>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KnownNames {
  protected readonly records = inject(RecordService);
  readonly company = input.required<RecordDetail>();
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<unknown>>();
  protected text = '';
  protected readonly names = computed(() => this.company().knownBy.filter(({ kind }) => kind === 'name').length);

  protected add(): void {
    const text = this.text.trim();
    const kind = text.includes('@') ? 'domain' : 'name';
    this.run.emit(this.records.knowBy(this.company().id, { kind, text }));
    this.text = '';
  }
}
