import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { type Band, cellKey, gradeOfKeys, PIPELINE_KINDS, type VerdictKey, wilson } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { SetChoice } from '../charter/set-choice';
import { ImpactService } from '../impact/impact.service';
import { pathOf, pluralOf } from '../wording/kind-words';

function percent(share: number): number {
  return Math.round(100 * share);
}

/** The grid of the chosen score set: what each cell asks for, how many are in it by the charter in force and by the draft, and how many were won. */
@Component({
  selector: 'rv-grade-grid',
  imports: [DecimalPipe, FormsModule, RouterLink, SelectModule],
  templateUrl: './grade-grid.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GradeGrid {
  protected readonly charters = inject(CharterService);
  private readonly impacts = inject(ImpactService);
  private readonly choice = inject(SetChoice);
  protected readonly counts = toSignal(asLoaded(inject(CountsService).rules()), { initialValue: LOADING });
  protected readonly grid = computed(() => this.choice.set()?.grid ?? null);
  private readonly kind = computed(() => this.impacts.otherKind() ?? 'lead');
  protected readonly plural = computed(() => pluralOf(this.kind()));
  protected readonly path = computed(() => pathOf(this.kind()));
  protected readonly verdicts = computed(() =>
    (this.charters.shown()?.verdicts ?? []).map(({ key, name }) => ({ value: key, label: name })),
  );
  /** Of leads that come in it would grade none: it only gives scores beside. */
  protected readonly onlyBeside = computed(() => this.impacts.tally()?.sets[this.choice.key() ?? '']?.grades === 0);

  private readonly cells = computed(() =>
    (valueOf(this.counts())?.cells ?? []).filter(({ scoreSet }) => scoreSet === this.choice.key()),
  );
  /** How many more, or fewer, are in each cell by the draft. */
  private readonly changes = computed((): ReadonlyMap<string, number> => {
    const impact = this.impacts.otherKind() === null ? this.impacts.impact() : this.impacts.others();
    const changes = new Map<string, number>();
    const add = (cell: string, by: number): unknown => changes.set(cell, (changes.get(cell) ?? 0) + by);
    for (const { from, to, count } of impact?.facets.grade.flows ?? []) {
      add(to, count);
      add(from, -count);
    }
    return changes;
  });

  /** The best fit band on top. */
  protected readonly rows = computed(() => {
    const grid = this.grid();
    const cells = this.cells();
    const [most, all] = [
      Math.max(1, ...cells.map(({ count }) => count)),
      cells.reduce((sum, { count }) => sum + count, 0),
    ];
    return (grid?.fit.bands ?? [])
      .map((row, fit) => ({
        ...row,
        fit,
        cells: (grid?.engagement.bands ?? []).map((band, engagement) => {
          const found = cells.find((cell) => cell.fitBand === row.key && cell.engagementBand === band.key);
          const [count, closed] = [found?.count ?? 0, found?.closed ?? 0];
          const change = this.changes().get(cellKey({ fit: row.key, engagement: band.key })) ?? 0;
          const won = wilson(found?.won ?? 0, closed);
          return {
            band,
            engagement,
            verdict: grid?.cells[fit]?.[engagement] ?? 'no-action',
            before: this.verdictBefore(row, band),
            count,
            after: change === 0 ? null : Math.max(0, count + change),
            heat: count / most,
            share: all === 0 ? 0 : percent(count / all),
            won: won && { share: percent(won.share), low: percent(won.low), high: percent(won.high), of: won.of },
            query: { ...this.ofSet(), fit: row.key, engagement: band.key },
          };
        }),
      }))
      .reverse();
  });

  /** The filters of a list that hold all records that the set grades, closed ones too. */
  private readonly ofSet = computed(() => ({
    ...(PIPELINE_KINDS.some((kind) => kind === this.kind()) ? { status: 'any' } : {}),
    // Bands of several sets may have the same keys.
    ...(this.choice.sets().filter(({ of, on }) => on && of === this.kind()).length > 1
      ? { gradedBy: this.choice.key() }
      : {}),
  }));

  /** The verdict in force of the cell of two bands; undefined: it is new. */
  private verdictBefore(fit: Band, engagement: Band): VerdictKey | undefined {
    const grid = this.choice.inForce()?.grid;
    const found = grid === undefined ? null : gradeOfKeys(grid, { fit: fit.key, engagement: engagement.key });
    return found === null ? undefined : grid?.cells[found.fit]?.[found.engagement];
  }

  protected setVerdict(fit: number, engagement: number, verdict: VerdictKey): void {
    this.choice.change((set) => {
      const { grid } = set;
      const cells = grid.cells.map((row, f) =>
        f === fit ? row.map((cell, e) => (e === engagement ? verdict : cell)) : row,
      );
      return { ...set, grid: { ...grid, cells } };
    });
  }

  protected nameOf(verdict: VerdictKey): string {
    return this.verdicts().find((one) => one.value === verdict)?.label ?? verdict;
  }
}
