import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  input,
  output,
  viewChild,
} from '@angular/core';
import type { AxisBounds, Bands } from '@relvik/core';
import {
  type Bin,
  bin,
  curveStepAfter,
  drag,
  line,
  max,
  type ScaleLinear,
  scaleLinear,
  select,
  type Selection,
} from 'd3';

const WIDTH = 600;
const HEIGHT = 104;
const BINS = 34;

/** How the open leads spread over an axis, with the cuts and bands drawn over it; cuts that the draft moved in orange. */
@Component({
  selector: 'rv-distribution-chart',
  template: `<svg
    #svg
    [attr.role]="movable() ? 'group' : 'img'"
    [attr.aria-label]="label()"
    [attr.viewBox]="'0 0 ' + width + ' ' + (height + 34)"
  ></svg>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DistributionChart {
  readonly counts = input.required<readonly { readonly score: number; readonly count: number }[]>();
  readonly bounds = input.required<AxisBounds>();
  readonly bands = input.required<Bands>();
  readonly bandsInForce = input.required<Bands>();
  readonly label = input.required<string>();
  /** The same by the draft, drawn over it as a line; null without a draft. */
  readonly draftCounts = input<readonly { readonly score: number; readonly count: number }[] | null>(null);
  readonly movable = input(false);
  readonly cutMoved = output<{ readonly at: number; readonly to: number }>();
  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');

  constructor() {
    afterRenderEffect(() => {
      this.draw();
    });
  }

  private draw(): void {
    const { least, most } = this.bounds();
    const { cuts, bands } = this.bands();
    const names = bands.map(({ name }) => name);
    const x = scaleLinear([least, most + 1e-9], [0, WIDTH]);
    const bins = bin<{ score: number; count: number }, number>()
      .value((d) => d.score)
      .domain([least, most + 1e-9])
      .thresholds(Array.from({ length: BINS - 1 }, (_, i) => least + ((i + 1) * (most - least)) / BINS))([
      ...this.counts(),
    ]);
    const heights = bins.map((b) => b.reduce((sum, d) => sum + d.count, 0));
    const draftHeights = heightsIn(bins, this.draftCounts() ?? []);
    const y = scaleLinear([0, Math.max(1, max(heights) ?? 1, max(draftHeights) ?? 1)], [0, HEIGHT - 20]);

    const svg = select(this.svg().nativeElement);
    svg
      .selectAll('rect.bin')
      .data(heights)
      .join('rect')
      .attr('class', 'bin')
      .attr('x', (_, i) => x(bins[i]?.x0 ?? least) + 0.5)
      .attr('width', (_, i) => Math.max(0, x(bins[i]?.x1 ?? most) - x(bins[i]?.x0 ?? least) - 1))
      .attr('y', (h) => HEIGHT - y(h))
      .attr('height', (h) => y(h));
    svg
      .selectAll('line.ground')
      .data([0])
      .join('line')
      .attr('class', 'ground')
      .attr('x1', 0)
      .attr('x2', WIDTH)
      .attr('y1', HEIGHT)
      .attr('y2', HEIGHT);

    svg
      .selectAll('path.draft-spread')
      .data(this.draftCounts() === null ? [] : [draftHeights])
      .join('path')
      .attr('class', 'draft-spread')
      .attr(
        'd',
        // Steps over the bars: between two scores there is nothing to draw a slope through.
        (heightsOf) =>
          line<number>()
            .x((_, i) => x(bins[i]?.x0 ?? most))
            .y((h) => HEIGHT - y(h))
            .curve(curveStepAfter)([...heightsOf, heightsOf.at(-1) ?? 0]),
      );

    const moved = (cut: number, i: number): boolean => this.bandsInForce().cuts[i] !== cut;
    const marks = svg
      .selectAll<SVGGElement, number>('g.cut')
      .data([...cuts])
      .join((enter) => {
        const g = enter.append('g').attr('class', 'cut');
        g.append('line')
          .attr('y1', 14)
          .attr('y2', HEIGHT + 8);
        g.append('rect')
          .attr('x', -16)
          .attr('y', HEIGHT + 8)
          .attr('width', 32)
          .attr('height', 18)
          .attr('rx', 5);
        g.append('text')
          .attr('y', HEIGHT + 21)
          .attr('text-anchor', 'middle');
        return g;
      })
      .classed('moved', moved)
      .attr('transform', (cut) => `translate(${Math.min(WIDTH - 17, Math.max(17, x(cut)))},0)`);
    marks.select('text').text((cut) => cut);
    this.makeMovable(marks, x);

    const edges = [least, ...cuts, most];
    svg
      .selectAll('text.band')
      .data([...names])
      .join('text')
      .attr('class', 'band')
      .attr('text-anchor', 'middle')
      .attr('y', 10)
      .attr('x', (_, i) => (x(edges[i] ?? least) + x(edges[i + 1] ?? most)) / 2)
      .text((name) => name);
  }

  /** Cuts are handles: dragged, or moved by the arrow keys, a whole point at a time. */
  private makeMovable(
    marks: Selection<SVGGElement, number, SVGSVGElement, unknown>,
    x: ScaleLinear<number, number>,
  ): void {
    const { cuts } = this.bands();
    const { least, most } = this.bounds();
    const go = (at: number, to: number): number => {
      const low = (cuts[at - 1] ?? least - 1) + 1;
      const high = (cuts[at + 1] ?? most + 1) - 1;
      const cut = Math.min(high, Math.max(low, Math.round(to)));
      if (cut !== cuts[at]) this.cutMoved.emit({ at, to: cut });
      return cut;
    };
    if (!this.movable()) {
      marks.attr('tabindex', null).attr('role', null).on('.drag', null).on('keydown', null).classed('movable', false);
      return;
    }
    const names = this.bands().bands.map(({ name }) => name);
    marks
      .classed('movable', true)
      .attr('tabindex', 0)
      .attr('role', 'slider')
      .attr('aria-label', (_, i) => `Handle of the cut between ${names[i] ?? ''} and ${names[i + 1] ?? ''}`)
      .attr('aria-valuemin', least)
      .attr('aria-valuemax', most)
      .attr('aria-valuenow', (cut) => cut)
      .on('keydown', (event: KeyboardEvent, cut) => {
        const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
        if (step === undefined) return;
        event.preventDefault();
        // The next key may come before the next picture: the handle itself knows where it is.
        const handle = event.currentTarget as SVGGElement;
        const to = Number(handle.getAttribute('aria-valuenow') ?? cut) + step;
        handle.setAttribute('aria-valuenow', String(go(cuts.indexOf(cut), to)));
      })
      .call(
        drag<SVGGElement, number>().on('drag', (event: { readonly x: number }, cut) => {
          go(this.bands().cuts.indexOf(cut), x.invert(event.x));
        }),
      );
  }
}

/** How many records lie in each bar. */
function heightsIn(
  bins: readonly Bin<{ score: number; count: number }, number>[],
  counts: readonly { readonly score: number; readonly count: number }[],
): number[] {
  return bins.map(({ x0 = 0, x1 = 0 }, i) =>
    counts.reduce((sum, { score, count }) => {
      const inside = score >= x0 && (score < x1 || (i === bins.length - 1 && score <= x1));
      return inside ? sum + count : sum;
    }, 0),
  );
}
