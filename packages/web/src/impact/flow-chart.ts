import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  input,
  viewChild,
} from '@angular/core';
import type { Flow } from '@relvik/core';
import { linkHorizontal, select, sum } from 'd3';

/** A label on both sides of the picture, from top to bottom. */
export interface FlowNode {
  readonly label: string;
  /** Its name on either side: a draft may rename it. */
  readonly before: string;
  readonly after: string;
  /** 0 to 6: the deeper, the darker. */
  readonly depth: number;
}

const WIDTH = 252;
const HEIGHT = 116;
/** Wide enough for a letter; words stand beside their box. */
const BOX = 26;
const GAP = 3;

interface Side {
  readonly top: number;
  readonly height: number;
}

/** Who moved from which box to which: what stays is water, what moves is the draft's. */
@Component({
  selector: 'rv-flow-chart',
  template: `<svg #svg role="img" [attr.aria-label]="label()" viewBox="0 0 252 116">
    <g class="ribbons" />
    <g class="boxes" />
  </svg>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FlowChart {
  readonly flows = input.required<readonly Flow[]>();
  readonly nodes = input.required<readonly FlowNode[]>();
  readonly label = input.required<string>();
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');

  constructor() {
    afterRenderEffect(() => {
      this.draw();
    });
  }

  private sides(end: 'from' | 'to'): Map<string, Side> {
    const nodes = this.nodes();
    const totals = nodes.map(({ label }) => sum(this.flows(), (flow) => (flow[end] === label ? flow.count : 0)));
    const all = Math.max(1, sum(totals));
    const free = HEIGHT - GAP * (nodes.length - 1);
    const sides = new Map<string, Side>();
    let top = 0;
    nodes.forEach(({ label }, n) => {
      const height = (free * (totals[n] ?? 0)) / all;
      sides.set(label, { top, height });
      top += height + GAP;
    });
    return sides;
  }

  private draw(): void {
    const [from, to] = [this.sides('from'), this.sides('to')];
    const scale = (side: Map<string, Side>, end: 'from' | 'to', label: string): number =>
      (side.get(label)?.height ?? 0) /
      Math.max(
        1,
        sum(this.flows(), (flow) => (flow[end] === label ? flow.count : 0)),
      );
    const used = { from: new Map<string, number>(), to: new Map<string, number>() };
    const place = (end: 'from' | 'to', label: string, count: number): { middle: number; thick: number } => {
      const side = end === 'from' ? from : to;
      const thick = count * scale(side, end, label);
      const begun = used[end].get(label) ?? 0;
      used[end].set(label, begun + thick);
      return { middle: (side.get(label)?.top ?? 0) + begun + thick / 2, thick };
    };
    const order = new Map(this.nodes().map(({ label }, n) => [label, n]));
    const ribbons = [...this.flows()]
      .filter((flow) => order.has(flow.from) && order.has(flow.to))
      .sort(
        (a, b) =>
          (order.get(a.from) ?? 0) - (order.get(b.from) ?? 0) || (order.get(a.to) ?? 0) - (order.get(b.to) ?? 0),
      )
      .map((flow) => {
        const [left, right] = [place('from', flow.from, flow.count), place('to', flow.to, flow.count)];
        return { flow, left, right, thick: Math.max(1, (left.thick + right.thick) / 2) };
      });

    // Moves are drawn over what stays.
    const layered = [true, false].flatMap((stays) => ribbons.filter(({ flow }) => (flow.from === flow.to) === stays));
    const line = linkHorizontal<(typeof ribbons)[number], [number, number]>()
      .source(({ left }) => [BOX, left.middle])
      .target(({ right }) => [WIDTH - BOX, right.middle]);
    const svg = select(this.svg().nativeElement);
    svg
      .select('.ribbons')
      .selectAll<SVGPathElement, (typeof ribbons)[number]>('path')
      .data(layered)
      .join('path')
      .attr('class', ({ flow }) => (flow.from === flow.to ? 'stays' : 'moves'))
      .attr('d', line)
      .attr('stroke-width', ({ thick }) => thick);
    for (const [side, x] of [
      [from, 0],
      [to, WIDTH - BOX],
    ] as const) {
      const name = x === 0 ? 'before' : 'after';
      const boxes = svg
        .select('.boxes')
        .selectAll<SVGGElement, FlowNode>(`g.${name}`)
        .data(this.nodes().filter(({ label }) => (side.get(label)?.height ?? 0) > 0))
        .join((enter) => {
          const g = enter.append('g').attr('class', name);
          g.append('rect').attr('rx', 4).attr('width', BOX);
          g.append('text').attr('dy', '0.35em');
          return g;
        })
        .attr('transform', ({ label }) => `translate(${x},${side.get(label)?.top ?? 0})`);
      boxes
        .select('rect')
        .attr('height', ({ label }) => Math.max(1, side.get(label)?.height ?? 0))
        .attr('class', ({ depth }) => `box depth-${depth}`);
      boxes
        .select('text')
        .attr('y', ({ label }) => (side.get(label)?.height ?? 0) / 2)
        .attr('class', ({ depth }) => (depth > 2 ? 'on-dark' : ''))
        .text((node) => ((side.get(node.label)?.height ?? 0) > 11 ? node[name] : ''));
      // A word is longer than the box is wide: it begins, or ends, at the box's edge and runs over the water.
      const isWord = (node: FlowNode): boolean => node[name].length > 2;
      boxes
        .select('text')
        .classed('word', isWord)
        .attr('text-anchor', (node) => (!isWord(node) ? 'middle' : x === 0 ? 'start' : 'end'))
        .attr('x', (node) => (!isWord(node) ? BOX / 2 : x === 0 ? BOX + 5 : -5));
    }
  }
}
