import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Router } from '@angular/router';
import { SessionService } from '../session/session.service';
import { PageTest } from '../page.fixture';
import { TracerService } from '../tracer/tracer.service';
import { ImpactFolding } from './impact-folding';
import { StepKeys } from './step-keys';

@Component({
  selector: 'rv-anything',
  template: `<input aria-label="A field" />
    <p role="combobox" aria-expanded="false" aria-controls="list" tabindex="0">A list</p>`,
  hostDirectives: [StepKeys],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Anything {}

async function open(role: 'admin' | 'rep') {
  const page = await PageTest.open(Anything);
  TestBed.inject(SessionService).signIn('x', 'y').subscribe();
  page.http.expectOne('/api/session').flush({ name: 'X', role });
  const router = TestBed.inject(Router);
  const press = async (key: string, from: Element | Document = document, more: KeyboardEventInit = {}) => {
    from.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }));
    await page.settle();
  };
  return { page, router, press, tracer: TestBed.inject(TracerService), folding: TestBed.inject(ImpactFolding) };
}

beforeEach(() => {
  localStorage.clear();
});

test('G and a number open the steps of the course; a number alone, or too late, opens nothing', async () => {
  const { router, press } = await open('admin');
  for (const [key, address] of [
    ['1', '/intake'],
    ['4', '/gates'],
    ['7', '/people'],
  ] as const) {
    await press('g');
    await press(key);
    expect(router.url).toBe(address);
  }
  await press('2');
  expect(router.url).toBe('/people');
  await press('g');
  await press('8');
  expect(router.url).toBe('/people');
  await press('g');
  jest.spyOn(Date, 'now').mockReturnValue(Date.now() + 5000);
  await press('2');
  expect(router.url).toBe('/people');
  jest.restoreAllMocks();
});

test('no key acts inside a field or a list, or with Ctrl, Alt or the command key', async () => {
  const { page, router, press, tracer } = await open('admin');
  for (const field of [page.find('input'), page.find('p')])
    for (const key of ['g', '3', 't', '/', 'i']) await press(key, field);
  await press('g', document, { ctrlKey: true });
  await press('3');
  await press('t', document, { metaKey: true });
  expect([router.url, tracer.choosing()]).toEqual(['/', false]);
});

test('/ finds a record, T chooses the tracer, I folds the impact and it stays folded; the last two are the admin’s', async () => {
  const admin = await open('admin');
  await admin.press('/');
  expect(admin.router.url).toBe('/find');
  await admin.press('t');
  await admin.press('i');
  expect([admin.tracer.choosing(), admin.folding.open()]).toEqual([true, false]);
  expect(new ImpactFolding().open()).toBe(false);
  TestBed.resetTestingModule();
  const rep = await open('rep');
  await rep.press('t');
  await rep.press('i');
  expect([rep.tracer.choosing(), rep.folding.open()]).toEqual([false, false]);
});
