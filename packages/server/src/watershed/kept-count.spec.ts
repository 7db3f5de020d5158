import { setTimeout as pause } from 'node:timers/promises';
import { KeptCount } from './kept-count';

let now = 0;
let counted = 0;
let takes = 0;
let many = false;
let fails = false;
async function count(): Promise<number> {
  counted += 1;
  const mine = counted;
  await pause(takes);
  if (fails) throw new Error('the database is away');
  return mine;
}
const keptCount = (): KeptCount<number> =>
  new KeptCount(
    count,
    () => Promise.resolve(many),
    () => now,
  );
const valueOf = async (kept: KeptCount<number>): Promise<number> => (await kept.get()).value;
beforeEach(() => {
  [now, counted, takes, fails, many] = [0, 0, 0, false, true];
});

test('few records are counted whenever it is asked for, however long it once took', async () => {
  many = false;
  takes = 20;
  const kept = keptCount();
  expect([await valueOf(kept), await valueOf(kept)]).toEqual([1, 2]);
});

test('what is known to be wrong is counted now, and kept instead of a count that began before', async () => {
  takes = 60;
  const kept = keptCount();
  const slow = kept.get();
  await pause(10);
  [now, takes] = [5, 1];
  expect(await kept.now()).toBe(2);
  await slow;
  expect(await valueOf(kept)).toBe(2);
});

test('of many records the last count is given at once; an old one is counted again meanwhile, once for all who ask', async () => {
  takes = 100;
  const kept = keptCount();
  expect(await Promise.all([valueOf(kept), valueOf(kept)])).toEqual([1, 1]);
  expect(await kept.get()).toMatchObject({ value: 1, asOf: 0 });
  now = 60_000;
  expect(await Promise.all([valueOf(kept), valueOf(kept)])).toEqual([1, 1]);
  expect(counted).toBe(2);
  await pause(300);
  expect(await kept.get()).toMatchObject({ value: 2, asOf: 60_000 });
});

test('a count that fails is told to who waits for it, and does not take away the one before', async () => {
  takes = 100;
  const kept = keptCount();
  fails = true;
  await expect(kept.get()).rejects.toThrow('away');
  fails = false;
  expect(await valueOf(kept)).toBe(2);
  [fails, now] = [true, 60_000];
  expect(await valueOf(kept)).toBe(2);
  await pause(300);
  expect(await valueOf(kept)).toBe(2);
});

test('a kept count is made again when it is old, though nobody asks; one of few records, or never asked for, is not', async () => {
  many = false;
  const quick = keptCount();
  await quick.refresh();
  expect(counted).toBe(0);
  await quick.get();
  now = 60_000;
  await quick.refresh();
  expect(counted).toBe(1);
  takes = 100;
  many = true;
  const long = keptCount();
  await long.get();
  now += 1000;
  await long.refresh();
  expect(counted).toBe(2);
  now += 60_000;
  await long.refresh();
  expect(await long.get()).toMatchObject({ value: 3, asOf: 121_000 });
});
