import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { AXES, type Axis, showBand, type VerdictKey } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { DraftNote } from '../frame/draft-note';
import { ImpactService } from '../impact/impact.service';
import { chosenBars } from '../score/chosen-bars';
import { DistributionChart } from '../score/distribution-chart';
import { SetBar } from '../score/set-bar';
import { SetChoice } from '../charter/set-choice';
import { withCut } from '../score/with-cut';

/** Grade: the cuts of both axes, and what each cell of the grid asks for. */
@Component({
  selector: 'rv-grade-page',
  imports: [FormsModule, SelectModule, DistributionChart, DraftNote, SetBar, Waiting],
  templateUrl: './grade.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GradePage {
  protected readonly charters = inject(CharterService);
  protected readonly impacts = inject(ImpactService);
  protected readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  private readonly choice = inject(SetChoice);
  protected readonly set = this.choice.set;
  protected readonly before = this.choice.inForce;
  protected readonly verdicts = computed(() =>
    (this.charters.shown()?.verdicts ?? []).map(({ key, name }) => ({ value: key, label: name })),
  );

  protected readonly bars = chosenBars();
  protected readonly axes = computed(() =>
    AXES.map((axis) => {
      const bands = this.set()?.grid[axis] ?? { names: [], cuts: [] };
      const inForce = this.before()?.grid[axis].cuts ?? [];
      return {
        axis,
        title: axis === 'fit' ? 'Fit' : 'Engagement',
        bands: bands.names.map((name, i) => ({ name, range: showBand(i, bands.cuts) })),
        cuts: bands.cuts.map((cut, i) => ({
          cut,
          before: inForce[i] !== cut ? (inForce[i] ?? null) : null,
          between: `${bands.names[i]} and ${bands.names[i + 1]}`,
        })),
      };
    }),
  );

  /** Of leads that come in it would grade none: it only gives scores beside. */
  protected readonly onlyBeside = computed(() => this.impacts.tally()?.sets[this.choice.key() ?? '']?.grades === 0);

  /** The best fit band on top. */
  protected readonly rows = computed(() => {
    const grid = this.set()?.grid;
    const cells = (valueOf(this.counts())?.cells ?? []).filter(({ scoreSet }) => scoreSet === this.choice.key());
    const most = Math.max(1, ...cells.map((cell) => cell.count));
    const impact = this.impacts.ofCompanies() ? this.impacts.companies() : this.impacts.impact();
    const flows = impact?.facets.grade.flows;
    const sum = (end: 'from' | 'to', grade: string): number =>
      (flows ?? []).reduce((all, flow) => all + (flow[end] === grade ? flow.count : 0), 0);
    return (grid?.fit.names ?? [])
      .map((name, fit) => ({
        name,
        fit,
        cells: (grid?.engagement.names ?? []).map((band, engagement) => {
          const found = cells.find((cell) => cell.fitBand === fit && cell.engagementBand === engagement);
          const verdict = grid?.cells[fit]?.[engagement] ?? 'no-action';
          return {
            band,
            engagement,
            verdict,
            before: this.before()?.grid.cells[fit]?.[engagement],
            count: found?.count ?? 0,
            heat: (found?.count ?? 0) / most,
            change: flows === undefined ? 0 : sum('to', `${name} ${band}`) - sum('from', `${name} ${band}`),
            won: found && found.closed >= 10 ? Math.round((100 * found.won) / found.closed) : null,
          };
        }),
      }))
      .reverse();
  });

  protected setCut(axis: Axis, at: number, typed: string, field: HTMLInputElement): void {
    const cut = Number(typed);
    const now = this.set()?.grid[axis].cuts[at];
    if (typed.trim() === '' || !Number.isFinite(cut)) {
      field.value = String(now ?? '');
      return;
    }
    if (cut === now) return;
    this.moveCut(axis, at, cut);
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
