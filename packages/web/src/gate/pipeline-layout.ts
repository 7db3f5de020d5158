import type { Gate, Pipeline, Stage } from '@relvik/core';

/** A stage on the drawing: its box, from the upper left corner. */
export interface PlacedStage {
  readonly stage: Stage;
  readonly x: number;
  readonly y: number;
}

/** The far end of a gate that leads into, or comes from, another pipeline. */
export interface PlacedEnd {
  readonly stage: string;
  readonly x: number;
  readonly y: number;
}

/** A gate on the drawing: a curve from stage to stage, with its words at a place. */
export interface PlacedGate {
  readonly key: string;
  readonly to: string;
  /** A cubic Bézier curve: start, two handles, end. */
  readonly curve: readonly [Point, Point, Point, Point];
  readonly label: Point;
}

export interface Point {
  readonly x: number;
  readonly y: number;
}

export interface PipelineLayout {
  readonly width: number;
  readonly height: number;
  readonly stages: readonly PlacedStage[];
  readonly ends: readonly PlacedEnd[];
  readonly gates: readonly PlacedGate[];
}

export const STAGE = { width: 132, height: 66 };
export const END = { width: 200, height: 26 };
const EDGE = 8;
const TOP = 30;
/** The least room between two boxes of a row. */
const GAP = 44;
const ROW = 104;
const LABEL = { width: 118, height: 15 };

type Row = 'path' | 'beside' | 'closing';

function rowOf({ kind, beside }: Stage): Row {
  if (kind === 'won') return 'path';
  return kind === 'open' ? (beside ? 'beside' : 'path') : 'closing';
}

/**
 * Lays a pipeline out from left to right: the path on top, stages beside it below, and those in which it ends badly at the bottom.
 *
 * @param gates those that begin or end in the pipeline
 * @param width of the drawing; more where the path needs it
 */
export function layOutPipeline(
  { stages }: Pick<Pipeline, 'stages'>,
  gates: readonly Gate[],
  width: number,
): PipelineLayout {
  const path = stages.filter((one) => rowOf(one) === 'path');
  const step = Math.max(STAGE.width + GAP, (width - 2 * EDGE - STAGE.width) / Math.max(1, path.length - 1));
  const across = Math.max(width, 2 * EDGE + STAGE.width + step * (path.length - 1));
  const rows: Row[] = (['path', 'beside', 'closing'] as const).filter(
    (row) => row === 'path' || stages.some((one) => rowOf(one) === row),
  );
  const top = (row: Row): number => TOP + rows.indexOf(row) * ROW;
  const placed = new Map<string, PlacedStage>();
  path.forEach((stage, i) => placed.set(stage.key, { stage, x: EDGE + i * step, y: top('path') }));

  const place = (stage: Stage, wanted: number): void => {
    const row = rowOf(stage);
    const taken = [...placed.values()].filter((one) => rowOf(one.stage) === row).map(({ x }) => x);
    placed.set(stage.key, { stage, x: freeFrom(wanted, taken, STAGE.width + GAP), y: top(row) });
  };
  stages.forEach((stage, i) => {
    if (rowOf(stage) !== 'beside') return;
    const before = stages.slice(0, i).filter((one) => rowOf(one) === 'path').length;
    place(stage, EDGE + Math.max(0, before - 0.4) * step);
  });
  for (const stage of stages) {
    if (rowOf(stage) !== 'closing') continue;
    const sources = gates.filter(({ to }) => to === stage.key).flatMap(({ from }) => placed.get(from)?.x ?? []);
    const last = Math.max(EDGE, ...sources);
    place(stage, Math.min(across - EDGE - STAGE.width, last + step * 0.75));
  }

  const right = Math.max(across, ...[...placed.values()].map(({ x }) => x + STAGE.width + EDGE));
  const lowest = TOP + (rows.length - 1) * ROW;
  const ends = endsOf(gates, placed, right, lowest);
  const bottom = Math.max(lowest + STAGE.height, ...ends.map(({ y }) => y + END.height));
  const height = bottom + 14;
  const curves = drawn(gates, placed, ends);
  const highest = Math.min(
    0,
    ...curves.map(({ curve, label }) => Math.min(label.y - LABEL.height, highestOf(curve)) - 4),
  );
  const down = <T extends Point>(one: T): T => ({ ...one, y: one.y - highest });
  return {
    ...{ width: right, height: height - highest, stages: [...placed.values()].map(down), ends: ends.map(down) },
    gates: curves.map(({ curve: [a, b, c, d], label, ...gate }) => ({
      ...gate,
      ...{ curve: [down(a), down(b), down(c), down(d)] as const, label: down(label) },
    })),
  };
}

/** How far up a curve goes at most: halfway, where it leads over stages; else to one of its ends. */
function highestOf([a, b, c, d]: PlacedGate['curve']): number {
  return Math.min(a.y, d.y, (a.y + 3 * b.y + 3 * c.y + d.y) / 8);
}

/** The place nearest to the right of a wanted one that keeps its distance from those taken. */
function freeFrom(wanted: number, taken: readonly number[], distance: number): number {
  let x = wanted;
  for (const other of [...taken].sort((a, b) => a - b)) if (Math.abs(other - x) < distance) x = other + distance;
  return x;
}

