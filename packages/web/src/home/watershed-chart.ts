import { stagesOf } from '@relvik/core';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  type ElementRef,
  inject,
  input,
  viewChild,
} from '@angular/core';
import { Router } from '@angular/router';
import type { Watershed } from '@relvik/contracts';
import { linkHorizontal, select } from 'd3';
import { CharterService } from '../charter/charter.service';
import { WordingService } from '../wording/wording.service';
import { layOut, type PlacedLink, type PlacedNode, queryOf } from './watershed-layout';

const WIDTH = 950;
const HEIGHT = 470;
/** From this column on names stand left of their nodes: there is room. */
const NAMED_LEFT = 3;
const COLUMNS = ['Source', 'Fit grade', 'Stage', 'Territory', 'People'];

/** The watershed: leads running from source through grade, stage and territory to people; every part opens its leads. */
@Component({
  selector: 'rv-watershed',
  template: `<svg #svg role="group" aria-label="Watershed: leads from source to people" viewBox="0 0 950 498"></svg>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WatershedChart {
  private readonly router = inject(Router);
  private readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  readonly watershed = input.required<Watershed>();
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');

  constructor() {
    afterRenderEffect(() => {
      this.draw();
    });
  }

  private nameOf(key: string): string {
    const at = key.indexOf(':');
    const [kind, of] = [key.slice(0, at), key.slice(at + 1)];
    const { names } = this.words.wording();
    switch (kind) {
      case 'source':
        return of || 'No source';
      case 'fit':
        return of === '' ? 'No grade' : names.fitBand(of);
      case 'stage':
        return names.stage(of);
      case 'territory':
        return of === '' ? 'Open ground' : names.territory(of);
      case 'team':
        return names.team(of);
      case 'rep':
        return names.rep(of);
      case 'queue':
        return `Queue ${names.queue(of)}`;
      default:
        return 'Bay';
    }
  }

  private kindOf(key: string): string {
    if (key === 'bay' || key === 'territory:' || key === 'fit:') return 'lost';
    if (!key.startsWith('stage:')) return key.split(':')[0] ?? '';
    const charter = this.charters.inForce()?.charter;
    const stage = key.slice(6);
    return charter?.streams.some((stream) => stream.entering.some((one) => one === stage)) ? 'handed' : 'resting';
  }

  private draw(): void {
    const charter = this.charters.inForce()?.charter;
    const entered = new Set<string>((charter?.streams ?? []).flatMap((stream) => stream.entering));
    // Where leads are handed over on top, where they end at the bottom.
    const weight = ({ key, kind }: { readonly key: string; readonly kind: string }): number =>
      entered.has(key) ? 0 : kind === 'out' ? 2 : 1;
    const stages = [...(charter ? stagesOf(charter, 'lead') : [])].sort((a, b) => weight(a) - weight(b));
    const order = [
      ...[...this.words.bands().fit].reverse().map(({ key }) => `fit:${key}`),
      ...stages.map((stage) => `stage:${stage.key}`),
    ];
    const { nodes, links } = layOut(this.watershed(), WIDTH, HEIGHT, order);
    const svg = select(this.svg().nativeElement);
    const open = (query: Record<string, string> | null): void => {
      if (query !== null) void this.router.navigate(['/leads'], { queryParams: query });
    };
    const ribbon = linkHorizontal<PlacedLink, [number, number]>()
      .source(({ source, from }) => [source.x + source.width, from])
      .target(({ target, to }) => [target.x, to]);

    svg
      .selectAll('text.column')
      .data(COLUMNS)
      .join('text')
      .attr('class', 'column')
      .attr('x', (_, c) => (c === COLUMNS.length - 1 ? WIDTH : (c * (WIDTH - 10)) / (COLUMNS.length - 1)))
      .attr('text-anchor', (_, c) => (c === COLUMNS.length - 1 ? 'end' : 'start'))
      .attr('y', 12)
      .text((name) => name);
    svg
      .selectAll<SVGPathElement, PlacedLink>('path')
      .data(links)
      .join('path')
      .attr('class', ({ source, target }) => {
        const kinds = [this.kindOf(source.key), this.kindOf(target.key)];
        return `run ${kinds.includes('lost') ? 'lost' : kinds.includes('resting') ? 'resting' : kinds.includes('handed') || source.key.startsWith('territory:') ? 'handed' : 'water'}`;
      })
      .attr('transform', 'translate(0,26)')
      .attr('d', ribbon)
      .attr('stroke-width', ({ thick }) => Math.max(1, thick))
      .on('click', (_, link) => {
        open({ ...queryOf(link.source.key), ...queryOf(link.target.key), status: 'any' });
      })
      .selectAll<SVGTitleElement, PlacedLink>('title')
      .data((link) => [link])
      .join('title')
      .text(
        ({ source, target, count }) =>
          `${this.nameOf(source.key)} → ${this.nameOf(target.key)}: ${count.toLocaleString('en')}`,
      );

    const groups = svg
      .selectAll<SVGGElement, PlacedNode>('g.node')
      .data(nodes, ({ key }) => key)
      .join((enter) => {
        const g = enter.append('g').attr('class', 'node').attr('role', 'link').attr('tabindex', 0);
        g.append('rect').attr('rx', 2);
        const text = g.append('text').attr('dy', '0.35em');
        text.append('tspan').attr('class', 'name');
        text.append('tspan').attr('class', 'count').attr('dx', 5);
        return g;
      })
      .attr('transform', ({ x, y }) => `translate(${x},${y + 26})`)
      .attr('class', ({ key }) => `node ${this.kindOf(key)}`)
      .attr('aria-label', ({ key, count }) => `${this.nameOf(key)}, ${count} leads`)
      .on('click', (_, { key }) => {
        open({ ...queryOf(key), status: 'any' });
      })
      .on('keydown', (event: KeyboardEvent, { key }) => {
        if (event.key === 'Enter') open({ ...queryOf(key), status: 'any' });
      });
    groups
      .select('rect')
      .attr('width', ({ width }) => width)
      .attr('height', ({ height }) => Math.max(2, height));
    groups
      .select('text')
      .attr('x', ({ column, width }) => (column >= NAMED_LEFT ? -6 : width + 6))
      .attr('y', ({ height }) => height / 2)
      .attr('text-anchor', ({ column }) => (column >= NAMED_LEFT ? 'end' : 'start'));
    groups.select('.name').text(({ key }) => this.nameOf(key));
    groups.select('.count').text(({ count }) => count.toLocaleString('en'));
    svg.selectAll('g.node').raise();
  }
}
