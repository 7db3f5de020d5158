import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  type Charter,
  claimOnGround,
  coverageOf,
  currencyDecimals,
  type Ground,
  giveGround,
  type GroundCount,
  type GroundMove,
  groundWords,
  keyOfRole,
  movesBetween,
  NO_LEADS,
  type Tally,
  type TerritoryKey,
} from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../../charter/charter.service';
import { WordingService } from '../../wording/wording.service';
import { TerritoryDrawing } from '../territory-drawing';
import { TeamLoads } from './team-loads';

/** One side of a move: a territory, the leads that come or go, and the load of its team. */
interface Side {
  readonly key: string;
  readonly name: string;
  readonly leads: number;
  readonly open: number;
  /** Amounts of the open leads together, in words. */
  readonly value: string;
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
  private readonly drawing = inject(TerritoryDrawing);
  private readonly words = inject(WordingService);
  readonly codes = input.required<ReadonlySet<string>>();
  readonly counts = input.required<readonly GroundCount[]>();
  readonly tallies = input.required<ReadonlyMap<string, Tally>>();
  /** One is taken out of those chosen. */
  readonly dropped = output<string>();
  readonly cleared = output();
  /** To whom it is to be given; null: not said yet; empty: to nobody. */
  protected readonly to = signal<string | null>(null);

  protected readonly options = computed(() => [{ key: '', name: 'nobody: open ground' }, ...this.drawing.options()]);

  protected readonly rows = computed(() =>
    [...this.codes()].map((code) => {
      const claim = claimOnGround(this.drawing.coverage(), code);
      const keys = claim?.keys.slice(0, Math.max(1, claim.equal)) ?? [];
      return {
        ...{
          code,
          words: groundWords(groundOf(code), this.words.places().ownRegions),
          ...(this.tallies().get(code) ?? NO_LEADS),
        },
        whose: keys.length === 0 ? 'open ground' : keys.map((key) => this.drawing.nameOf(key)).join(' and '),
      };
    }),
  );

  /** Whether a field says what leads are worth. */
  protected readonly hasValues = computed(() => keyOfRole(this.words.catalogue(), 'lead', 'amount') !== null);

  /** That of the charter in force, in which values are counted. */
  protected readonly currency = computed(() => this.words.wording().baseCurrency);

  /** An amount in whole units of the currency. */
  protected valueWords(minor: number): string {
    const units = minor / 10 ** (currencyDecimals(this.currency()) ?? 0);
    return units.toLocaleString('en', { maximumFractionDigits: 0 });
  }

  /** Both sides of the move. */
  protected readonly sides = computed((): Side[] => {
    const charter = this.charters.shown();
    const to = this.to();
    if (to === null || charter === null) return [];
    const after = coverageOf(this.given(charter, to).territories.list);
    return movesBetween(this.counts(), this.drawing.inForce(), this.drawing.coverage(), after).map((one) =>
      this.side(one),
    );
  });

  private side({ territory: key, leads, open, value }: GroundMove): Side {
    const own = this.drawing.list().find((one) => one.key === key);
    const team = this.loads.teams().find((one) => one.key === own?.team);
    const share = (count: number): string =>
      team?.limit ? `${Math.round((100 * count) / team.limit)} %` : `${count} open`;
    return {
      ...{ key, leads, open, name: this.drawing.nameOf(key) },
      value: `${value > 0 ? '+' : ''}${this.valueWords(value)}`,
      team: team?.name ?? '',
      load: team === undefined ? '' : `${share(team.open)} → ${share(Math.max(0, team.open + open))}`,
    };
  }

  private given(charter: Charter, to: string): Charter {
    const key = to === '' ? null : (to as TerritoryKey);
    return [...this.codes()].reduce((drawn, code) => giveGround(drawn, groundOf(code), key), charter);
  }

  protected give(): void {
    const to = this.to();
    if (to === null) return;
    this.charters.change((charter) => this.given(charter, to));
    this.to.set(null);
  }
}

function groundOf(code: string): Ground {
  return code.includes('-') ? { kind: 'region', region: code } : { kind: 'country', country: code };
}
