import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  claimOnGround,
  coverageOf,
  type Ground,
  giveGround,
  type GroundCount,
  groundWords,
  NO_LEADS,
  type Tally,
  tallyBy,
  type TerritoryKey,
} from '@relvik/core';
import { sum } from 'd3';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../../charter/charter.service';
import { TeamLoads } from './team-loads';

/** One side of a move: a territory, the leads that come or go, and the load of its team. */
interface Side {
  readonly key: string;
  readonly name: string;
  readonly leads: number;
  readonly open: number;
  readonly team: string;
  readonly load: string;
}

/** The ground that is chosen, its leads, and to whom it is given: what that moves is shown before. */
@Component({
  selector: 'rv-chosen-ground',
  imports: [FormsModule, ButtonModule, SelectModule],
  templateUrl: './chosen-ground.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChosenGround {
  protected readonly charters = inject(CharterService);
  private readonly loads = inject(TeamLoads);
  readonly codes = input.required<ReadonlySet<string>>();
  readonly counts = input.required<readonly GroundCount[]>();
  readonly tallies = input.required<ReadonlyMap<string, Tally>>();
  /** One is taken out of those chosen. */
  readonly dropped = output<string>();
  readonly cleared = output();
  /** To whom it is to be given; null: not said yet; empty: to nobody. */
  protected readonly to = signal<string | null>(null);

  private readonly list = computed(() => this.charters.shown()?.territories.list ?? []);
  private readonly names = computed(() => new Map<string, string>(this.list().map(({ key, name }) => [key, name])));
  private readonly coverage = computed(() => coverageOf(this.list()));
  protected readonly options = computed(() => [
    { key: '', name: 'nobody: open ground' },
    ...this.list().map(({ key, name }) => ({ key, name })),
  ]);

  protected readonly rows = computed(() =>
    [...this.codes()].map((code) => {
      const claim = claimOnGround(this.coverage(), code);
      const keys = claim?.keys.slice(0, Math.max(1, claim.equal)) ?? [];
      return {
        ...{ code, words: groundWords(groundOf(code)), ...(this.tallies().get(code) ?? NO_LEADS) },
        whose: keys.map((key) => this.names().get(key) ?? key).join(' and ') || 'open ground',
      };
    }),
  );

  /** Both sides of the move, as far as country and region tell. */
  protected readonly sides = computed((): Side[] => {
    const to = this.to();
    if (to === null) return [];
    const codes = this.codes();
    const leaving = tallyBy(this.counts(), ({ country, region, territory }) =>
      territory !== to && (codes.has(country) || (region !== null && codes.has(region))) ? (territory ?? '') : null,
    );
    const sides = [...leaving].map(([key, { leads, open }]) => this.side(key, -leads, -open));
    const coming = [...leaving.values()];
    return [
      ...sides,
      this.side(
        to,
        sum(coming, ({ leads }) => leads),
        sum(coming, ({ open }) => open),
      ),
    ];
  });

  private side(key: string, leads: number, open: number): Side {
    const team = this.loads.teams().find((one) => one.key === this.list().find((own) => own.key === key)?.team);
    const share = (count: number): string =>
      team?.limit ? `${Math.round((100 * count) / team.limit)} %` : `${count} open`;
    return {
      ...{ key, leads, open, name: this.names().get(key) ?? 'open ground' },
      team: team?.name ?? '',
      load: team === undefined ? '' : `${share(team.open)} → ${share(Math.max(0, team.open + open))}`,
    };
  }

  protected give(): void {
    const to = this.to();
    if (to === null) return;
    const key = to === '' ? null : (to as TerritoryKey);
    this.charters.change((charter) =>
      [...this.codes()].reduce((drawn, code) => giveGround(drawn, groundOf(code), key), charter),
    );
    this.to.set(null);
  }
}

function groundOf(code: string): Ground {
  return code.includes('-') ? { kind: 'region', region: code } : { kind: 'country', country: code };
}
