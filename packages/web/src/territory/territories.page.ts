import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { COUNTRY_BY_FOLDED_NAME, COUNTRY_LIST, coverageOf, countryName, fold } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { DraftNote } from '../frame/draft-note';

/** Territories, seen from both sides: what each covers, and who covers a country. */
@Component({
  selector: 'rv-territories',
  imports: [FormsModule, RouterLink, InputTextModule, DraftNote, Waiting],
  template: `
    <section class="page">
      <h1>Territories <span class="quiet">by country; a territory inside another counts first</span></h1>
      <rv-draft-note />
      @if (charters.shown()) {
        <div class="tables">
          <section>
            <h2>What each covers</h2>
            <table class="list">
              <thead>
                <tr>
                  <th>Territory</th>
                  <th>Covers</th>
                  <th class="number">Leads</th>
                </tr>
              </thead>
              <tbody>
                @for (one of territories(); track one.key) {
                  <tr>
                    <td [style.padding-left.px]="8 + 18 * one.depth">{{ one.name }}</td>
                    <td class="quiet">{{ one.covers }}</td>
                    <td class="number">
                      <a routerLink="/leads" [queryParams]="{ territory: one.key, status: 'any' }">{{ one.leads }}</a>
                    </td>
                  </tr>
                }
              </tbody>
            </table>
            @if (openGround().length > 0) {
              <h2>Open ground <span class="quiet">countries of leads that no territory covers</span></h2>
              @for (one of openGround(); track one.country) {
                <p class="open-ground">
                  <b>{{ one.name }}</b> {{ one.count }} leads
                </p>
              }
            }
          </section>
          <section>
            <h2>Who covers a country</h2>
            <input
              pInputText
              type="search"
              aria-label="Find a country"
              placeholder="Find a country"
              [ngModel]="find()"
              (ngModelChange)="find.set($event)"
            />
            <table class="list">
              <thead>
                <tr>
                  <th>Country</th>
                  <th>Code</th>
                  <th>Territory</th>
                </tr>
              </thead>
              <tbody>
                @for (one of countries(); track one.code) {
                  <tr>
                    <td>{{ one.name }}</td>
                    <td class="code">{{ one.code }}</td>
                    <td [class.quiet]="one.by === null">{{ one.by ?? 'open ground' }}</td>
                  </tr>
                } @empty {
                  <tr>
                    <td colspan="3" class="quiet">No country matches.</td>
                  </tr>
                }
              </tbody>
            </table>
            @if (more() > 0) {
              <p class="quiet">and {{ more() }} more: type to find one</p>
            }
          </section>
        </div>
      } @else {
        <rv-waiting [of]="charters.state()" />
      }
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoriesPage {
  protected readonly charters = inject(CharterService);
  protected readonly find = signal('');
  private readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  private readonly list = computed(() => this.charters.shown()?.territories.list ?? []);
  private readonly coverage = computed(() =>
    coverageOf(this.list(), (country) => COUNTRY_BY_FOLDED_NAME.get(fold(country))),
  );

  protected readonly territories = computed(() => {
    const list = this.list();
    const leads = valueOf(this.counts())?.territories ?? {};
    const row = (
      key: string | null,
      depth: number,
    ): { key: string; name: string; depth: number; covers: string; leads: number }[] =>
      list
        .filter((territory) => territory.parent === key)
        .flatMap((territory) => [
          {
            key: territory.key,
            name: territory.name,
            depth,
            covers:
              territory.countries
                .map((country) => countryName(COUNTRY_BY_FOLDED_NAME.get(fold(country)) ?? country))
                .join(', ') || 'assigned by hand',
            leads: leads[territory.key] ?? 0,
          },
          ...row(territory.key, depth + 1),
        ]);
    return row(null, 0);
  });

  protected readonly openGround = computed(() =>
    (valueOf(this.counts())?.openGround ?? []).map((one) => ({ ...one, name: countryName(one.country) })),
  );

  private readonly found = computed(() => {
    const find = fold(this.find());
    const names = new Map(this.list().map((territory) => [territory.key, territory.name]));
    return COUNTRY_LIST.filter(({ code, name }) => fold(name).includes(find) || fold(code) === find)
      .map(({ code, name }) => ({
        code,
        name,
        by:
          this.coverage()
            .get(fold(code))
            ?.map((key) => names.get(key))
            .join(', also ') ?? null,
      }))
      .sort((a, b) => Number(a.by === null) - Number(b.by === null));
  });
  protected readonly countries = computed(() => this.found().slice(0, 24));
  protected readonly more = computed(() => this.found().length - this.countries().length);
}
