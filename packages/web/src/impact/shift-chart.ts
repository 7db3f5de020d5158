import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  input,
  viewChild,
} from '@angular/core';
import { max, scaleLinear, select } from 'd3';
import type { Shift } from './shifts';

const WIDTH = 252;
const ROW = 21;
/** Where the bars begin and how long the longest is. */
const BARS = 104;
const LONGEST = 74;

/** How many stand where, in force above and in the draft below it; a limit is a line across both. */
@Component({
  selector: 'rv-shift-chart',
  template: `<svg #svg role="img" [attr.aria-label]="label()"></svg>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShiftChart {
  readonly shifts = input.required<readonly Shift[]>();
  readonly label = input.required<string>();
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');

  constructor() {
    afterRenderEffect(() => {
      this.draw();
    });
  }

  private draw(): void {
    const shifts = this.shifts();
    const most = max(shifts, ({ before, after, limit }) => Math.max(before, after, limit ?? 0)) ?? 0;
    const length = scaleLinear([0, Math.max(1, most)], [0, LONGEST]);
    const svg = select(this.svg().nativeElement).attr('viewBox', `0 0 ${WIDTH} ${ROW * shifts.length}`);
    const rows = svg
      .selectAll<SVGGElement, Shift>('g')
      .data(shifts, ({ key }) => key)
      .join((enter) => {
        const row = enter.append('g');
        row.append('title');
        row.append('text').attr('class', 'what').attr('y', 14);
        row.append('rect').attr('class', 'before').attr('x', BARS).attr('y', 4).attr('height', 6);
        row.append('rect').attr('class', 'after').attr('x', BARS).attr('y', 11).attr('height', 5);
        row.append('line').attr('class', 'limit').attr('y1', 2).attr('y2', 18);
        row.append('text').attr('class', 'count').attr('x', 216).attr('y', 14).attr('text-anchor', 'end');
        row.append('text').attr('class', 'change').attr('x', WIDTH).attr('y', 14).attr('text-anchor', 'end');
        return row;
      })
      .order()
      .attr('transform', (_, n) => `translate(0,${n * ROW})`);
    rows.select('title').text(({ name, before, after, limit }) => {
      const held = limit === null ? '' : `, of ${limit} at most`;
      return `${name}: ${before} in force, ${after} in the draft${held}`;
    });
    rows.select('.what').text(({ name }) => (name.length > 17 ? `${name.slice(0, 16)}…` : name));
    rows.select('.before').attr('width', ({ before }) => length(before));
    rows
      .select('.after')
      .attr('width', ({ after }) => length(after))
      .classed('moved', ({ before, after }) => before !== after);
    rows
      .select('.limit')
      .attr('visibility', ({ limit }) => (limit === null ? 'hidden' : 'visible'))
      .attr('x1', ({ limit }) => BARS + length(limit ?? 0))
      .attr('x2', ({ limit }) => BARS + length(limit ?? 0));
    rows.select('.count').text(({ before }) => before.toLocaleString('en'));
    rows.select('.change').text(({ change }) => change ?? '=');
    rows.select('.change').classed('moved', ({ change }) => change !== null);
  }
}
