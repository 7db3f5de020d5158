import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { type Axis, cellKey, gradeOfKeys, type VerdictKey } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { BandList } from './band-list';
import { DraftNote } from '../frame/draft-note';
import { ImpactService } from '../impact/impact.service';
import { chosenBars } from '../score/chosen-bars';
import { DistributionChart } from '../score/distribution-chart';
import { SetBar } from '../score/set-bar';
import { SetChoice } from '../charter/set-choice';
import { withCut } from '../score/with-cut';
import { pluralOf } from '../wording/kind-words';

/** Grade: the cuts of both axes, and what each cell of the grid asks for. */
@Component({
  selector: 'rv-grade-page',
  imports: [BandList, FormsModule, SelectModule, DistributionChart, DraftNote, SetBar, Waiting],
  templateUrl: './grade.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GradePage {
  protected readonly charters = inject(CharterService);
  protected readonly impacts = inject(ImpactService);
  /** The kind of record of the chosen set. */
  protected readonly plural = computed(() => pluralOf(this.impacts.otherKind() ?? 'lead'));
  protected readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  private readonly choice = inject(SetChoice);
  protected readonly set = this.choice.set;
  protected readonly before = this.choice.inForce;
  protected readonly verdicts = computed(() =>
    (this.charters.shown()?.verdicts ?? []).map(({ key, name }) => ({ value: key, label: name })),
  );

  protected readonly bars = chosenBars();
  protected readonly axes: readonly { readonly axis: Axis; readonly title: string }[] = [
    { axis: 'fit', title: 'Fit' },
    { axis: 'engagement', title: 'Engagement' },
  ];

  /** Of leads that come in it would grade none: it only gives scores beside. */
  protected readonly onlyBeside = computed(() => this.impacts.tally()?.sets[this.choice.key() ?? '']?.grades === 0);

  /** The best fit band on top. */
  protected readonly rows = computed(() => {
    const grid = this.set()?.grid;
    const cells = (valueOf(this.counts())?.cells ?? []).filter(({ scoreSet }) => scoreSet === this.choice.key());
    const most = Math.max(1, ...cells.map((cell) => cell.count));
    const impact = this.impacts.otherKind() === null ? this.impacts.impact() : this.impacts.others();
    const flows = impact?.facets.grade.flows;
    const sum = (end: 'from' | 'to', grade: string): number =>
      (flows ?? []).reduce((all, flow) => all + (flow[end] === grade ? flow.count : 0), 0);
    return (grid?.fit.bands ?? [])
      .map((row, fit) => ({
        ...row,
        fit,
        cells: (grid?.engagement.bands ?? []).map((band, engagement) => {
          const found = cells.find((cell) => cell.fitBand === row.key && cell.engagementBand === band.key);
          const label = cellKey({ fit: row.key, engagement: band.key });
          const verdict = grid?.cells[fit]?.[engagement] ?? 'no-action';
          return {
            band,
            engagement,
            verdict,
            before: this.verdictBefore(row.key, band.key),
            count: found?.count ?? 0,
            heat: (found?.count ?? 0) / most,
            change: flows === undefined ? 0 : sum('to', label) - sum('from', label),
            won: found && found.closed >= 10 ? Math.round((100 * found.won) / found.closed) : null,
          };
        }),
      }))
      .reverse();
  });

  /** The verdict in force of the cell of two bands; undefined: it is new. */
  private verdictBefore(fit: string, engagement: string): VerdictKey | undefined {
    const grid = this.before()?.grid;
    const found = grid === undefined ? null : gradeOfKeys(grid, { fit, engagement });
    return found === null ? undefined : grid?.cells[found.fit]?.[found.engagement];
  }

  protected moveCut(axis: Axis, at: number, to: number): void {
    this.choice.change(withCut(axis, at, to));
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