/** The stages of other pipelines at the bottom: where gates come from on the left, where they lead on the right; below the lowest row where that is taken. */
function endsOf(
  gates: readonly Gate[],
  placed: ReadonlyMap<string, PlacedStage>,
  width: number,
  lowest: number,
): PlacedEnd[] {
  const far = (of: 'from' | 'to'): string[] => [
    ...new Set(gates.map((gate) => gate[of] as string).filter((key) => !placed.has(key))),
  ];
  const at = [
    ...far('from').map((stage, i) => ({ stage, x: EDGE + i * (END.width + 12) })),
    ...far('to').map((stage, i) => ({ stage, x: width - EDGE - END.width - i * (END.width + 12) })),
  ];
  const taken = [...placed.values()].filter(({ y }) => y === lowest);
  const isFree = at.every((end) => taken.every(({ x }) => x > end.x + END.width || x + STAGE.width < end.x));
  const y = lowest === TOP || !isFree ? lowest + STAGE.height + 34 : lowest + 34;
  return at.map((end) => ({ ...end, y }));
}

interface Box extends Point {
  readonly width: number;
  readonly height: number;
}

function drawn(
  gates: readonly Gate[],
  placed: ReadonlyMap<string, PlacedStage>,
  ends: readonly PlacedEnd[],
): PlacedGate[] {
  const boxOf = (key: string): Box | null => {
    const stage = placed.get(key);
    if (stage !== undefined) return { x: stage.x, y: stage.y, ...STAGE };
    const end = ends.find((one) => one.stage === key);
    return end === undefined ? null : { x: end.x, y: end.y, ...END };
  };
  const between = new Map<string, number>();
  const labels: Point[] = [];
  return gates.flatMap((gate): PlacedGate[] => {
    const [from, to] = [boxOf(gate.from), boxOf(gate.to)];
    if (from === null || to === null) return [];
    const pair = `${gate.from} ${gate.to}`;
    const nth = between.get(pair) ?? 0;
    between.set(pair, nth + 1);
    const curve = curveBetween(from, to, nth, [...placed.values()]);
    const label = freeLabel(middleOf(curve), labels);
    labels.push(label);
    return [{ key: gate.key, to: gate.to, curve, label }];
  });
}

function curveBetween(from: Box, to: Box, nth: number, stages: readonly PlacedStage[]): PlacedGate['curve'] {
  const aside = nth * 12;
  const [fromMid, toMid] = [from, to].map((box) => ({ x: box.x + box.width / 2, y: box.y + box.height / 2 })) as [
    Point,
    Point,
  ];
  if (from.y === to.y) {
    const forward = to.x > from.x;
    const inBetween = stages.some(
      ({ x, y }) => y === from.y && x > Math.min(from.x, to.x) && x < Math.max(from.x, to.x),
    );
    if (forward && !inBetween) {
      const [a, b] = [
        { x: from.x + from.width, y: fromMid.y + aside },
        { x: to.x, y: toMid.y + aside },
      ];
      return [a, { x: (a.x + b.x) / 2, y: a.y }, { x: (a.x + b.x) / 2, y: b.y }, b];
    }
    // Over those in between, or back below them.
    const side = forward ? -1 : 1;
    const y = forward ? from.y : from.y + from.height;
    const [a, b] = [
      { x: fromMid.x + side * -18, y },
      { x: toMid.x + side * 18, y },
    ];
    const away = side * (44 + aside);
    return [a, { x: a.x, y: y + away }, { x: b.x, y: y + away }, b];
  }
  if (to.y > from.y) {
    const a = { x: fromMid.x + (to.x > from.x ? 24 : -24) + aside, y: from.y + from.height };
    const beside = to.x > fromMid.x + 30;
    const b = beside ? { x: to.x, y: toMid.y + aside } : { x: toMid.x + aside, y: to.y };
    return [a, { x: a.x, y: (a.y + b.y) / 2 + 10 }, beside ? { x: b.x - 46, y: b.y } : { x: b.x, y: b.y - 40 }, b];
  }
  const right = to.x > from.x;
  const a = right ? { x: from.x + from.width, y: fromMid.y + aside } : { x: fromMid.x - 10 - aside, y: from.y };
  const b = { x: toMid.x + (right ? -26 : 26) - aside, y: to.y + to.height };
  return [a, right ? { x: a.x + 40, y: a.y } : { x: a.x, y: a.y - 40 }, { x: b.x, y: b.y + 40 }, b];
}

function middleOf([a, b, c, d]: PlacedGate['curve']): Point {
  const mid = (of: (point: Point) => number): number => (of(a) + 3 * of(b) + 3 * of(c) + of(d)) / 8;
  return { x: mid(({ x }) => x), y: mid(({ y }) => y) - 8 };
}

/** A label's place, moved down until it covers no other label. */
function freeLabel(wanted: Point, others: readonly Point[]): Point {
  const covers = (at: Point, other: Point): boolean =>
    Math.abs(at.x - other.x) < LABEL.width && Math.abs(at.y - other.y) < LABEL.height;
  let at = wanted;
  while (others.some((other) => covers(at, other))) at = { ...at, y: at.y + LABEL.height };
  return at;
}
