import { setTimeout as pause } from 'node:timers/promises';
import { KeptCount } from './kept-count';

let now = 0;
let counted = 0;
let takes = 0;
let fails = false;
async function count(): Promise<number> {
  counted += 1;
  const mine = counted;
  await pause(takes);
  if (fails) throw new Error('the database is away');
  return mine;
}
const valueOf = async (kept: KeptCount<number>): Promise<number> => (await kept.get()).value;
beforeEach(() => {
  [now, counted, takes, fails] = [0, 0, 0, false];
});

test('what is counted quickly is counted whenever it is asked for', async () => {
  const kept = new KeptCount(count, () => now);
  expect([await valueOf(kept), await valueOf(kept)]).toEqual([1, 2]);
});

test('of what takes long the last count is given at once; an old one is counted again meanwhile, once for all who ask', async () => {
  takes = 600;
  const kept = new KeptCount(count, () => now);
  expect(await Promise.all([valueOf(kept), valueOf(kept)])).toEqual([1, 1]);
  expect(await kept.get()).toMatchObject({ value: 1, asOf: 0 });
  now = 60_000;
  expect(await Promise.all([valueOf(kept), valueOf(kept)])).toEqual([1, 1]);
  expect(counted).toBe(2);
  await pause(700);
  expect(await kept.get()).toMatchObject({ value: 2, asOf: 60_000 });
});

test('a count that fails is told to who waits for it, and does not take away the one before', async () => {
  takes = 600;
  const kept = new KeptCount(count, () => now);
  fails = true;
  await expect(kept.get()).rejects.toThrow('away');
  fails = false;
  expect(await valueOf(kept)).toBe(2);
  [fails, now] = [true, 60_000];
  expect(await valueOf(kept)).toBe(2);
  await pause(700);
  expect(await valueOf(kept)).toBe(2);
});

test('a kept count is made again when it is old, though nobody asks; a quick one, or one never asked for, is not', async () => {
  const quick = new KeptCount(count, () => now);
  await quick.refresh();
  expect(counted).toBe(0);
  await quick.get();
  now = 60_000;
  await quick.refresh();
  expect(counted).toBe(1);
  takes = 600;
  const long = new KeptCount(count, () => now);
  await long.get();
  now += 1000;
  await long.refresh();
  expect(counted).toBe(2);
  now += 60_000;
  await long.refresh();
  expect(await long.get()).toMatchObject({ value: 3, asOf: 121_000 });
});
