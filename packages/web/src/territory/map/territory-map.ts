import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { polygonContains, pointer, select, type ZoomBehavior, zoom, zoomIdentity, type ZoomTransform } from 'd3';
import { type GroundShape, MAP_HEIGHT, MAP_WIDTH, PROJECTION } from './ground-shapes';
import { OPEN_INK } from './map-colours';
import type { MapView } from './map-views';

/** How one ground is drawn. */
export interface GroundLook {
  readonly ink: string;
  /** Leads lie here and no territory covers it, or several do. */
  readonly hatch: 'open' | 'overlap' | null;
  /** Its territory is another in the draft. */
  readonly moves: boolean;
  /** The tooltip. */
  readonly words: string;
}

/** A name on the map. */
export interface MapLabel {
  readonly key: string;
  readonly words: string;
  readonly at: readonly [x: number, y: number];
  readonly isOpen: boolean;
}

/** Grounds that were chosen on the map. */
export interface Chosen {
  readonly codes: readonly string[];
  /** Beside those chosen before. */
  readonly more: boolean;
}

const MOST_ZOOM = 60;
/** So much of the picture one press of an arrow moves it. */
const STEP = 60;
/** A letter of a label is about so wide. */
const LETTER = 6.6;
const LINE = 15;

/** Countries and regions in the colours of their territories: zoomed and moved by mouse and keys, chosen by click or lasso. */
@Component({
  selector: 'rv-territory-map',
  template: `<svg
    #svg
    tabindex="0"
    role="application"
    [attr.viewBox]="'0 0 ' + width + ' ' + height"
    aria-label="Map of territories. Arrow keys move it, plus and minus zoom. Ground is chosen in the list beside it as well."
    (keydown)="onKey($event)"
  >
    <defs>
      <pattern id="hatch-open" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill="#fdfcf8" />
        <path d="M-1,1 l2,-2 M0,6 l6,-6 M5,7 l2,-2" stroke="#a32a4e" stroke-width="1.6" />
      </pattern>
      <pattern id="hatch-overlap" width="6" height="6" patternUnits="userSpaceOnUse">
        <path d="M-1,5 l2,2 M0,0 l6,6 M5,-1 l2,2" stroke="#12302e" stroke-width="1.4" />
      </pattern>
    </defs>
    <g class="world">
      <g class="grounds" />
      <g class="hatches" />
      <g class="moves" />
      <g class="chosen" />
    </g>
    <g class="labels" />
    <path class="lasso" />
  </svg>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoryMap {
  readonly shapes = input.required<readonly GroundShape[]>();
  /** By code; what is missing is open ground without leads. */
  readonly looks = input.required<ReadonlyMap<string, GroundLook>>();
  readonly labels = input.required<readonly MapLabel[]>();
  readonly chosen = input.required<ReadonlySet<string>>();
  readonly view = input.required<MapView>();
  /** Dragging draws around ground instead of moving the map. */
  readonly lasso = input(false);
  readonly choose = output<Chosen>();

  protected readonly width = MAP_WIDTH;
  protected readonly height = MAP_HEIGHT;
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');
  private readonly transform = signal<ZoomTransform>(zoomIdentity);
  private readonly byCode = computed(() => new Map(this.shapes().map((shape) => [shape.code, shape])));
  private readonly zooming: ZoomBehavior<SVGSVGElement, unknown> = zoom<SVGSVGElement, unknown>()
    .scaleExtent([1, MOST_ZOOM])
    .extent([
      [0, 0],
      [MAP_WIDTH, MAP_HEIGHT],
    ])
    .translateExtent([
      [0, 0],
      [MAP_WIDTH, MAP_HEIGHT],
    ])
    .filter(
      (event: MouseEvent) => !event.ctrlKey && event.button === 0 && !(this.lasso() && event.type === 'mousedown'),
    )
    .on('zoom', ({ transform }: { readonly transform: ZoomTransform }) => {
      this.transform.set(transform);
    });

  constructor() {
    afterRenderEffect(() => {
      this.listen();
    });
    afterRenderEffect(() => {
      this.drawGrounds();
    });
    afterRenderEffect(() => {
      this.colour();
    });
    afterRenderEffect(() => {
      this.outline('chosen', this.chosen());
    });
    afterRenderEffect(() => {
      this.place();
    });
    afterRenderEffect(() => {
      const view = this.view();
      untracked(() => {
        this.show(view);
      });
    });
  }

  private layer(name: string) {
    return select(this.svg().nativeElement).select<SVGGElement>(`.${name}`);
  }

  private listen(): void {
    select(this.svg().nativeElement)
      .call(this.zooming)
      .on('dblclick.zoom', null)
      .on('click', (event: MouseEvent) => {
        const code = (event.target as Element).getAttribute('data-code');
        if (code) this.choose.emit({ codes: [code], more: event.shiftKey || event.metaKey });
      })
      .on('pointerdown.lasso', (event: PointerEvent) => {
        if (this.lasso()) this.drawAround(event);
      });
  }

  private drawGrounds(): void {
    this.layer('grounds')
      .selectAll<SVGPathElement, GroundShape>('path')
      .data(this.shapes(), ({ path }) => path)
      .join((entered) => {
        const path = entered
          .append('path')
          .attr('data-code', ({ code }) => code)
          .attr('d', ({ path: d }) => d);
        path.append('title');
        return path;
      });
  }

  private colour(): void {
    const looks = this.looks();
    const inkOf = ({ code }: GroundShape): string => looks.get(code)?.ink ?? OPEN_INK;
    const wordsOf = ({ code, name }: GroundShape): string => looks.get(code)?.words ?? name;
    // Only attributes that differ are set: the browser draws what is set anew.
    const grounds = this.layer('grounds')
      .selectAll<SVGPathElement, GroundShape>('path')
      .data(this.shapes(), ({ path }) => path);
    grounds.filter((shape, i, nodes) => nodes[i]?.getAttribute('fill') !== inkOf(shape)).attr('fill', inkOf);
    grounds
      .select<SVGTitleElement>('title')
      .filter((shape, i, nodes) => nodes[i]?.textContent !== wordsOf(shape))
      .text(wordsOf);
    const hatched = [...looks].flatMap(([code, { hatch }]) => {
      const shape = this.byCode().get(code);
      return hatch === null || shape === undefined ? [] : [{ ...shape, hatch }];
    });
    this.layer('hatches')
      .selectAll<SVGPathElement, (typeof hatched)[number]>('path')
      .data(hatched, ({ code }) => code)
      .join('path')
      .attr('d', ({ path }) => path)
      .attr('fill', ({ hatch }) => `url(#hatch-${hatch})`);
    this.outline('moves', new Set([...looks].flatMap(([code, { moves }]) => (moves ? [code] : []))));
  }

  private outline(layer: 'chosen' | 'moves', codes: ReadonlySet<string>): void {
    const shapes = [...codes].flatMap((code) => this.byCode().get(code) ?? []);
    this.layer(layer)
      .selectAll<SVGPathElement, GroundShape>('path')
      .data(shapes, ({ code }) => code)
      .join('path')
      .attr('d', ({ path }) => path);
  }

  /** Moves the picture, and sets the names where they do not cover each other: those that come first count. */
  private place(): void {
    const transform = this.transform();
    this.layer('world').attr('transform', transform.toString());
    // Hatches keep their width.
    select(this.svg().nativeElement)
      .selectAll('pattern')
      .attr('patternTransform', `scale(${1 / transform.k})`);
    const taken: { readonly x: number; readonly y: number; readonly half: number }[] = [];
    const placed = this.labels().flatMap((label) => {
      const [x, y] = transform.apply([...label.at]);
      const half = (label.words.length * LETTER) / 2;
      const isIn = x - half > 2 && x + half < MAP_WIDTH - 2 && y > LINE && y < MAP_HEIGHT - 4;
      if (!isIn || taken.some((one) => Math.abs(one.y - y) < LINE && Math.abs(one.x - x) < one.half + half)) return [];
      taken.push({ x, y, half });
      return [{ ...label, x, y }];
    });
    this.layer('labels')
      .selectAll<SVGTextElement, (typeof placed)[number]>('text')
      .data(placed, ({ key }) => key)
      .join('text')
      .attr('class', ({ isOpen }) => (isOpen ? 'open' : null))
      .attr('x', ({ x }) => x)
      .attr('y', ({ y }) => y)
      .text(({ words }) => words);
  }

  private show({ west, south, east, north }: MapView): void {
    const [left, top] = PROJECTION([west, north]) ?? [0, 0];
    const [right, bottom] = PROJECTION([east, south]) ?? [MAP_WIDTH, MAP_HEIGHT];
    const k = Math.max(1, Math.min(MAP_WIDTH / (right - left), MAP_HEIGHT / (bottom - top), MOST_ZOOM));
    const to = zoomIdentity
      .translate(MAP_WIDTH / 2, MAP_HEIGHT / 2)
      .scale(k)
      .translate(-(left + right) / 2, -(top + bottom) / 2);
    select(this.svg().nativeElement).call((svg) => {
      this.zooming.transform(svg, to);
    });
  }

  /** Nearer, or farther. */
  zoomBy(factor: number): void {
    select(this.svg().nativeElement).call((svg) => {
      this.zooming.scaleBy(svg, factor);
    });
  }

  protected onKey(event: KeyboardEvent): void {
    const { k } = this.transform();
    const moves: Readonly<Record<string, readonly [number, number]>> = {
      ArrowLeft: [STEP / k, 0],
      ArrowRight: [-STEP / k, 0],
      ArrowUp: [0, STEP / k],
      ArrowDown: [0, -STEP / k],
    };
    const move = moves[event.key];
    if (move !== undefined)
      select(this.svg().nativeElement).call((svg) => {
        this.zooming.translateBy(svg, ...move);
      });
    else if (event.key === '+' || event.key === '=') this.zoomBy(1.6);
    else if (event.key === '-') this.zoomBy(1 / 1.6);
    else return;
    event.preventDefault();
    // Arrows and digits are keys of the page, too.
    event.stopPropagation();
  }

  /** Follows the pointer, and chooses what lies inside its way by its middle. */
  private drawAround(down: PointerEvent): void {
    const svg = this.svg().nativeElement;
    const line = select(svg).select<SVGPathElement>('.lasso');
    const way: [number, number][] = [pointer(down, svg)];
    select(svg)
      .on('pointermove.lasso', (event: PointerEvent) => {
        way.push(pointer(event, svg));
        line.attr('d', `M${way.map((at) => at.join(',')).join('L')}Z`);
      })
      .on('pointerup.lasso pointerleave.lasso', (event: PointerEvent) => {
        select(svg).on('pointermove.lasso pointerup.lasso pointerleave.lasso', null);
        line.attr('d', null);
        if (way.length < 3) return;
        const transform = this.transform();
        const inside = this.shapes().filter(
          ({ code, middle }) => code !== '' && polygonContains(way, transform.apply([...middle])),
        );
        if (inside.length > 0) this.choose.emit({ codes: inside.map(({ code }) => code), more: event.shiftKey });
      });
  }
}
