import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  viewChild,
} from '@angular/core';
import type { Curve } from '@relvik/contracts';
import * as d3 from 'd3';

const WIDTH = 420;
const HEIGHT = 150;
const MARGIN = { top: 14, right: 12, bottom: 22, left: 30 };

/** How a lead's scores went, and where they go if nothing more happens: solid up to now, dashed from there. */
@Component({
  selector: 'rv-score-curve',
  template: `<svg #picture [attr.viewBox]="'0 0 ${WIDTH} ${HEIGHT}'" role="img" [attr.aria-label]="words()"></svg>
    <p class="quiet"><i class="of-engagement"></i> engagement <i class="of-fit"></i> fit. {{ words() }}</p>`,
  host: { class: 'score-curve' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScoreCurve {
  readonly curve = input.required<Curve>();
  private readonly picture = viewChild.required<ElementRef<SVGSVGElement>>('picture');

  protected readonly words = computed(() => {
    const { now, points } = this.curve();
    const here = points.find(({ at }) => at >= now)?.engagement ?? null;
    const then = points.at(-1)?.engagement ?? null;
    if (here === null || then === null) return 'Engagement can’t be judged.';
    const days = Math.round(((points.at(-1)?.at ?? now) - now) / 86_400_000);
    return here === then
      ? `Engagement is ${here}, and stays so for ${days} days if nothing happens.`
      : `Engagement is ${here}; if nothing happens it is ${then} in ${days} days.`;
  });

  constructor() {
    afterRenderEffect(() => {
      draw(this.picture().nativeElement, this.curve());
    });
  }
}

type Point = Curve['points'][number];

function draw(element: SVGSVGElement, { now, points }: Curve): void {
  const svg = d3.select(element);
  svg.selectAll('*').remove();
  const values = points.flatMap(({ fit, engagement }) => [fit ?? 0, engagement ?? 0]);
  const x = d3
    .scaleTime()
    .domain([points[0]?.at ?? now, points.at(-1)?.at ?? now])
    .range([MARGIN.left, WIDTH - MARGIN.right]);
  const y = d3
    .scaleLinear()
    .domain([Math.min(0, d3.min(values) ?? 0), Math.max(10, d3.max(values) ?? 0)])
    .nice(4)
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  svg
    .append('g')
    .attr('class', 'axis')
    .attr('transform', `translate(0,${HEIGHT - MARGIN.bottom})`)
    .call(d3.axisBottom<Date>(x).ticks(5, '%-d %b').tickSizeOuter(0));
  svg
    .append('g')
    .attr('class', 'axis')
    .attr('transform', `translate(${MARGIN.left},0)`)
    .call(d3.axisLeft(y).ticks(4).tickSizeOuter(0));
  svg
    .append('line')
    .attr('class', 'now')
    .attr('x1', x(now))
    .attr('x2', x(now))
    .attr('y1', MARGIN.top)
    .attr('y2', HEIGHT - MARGIN.bottom);
  svg
    .append('text')
    .attr('class', 'now')
    .attr('x', x(now) + 4)
    .attr('y', HEIGHT - MARGIN.bottom - 4)
    .text('now');
  for (const axis of ['fit', 'engagement'] as const) {
    const line = d3
      .line<Point>()
      .defined((point) => point[axis] !== null)
      .x(({ at }) => x(at))
      .y((point) => y(point[axis] ?? 0))
      .curve(d3.curveStepAfter);
    const [past, ahead] = [points.filter(({ at }) => at <= now), points.filter(({ at }) => at >= now)];
    svg.append('path').attr('class', `line-${axis}`).attr('d', line(past));
    svg.append('path').attr('class', `line-${axis} ahead`).attr('d', line(ahead));
  }
}
