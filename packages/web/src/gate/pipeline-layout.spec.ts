import type { Gate, Stage } from '@relvik/core';
import fc from 'fast-check';
import { END, layOutPipeline, type PipelineLayout, STAGE } from './pipeline-layout';

const stage = (key: string, kind = 'open', beside = false) =>
  ({ key, name: key, kind, beside, mergedFrom: [] }) as unknown as Stage;
const gate = (from: string, to: string, i = 0) => ({ key: `${from}-${to}-${i}`, from, to }) as unknown as Gate;
const WIDTH = 940;

interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

const boxesOf = ({ stages, ends }: PipelineLayout): Box[] => [
  ...stages.map(({ x, y }) => ({ x, y, ...STAGE })),
  ...ends.map(({ x, y }) => ({ x, y, ...END })),
];
const overlap = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;
const at = (layout: PipelineLayout, key: string) => layout.stages.find((one) => one.stage.key === key)!;

test('the path runs from left to right, what lies beside it stands below, what closes badly at the bottom', () => {
  const stages = [stage('new'), stage('warm', 'open', true), stage('offer'), stage('won', 'won'), stage('out', 'out')];
  const gates = [
    gate('new', 'warm'),
    gate('new', 'offer'),
    gate('warm', 'offer'),
    gate('new', 'out'),
    gate('offer', 'far'),
  ];
  const layout = layOutPipeline({ stages }, gates, WIDTH);
  const [first, warm, offer, won, out] = stages.map(({ key }) => at(layout, key));
  expect([first!.y, offer!.y]).toEqual([won!.y, won!.y]);
  expect([first!.x < offer!.x, offer!.x < won!.x, warm!.x > first!.x, warm!.x < offer!.x]).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect([warm!.y > first!.y, out!.y > warm!.y]).toEqual([true, true]);
  expect(layout.ends.map(({ stage: far }) => far)).toEqual(['far']);
  const [a, , , d] = layout.gates.find(({ key }) => key === 'new-offer-0')!.curve;
  expect([a, d]).toEqual([
    { x: first!.x + STAGE.width, y: first!.y + STAGE.height / 2 },
    { x: offer!.x, y: offer!.y + STAGE.height / 2 },
  ]);
});

test('whatever the stages and gates, no two boxes overlap, all lie on the drawing, and no label covers another', () => {
  const kinds = fc.constantFrom(['open', false], ['open', false], ['open', true], ['won', false], ['out', false]);
  fc.assert(
    fc.property(
      fc.array(kinds, { minLength: 1, maxLength: 14 }),
      fc.array(fc.tuple(fc.nat(15), fc.nat(15)), { maxLength: 20 }),
      (sorts, pairs) => {
        const stages = sorts.map(([kind, beside], i) => stage(`s${i}`, kind as string, beside));
        // Of every pair one end is a stage of this pipeline; the other may be of another one.
        const gates = pairs.map(([from, to], i) => gate(`s${from % stages.length}`, `s${to}`, i));
        const layout = layOutPipeline(
          { stages },
          gates.filter(({ from, to }) => from !== to),
          WIDTH,
        );
        const boxes = boxesOf({ ...layout, ends: [] });
        boxes.forEach((one, i) => {
          expect([one.x >= 0, one.x + one.width <= layout.width, one.y + one.height <= layout.height]).toEqual([
            true,
            true,
            true,
          ]);
          for (const other of boxes.slice(i + 1)) expect(overlap(one, other)).toBe(false);
        });
        layout.gates.forEach(({ label, curve: [a, b, c, d] }, i) => {
          expect(label.y).toBeGreaterThan(10);
          expect((a.y + 3 * b.y + 3 * c.y + d.y) / 8).toBeGreaterThan(0);
          for (const { label: other } of layout.gates.slice(i + 1))
            expect(Math.abs(label.x - other.x) < 118 && Math.abs(label.y - other.y) < 15).toBe(false);
        });
      },
    ),
    { numRuns: 150 },
  );
});
