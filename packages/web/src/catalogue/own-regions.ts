import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { ProblemDocument } from '@relvik/contracts';
import { COUNTRY_LIST, countryName, countryOfRegion, type OwnRegion } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { CatalogueService } from './catalogue.service';

/** Regions that the admin adds under a country, beside those of the standard. */
@Component({
  selector: 'rv-own-regions',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule, ProblemNote],
  template: `
    <h2>
      Regions of our own
      <span class="quiet">beside the standard’s states and provinces; territories can cover them</span>
    </h2>
    <table class="list">
      <thead>
        <tr>
          <th>Region</th>
          <th>Code</th>
          <th>Country</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        @for (one of shown(); track one.code) {
          <tr>
            <td>
              @if (renaming() === one.code) {
                <form
                  class="joint"
                  (submit)="rename(one); $event.preventDefault()"
                  (keydown.escape)="renaming.set(null)"
                >
                  <input pInputText aria-label="New name of the region" name="region-name" [(ngModel)]="name" />
                  <button pButton type="submit" [outlined]="true">Save</button>
                  <span class="quiet">“{{ one.name }}” stays a spelling of it</span>
                </form>
              } @else {
                {{ one.name }}
              }
            </td>
            <td class="code">{{ one.code }}</td>
            <td>{{ one.country }}</td>
            <td class="nowrap">
              <button type="button" class="link" [attr.aria-label]="'Rename ' + one.name" (click)="begin(one)">
                Rename
              </button>
              <button
                type="button"
                class="link"
                [attr.aria-label]="'Remove ' + one.name"
                (click)="run(catalogue.removeRegion(one.code))"
              >
                Remove
              </button>
            </td>
          </tr>
        } @empty {
          <tr>
            <td colspan="4" class="quiet">None yet.</td>
          </tr>
        }
      </tbody>
    </table>
    <form class="joint" (submit)="add(); $event.preventDefault()">
      <input
        pInputText
        name="fresh-name"
        aria-label="Name of a new region"
        placeholder="A region, such as Ruhr"
        [(ngModel)]="freshName"
      />
      <span>in</span>
      <p-select
        ariaLabel="Country of the new region"
        name="fresh-country"
        [options]="countries"
        optionLabel="name"
        optionValue="code"
        [filter]="true"
        placeholder="country"
        [(ngModel)]="freshCountry"
      />
      <button pButton type="submit" [outlined]="true">Add region</button>
    </form>
    <rv-problem-note [problem]="problem()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnRegions {
  protected readonly catalogue = inject(CatalogueService);
  protected readonly countries = [...COUNTRY_LIST];
  private readonly regions = signal<readonly OwnRegion[]>([]);
  protected readonly shown = computed(() =>
    this.regions().map((one) => ({ ...one, country: countryName(countryOfRegion(one.code)) })),
  );
  protected readonly renaming = signal<string | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected name = '';
  protected freshName = '';
  protected freshCountry: string | null = null;

  constructor() {
    this.run(this.catalogue.regions());
  }

  protected begin({ code, name }: OwnRegion): void {
    this.name = name;
    this.renaming.set(code);
  }

  protected rename({ code }: OwnRegion): void {
    this.run(this.catalogue.renameRegion(code, this.name));
  }

  protected add(): void {
    this.run(this.catalogue.addRegion({ country: this.freshCountry ?? '', name: this.freshName }), () => {
      [this.freshName, this.freshCountry] = ['', null];
    });
  }

  protected run(work: Observable<readonly OwnRegion[]>, then: () => void = () => undefined): void {
    work.subscribe({
      next: (regions) => {
        this.regions.set(regions);
        this.renaming.set(null);
        this.problem.set(null);
        then();
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
