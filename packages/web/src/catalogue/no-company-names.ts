import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { NoCompanyRow } from '@relvik/contracts';
import { InputTextModule } from 'primeng/inputtext';
import type { Observable } from 'rxjs';
import { CatalogueService } from './catalogue.service';

/** Words that people write where a company is asked for and that name none, and domains that give mailboxes to anyone. */
@Component({
  selector: 'rv-no-company-names',
  imports: [FormsModule, InputTextModule],
  template: `
    <h2>
      No companies
      <span class="quiet">words that name none, and domains of free mailboxes beside those that are known</span>
    </h2>
    <p class="chips">
      @for (row of rows(); track row.kind + row.word) {
        <span class="tag"
          >{{ row.kind === 'domain' ? '@' : '' }}{{ row.word }}
          <button
            type="button"
            class="link"
            [attr.aria-label]="'Take away ' + row.word"
            (click)="run(catalogue.namesCompany(row))"
          >
            ×
          </button></span
        >
      }
    </p>
    <form class="joint" (ngSubmit)="add()">
      <input
        pInputText
        name="no-company"
        aria-label="A word, or @ and a domain"
        placeholder="A word, or @domain"
        [(ngModel)]="text"
      />
      <button type="submit" class="link" [disabled]="text.trim() === ''">Add</button>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NoCompanyNames {
  protected readonly catalogue = inject(CatalogueService);
  protected readonly rows = signal<readonly NoCompanyRow[]>([]);
  protected text = '';

  constructor() {
    this.run(this.catalogue.noCompanies());
  }

  protected add(): void {
    const word = this.text.trim();
    this.text = '';
    this.run(this.catalogue.namesNone({ kind: word.includes('@') ? 'domain' : 'name', word: word.replace(/^@/, '') }));
  }

  protected run(work: Observable<readonly NoCompanyRow[]>): void {
    work.subscribe({
      next: (rows) => {
        this.rows.set(rows);
      },
      error: () => undefined,
    });
  }
}
