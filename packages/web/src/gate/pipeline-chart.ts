import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  output,
  viewChild,
} from '@angular/core';
import type { PipelineFigures } from '@relvik/contracts';
import { endsOf, enteredInto, type Gate, passedThrough, type Pipeline, skipShare } from '@relvik/core';
import { drag, type D3DragEvent, path as pathOf, scaleLinear, select } from 'd3';
import { CharterService } from '../charter/charter.service';
import { END, layOutPipeline, type PlacedEnd, type PlacedGate, type PlacedStage, STAGE } from './pipeline-layout';

const WIDTH = 940;

/** The two lines of a stage's box below its name. */
interface StageWords {
  readonly count: string;
  readonly time: string;
}

/** A pipeline drawn from left to right: what stands in each stage, and what each gate let through in 30 days. */
@Component({
  selector: 'rv-pipeline-chart',
  template: `<div class="pipeline-chart">
    <svg #svg role="group" [attr.aria-label]="'Pipeline ' + pipeline().name"></svg>
  </div>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PipelineChart {
  private readonly charters = inject(CharterService);
  readonly pipeline = input.required<Pipeline>();
  /** The gates of all pipelines. */
  readonly gates = input.required<readonly Gate[]>();
  readonly figures = input.required<PipelineFigures | null>();
  readonly chosenStage = input<string | null>(null);
  readonly stageChosen = output<string>();
  readonly gateChosen = output<string>();
  /** A stage was dragged to a place among those of its sort. */
  readonly moved = output<{ readonly stage: string; readonly place: number }>();
  private readonly svg = viewChild.required<ElementRef<SVGSVGElement>>('svg');

  private readonly own = computed(() => {
    const keys = new Set<string>(this.pipeline().stages.map(({ key }) => key));
    // A gate that proposes several stages is drawn to each.
    return this.gates()
      .flatMap((gate) => endsOf(gate).map((to) => ({ ...gate, to })))
      .filter(({ from, to }) => keys.has(from) || keys.has(to));
  });
  private readonly layout = computed(() => layOutPipeline(this.pipeline(), this.own(), WIDTH));

  constructor() {
    afterRenderEffect(() => {
      this.draw();
    });
  }

  /** How many passed a gate to a stage; one that leads to a single stage counts those that it led elsewhere before. */
  private passed({ key, to }: Pick<PlacedGate, 'key' | 'to'>): number {
    const moves = this.figures()?.moves ?? [];
    const gate = this.gates().find((one) => one.key === key);
    const isSingle = gate === undefined || endsOf(gate).length === 1;
    return passedThrough(isSingle ? moves : moves.filter((one) => one.to === to), key);
  }

  private wordsOf({ stage }: PlacedStage): StageWords {
    const figures = this.figures();
    const found = figures?.stages.find((one) => one.stage === stage.key);
    if (figures === null) return { count: '', time: '' };
    const many = (count: number): string => count.toLocaleString('en');
    if (stage.kind !== 'open') {
      const entered = enteredInto(figures.moves, stage.key);
      return { count: many((found?.closed ?? 0) + (found?.open ?? 0)), time: `${many(entered)} in 30 days` };
    }
    const skipped = skipShare(this.pipeline(), figures.moves, stage.key) ?? 0;
    const days = found?.days ?? null;
    return {
      count: many(found?.open ?? 0),
      time: [
        ...(days === null ? [] : [daysWords(days)]),
        ...(skipped < 0.005 ? [] : [`${Math.round(100 * skipped)}% skip it`]),
      ].join(' · '),
    };
  }

  private draw(): void {
    const { width, height, stages, ends, gates } = this.layout();
    const before = this.charters.inForce()?.charter;
    const known = new Set<string>((before?.pipelines ?? []).flatMap((one) => one.stages.map(({ key }) => key)));
    const ruled = new Map((before?.gates ?? []).map((gate) => [gate.key, gate]));
    const svg = select(this.svg().nativeElement).attr('viewBox', `0 0 ${width} ${height}`);
    svg.attr('width', width).attr('height', height);
    svg.selectAll('*').remove();
    const thick = scaleLinear([0, Math.max(1, ...gates.map((gate) => this.passed(gate)))], [2, 16]);
    const isDrawn = ({ key, to }: PlacedGate): boolean => {
      const [old, now] = [ruled.get(key), this.gates().find((gate) => gate.key === key)];
      return old === undefined || old.from !== now?.from || !endsOf(old).some((end) => end === to);
    };
    svg
      .selectAll('path')
      .data(gates)
      .join('path')
      .attr('class', (gate) => `gate${isDrawn(gate) ? ' drawn' : ''}${this.isOn(gate.key) ? '' : ' off'}`)
      .attr('d', ({ curve }) => bezier(curve))
      .attr('stroke-width', (gate) => thick(this.passed(gate)));
    this.drawEnds(ends);
    this.drawStages(stages, known);
    const labels = svg.selectAll<SVGGElement, PlacedGate>('g.label').data(gates).join('g').attr('class', 'label');
    labels
      .attr('transform', ({ label }) => `translate(${label.x},${label.y})`)
      .attr('tabindex', 0)
      .attr('role', 'button')
      .attr('aria-label', ({ key }) => `Gate ${this.nameOf(key)}`)
      .on('click', (_, { key }) => {
        this.gateChosen.emit(key);
      })
      .on('keydown', (event: KeyboardEvent, { key }) => {
        if (event.key === 'Enter') this.gateChosen.emit(key);
      });
    labels
      .append('text')
      .attr('class', (gate) => (isDrawn(gate) ? 'in-draft' : ''))
      .text((gate) => `${this.nameOf(gate.key)} · ${isDrawn(gate) ? 'new' : this.passed(gate).toLocaleString('en')}`);
  }

  private drawStages(stages: readonly PlacedStage[], known: ReadonlySet<string>): void {
    const boxes = select(this.svg().nativeElement)
      .selectAll<SVGGElement, PlacedStage>('g.stage')
      .data(stages)
      .join('g')
      .attr('class', ({ stage }) =>
        [
          'stage',
          stage.kind,
          ...(known.has(stage.key) ? [] : ['drawn']),
          ...(this.chosenStage() === stage.key ? ['chosen'] : []),
        ].join(' '),
      )
      .attr('transform', ({ x, y }) => `translate(${x},${y})`)
      .attr('tabindex', 0)
      .attr('role', 'button')
      .attr('aria-label', (one) => {
        const { count, time } = this.wordsOf(one);
        return `Stage ${one.stage.name}, ${count}${time === '' ? '' : `, ${time}`}`;
      })
      .on('click', (_, { stage }) => {
        this.stageChosen.emit(stage.key);
      })
      .on('keydown', (event: KeyboardEvent, { stage }) => {
        if (event.key === 'Enter') this.stageChosen.emit(stage.key);
      });
    boxes.append('rect').attr('width', STAGE.width).attr('height', STAGE.height).attr('rx', 6);
    boxes.append('rect').attr('class', 'brow').attr('width', STAGE.width).attr('height', 4).attr('rx', 2);
    const text = (className: string, y: number, of: (one: PlacedStage) => string): unknown =>
      boxes.append('text').attr('class', className).attr('x', 11).attr('y', y).text(of);
    text('name', 23, ({ stage }) => shortened(stage.name, 18));
    text('code', 40, (one) => this.wordsOf(one).count);
    text('time', 56, (one) => this.wordsOf(one).time);
    boxes
      .filter(({ stage }) => stage.key === this.pipeline().entry)
      .append('text')
      .attr('class', 'time entry')
      .attr('x', STAGE.width - 9)
      .attr('y', 40)
      .text('entry');
    if (this.charters.draft() !== null) this.letDrag(stages);
  }

  /** Stages are dragged along their row; where one is let go says its place. */
  private letDrag(stages: readonly PlacedStage[]): void {
    const beginsAt = new Map(stages.map((one) => [one.stage.key, one.x]));
    const moving = drag<SVGGElement, PlacedStage>()
      .clickDistance(5)
      .on('drag', function (this: SVGGElement, event: D3DragEvent<SVGGElement, PlacedStage, PlacedStage>, one) {
        select(this).raise().attr('transform', `translate(${event.x},${one.y})`);
      })
      .on('end', (event: D3DragEvent<SVGGElement, PlacedStage, PlacedStage>, one) => {
        // A click: the box must stay the one that was pressed.
        if (event.x === one.x) return;
        const sort = one.stage.kind === 'open';
        const others = this.pipeline().stages.filter(
          ({ key, kind }) => (kind === 'open') === sort && key !== one.stage.key,
        );
        const place = others.filter(({ key }) => (beginsAt.get(key) ?? 0) < event.x).length;
        const was = this.pipeline()
          .stages.filter(({ kind }) => (kind === 'open') === sort)
          .findIndex(({ key }) => key === one.stage.key);
        if (place === was) this.draw();
        else this.moved.emit({ stage: one.stage.key, place });
      });
    select(this.svg().nativeElement).selectAll<SVGGElement, PlacedStage>('g.stage').call(moving);
  }

  private drawEnds(ends: readonly PlacedEnd[]): void {
    const boxes = select(this.svg().nativeElement)
      .selectAll<SVGGElement, PlacedEnd>('g.end')
      .data(ends)
      .join('g')
      .attr('class', 'end')
      .attr('transform', ({ x, y }) => `translate(${x},${y})`);
    boxes.append('rect').attr('width', END.width).attr('height', END.height).attr('rx', 13);
    boxes
      .append('text')
      .attr('x', END.width / 2)
      .attr('y', 17)
      .text(({ stage }) => shortened(this.farName(stage), 34));
  }

  /** A stage of another pipeline, with that one's name. */
  private farName(stage: string): string {
    const pipeline = this.charters.shown()?.pipelines.find(({ stages }) => stages.some(({ key }) => key === stage));
    const found = pipeline?.stages.find(({ key }) => key === stage);
    return pipeline === undefined || found === undefined ? stage : `${pipeline.name}: ${found.name}`;
  }

  private nameOf(gate: string): string {
    return shortened(this.gates().find(({ key }) => key === gate)?.name ?? gate, 24);
  }

  private isOn(gate: string): boolean {
    return this.gates().find(({ key }) => key === gate)?.on ?? false;
  }
}

function daysWords(days: number): string {
  const shown = days < 10 ? Math.round(days * 10) / 10 : Math.round(days);
  return `${shown} ${shown === 1 ? 'day' : 'days'}`;
}

function shortened(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

function bezier([a, b, c, d]: PlacedGate['curve']): string {
  const path = pathOf();
  path.moveTo(a.x, a.y);
  path.bezierCurveTo(b.x, b.y, c.x, c.y, d.x, d.y);
  return path.toString();
}
