import type { Signal } from '@relvik/core';
import { charterState, PageTest } from '../page.fixture';
import { SignalEditor } from './signal-editor';

const common = { key: 'one', name: 'One', axis: 'engagement' as const, on: true, points: 12, group: null };
const clicks: Signal = {
  ...common,
  kind: 'activity',
  activity: 'mail_clicked',
  having: [],
  times: 'each',
  window: 90,
  most: 3,
  fade: { kind: 'half-life', days: 30 },
  cap: null,
};

/** The editor of a signal: what it says it was changed to is what it is given next. */
async function editing(signal: Signal) {
  const groups = [
    { key: 'mail', name: 'Mail', axis: 'engagement' as const, cap: 40 },
    { key: 'size', name: 'Size', axis: 'fit' as const, cap: 30 },
  ];
  const page = await PageTest.open(SignalEditor, { signal, groups }, charterState({}));
  const said: Signal[] = [];
  page.component.instance.changed.subscribe((now) => {
    said.push(now);
    page.component.setInput('signal', now);
  });
  const fields = () => [...page.element.querySelectorAll<HTMLInputElement>('input[type="number"]')];
  const put = async (at: number, text: string): Promise<void> => {
    const field = fields()[at]!;
    field.value = text;
    field.dispatchEvent(new Event('change'));
    await page.settle();
  };
  return { page, said, last: () => said.at(-1), put };
}

test('how many count, in how many days, how they fade and what they are held at: whole numbers, empty for none', async () => {
  const { put, last } = await editing(clicks);
  await put(0, '5');
  expect(last()).toEqual({ ...clicks, most: 5 });
  await put(1, '');
  expect(last()).toEqual({ ...clicks, most: 5, window: null });
  await put(2, '14.4');
  expect(last()).toMatchObject({ fade: { kind: 'half-life', days: 14 } });
  await put(2, '');
  expect(last()).toMatchObject({ fade: { kind: 'half-life', days: 14 } });
  await put(3, '60');
  expect(last()).toMatchObject({ cap: 60 });
  await put(0, 'many');
  expect(last()).toMatchObject({ most: null });
});

test('another kind keeps what all signals have, and silence takes points away', async () => {
  const { page, last } = await editing(clicks);
  const { instance } = page.component;
  instance['makeKind']('silence');
  await page.settle();
  expect(last()).toEqual({ ...common, points: -12, kind: 'silence', every: 30, most: 3 });
  expect(page.text).toContain('our own mail does not break the silence');
  instance['makeKind']('attribute');
  await page.settle();
  expect(last()).toEqual({ ...common, points: -12, kind: 'attribute', when: { test: 'any', of: [] } });
  expect(page.element.querySelector('rv-condition-editor')).not.toBeNull();
  instance['makeKind']('activity');
  expect(last()).toMatchObject({ kind: 'activity', window: null, most: null, fade: null, cap: null });
});

test('silence without days in which it counts would be no rule: an empty field keeps the days', async () => {
  const { put, said, last } = await editing({ ...common, kind: 'silence', every: 30, most: 3 });
  await put(0, '');
  expect(said).toEqual([]);
  await put(0, '45');
  await put(1, '');
  expect(last()).toEqual({ ...common, kind: 'silence', every: 45, most: null });
});

test('fade is chosen with the days it had, taken away, and groups are those of the axis', async () => {
  const { page, last } = await editing(clicks);
  const { instance } = page.component;
  instance['setFade']('end');
  await page.settle();
  expect(last()).toMatchObject({ fade: { kind: 'end', days: 30 } });
  instance['setFade']('none');
  await page.settle();
  expect(last()).toMatchObject({ fade: null });
  expect(page.element.querySelector('input[aria-label="Days of the fade"]')).toBeNull();
  expect(instance['groupOptions']().map(({ value }) => value)).toEqual([null, 'mail']);
});

test('a name can’t be empty, Escape closes, and taking it out is said to the page', async () => {
  const { page, said, last } = await editing(clicks);
  const done: string[] = [];
  page.component.instance.closed.subscribe(() => done.push('closed'));
  page.component.instance.removed.subscribe(() => done.push('removed'));
  await page.type('input[aria-label="Name of the signal"]', '  ');
  expect(said).toEqual([]);
  await page.type('input[aria-label="Name of the signal"]', ' Clicked twice ');
  expect(last()).toMatchObject({ name: 'Clicked twice' });
  page.find('.editor').dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
  await page.click('Take it out');
  expect(done).toEqual(['closed', 'removed']);
});
