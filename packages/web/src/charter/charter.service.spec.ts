import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { CharterState, SaveDraft } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import { SMALL_CHARTER } from '../../../core/src/charter/charter.fixture';
import { CharterService } from './charter.service';

const body = SMALL_CHARTER as unknown as CharterState['inForce']['charter'];
const state = (version: number, name: string): CharterState => ({
  inForce: { id: 1, number: 1, enactedAt: 0, charter: body },
  drafts: [],
  past: [],
  draft: {
    id: 2,
    version,
    base: 1,
    stale: false,
    author: 'x',
    note: null,
    changedAt: 0,
    charter: { ...body, name },
    findings: [],
  },
});

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.useRealTimers();
});

/** Long enough for a series of changes to be saved. */
const later = () => jest.advanceTimersByTimeAsync(400);
const inCharter = (name: string) => expect.objectContaining({ name }) as Charter;

function setting() {
  TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
  const service = TestBed.inject(CharterService);
  const http = TestBed.inject(HttpTestingController);
  service.load();
  http.expectOne('/api/charters').flush(state(1, 'a'));
  return { service, http };
}

test('a change shows at once; a series is saved once, and what comes while it is saved goes with the next save', async () => {
  const { service, http } = setting();
  service.change((charter) => ({ ...charter, name: `${charter.name}b` }));
  service.change((charter) => ({ ...charter, name: `${charter.name}c` }));
  expect(service.draft()?.charter.name).toBe('abc');
  http.expectNone('/api/drafts/2');
  await later();
  const first = http.expectOne('/api/drafts/2');
  expect(first.request.body as SaveDraft).toEqual({ version: 1, charter: inCharter('abc') });
  service.change((charter) => ({ ...charter, name: `${charter.name}d` }));
  first.flush(state(2, 'abc'));
  expect(service.draft()?.charter.name).toBe('abcd');
  await later();
  const second = http.expectOne('/api/drafts/2');
  expect(second.request.body as SaveDraft).toEqual({ version: 2, charter: inCharter('abcd') });
  second.flush(state(3, 'abcd'));
  expect([service.unsaved(), service.saving()]).toEqual([false, false]);
  http.verify();
});

test('what someone else saved meanwhile is shown and said, and nothing of theirs is overwritten', async () => {
  const { service, http } = setting();
  service.change((charter) => ({ ...charter, name: 'mine' }));
  await later();
  const conflict = { type: 'about:blank', status: 409, title: 'Someone changed this draft meanwhile' };
  http.expectOne('/api/drafts/2').flush(conflict, { status: 409, statusText: 'Conflict' });
  http.expectOne('/api/charters').flush(state(7, 'theirs'));
  expect(service.draft()).toMatchObject({ version: 7, charter: { name: 'theirs' } });
  expect(service.problem()?.title).toBe('Someone changed this draft meanwhile');
  expect(service.meanwhile()).toMatchObject({ by: 'x', before: { name: 'a' }, after: { name: 'theirs' } });
  http.verify();
});

test('a change that makes no charter is not made, and says where it is wrong', async () => {
  const { service, http } = setting();
  service.change((charter) => ({ ...charter, timeZone: 'Mars/Olympus' }));
  expect(service.problem()?.errors).toEqual([
    { path: '/charter/timeZone', message: 'Time zone: no such time zone: Mars/Olympus' },
  ]);
  expect(service.draft()?.charter.timeZone).toBe('Europe/Oslo');
  await later();
  http.verify();
});

test('a draft that can’t be saved for now stays as it was drawn', async () => {
  const { service, http } = setting();
  service.change((charter) => ({ ...charter, name: 'kept' }));
  await later();
  http.expectOne('/api/drafts/2').error(new ProgressEvent('offline'));
  expect(service.draft()?.charter.name).toBe('kept');
  expect(service.problem()?.title).toBe('The server can’t be reached');
});

test('what was just changed is saved before another draft is opened, and the two do not mix', async () => {
  const { service, http } = setting();
  const other = state(5, 'other');
  let opened: boolean | undefined;
  service.change((charter) => ({ ...charter, name: 'late' }));
  service.openDraft(3).subscribe((done) => (opened = done));
  http.expectNone('/api/drafts/3/open');
  const save = http.expectOne('/api/drafts/2');
  expect(save.request.body as SaveDraft).toEqual({ version: 1, charter: inCharter('late') });
  save.flush(state(2, 'late'));
  http.expectOne('/api/drafts/3/open').flush({ ...other, draft: { ...other.draft, id: 3 } });
  expect(opened).toBe(true);
  expect(service.draft()).toMatchObject({ id: 3, version: 5, charter: { name: 'other' } });
  await later();
  http.verify();
});

test('nothing else is done while a change can’t be saved, and the change is kept', () => {
  const { service, http } = setting();
  const done: boolean[] = [];
  service.change((charter) => ({ ...charter, name: 'kept' }));
  service.beginDraft('new').subscribe((one) => done.push(one));
  http.expectOne('/api/drafts/2').error(new ProgressEvent('offline'));
  http.expectNone('/api/drafts');
  expect([done, service.draft()?.charter.name, service.unsaved()]).toEqual([[false], 'kept', true]);
});

test('a change is saved on the version it was made on, though the list of charters was read anew meanwhile', async () => {
  const { service, http } = setting();
  service.change((charter) => ({ ...charter, name: 'mine' }));
  service.load();
  http.expectOne('/api/charters').flush(state(7, 'theirs'));
  await later();
  // The server refuses it: version 7 would have overwritten what someone else did.
  expect((http.expectOne('/api/drafts/2').request.body as SaveDraft).version).toBe(1);
});

test('a page left within the pause hands its change to the browser; left during a save, the browser asks', async () => {
  const { service, http } = setting();
  const sent: [string, RequestInit][] = [];
  const before = globalThis.fetch;
  globalThis.fetch = ((url: string, init: RequestInit) => {
    sent.push([url, init]);
    return new Promise(() => undefined);
  }) as typeof fetch;
  try {
    const asks = () => !dispatchEvent(new Event('beforeunload', { cancelable: true }));
    service.change((charter) => ({ ...charter, name: 'last' }));
    expect(asks()).toBe(false);
    dispatchEvent(new Event('pagehide'));
    expect(sent).toEqual([['/api/drafts/2', expect.objectContaining({ method: 'PUT', keepalive: true })]]);
    expect(JSON.parse(sent[0]?.[1].body as string)).toEqual({ version: 1, charter: inCharter('last') });
    await later();
    expect(asks()).toBe(true);
    http.expectOne('/api/drafts/2').flush(state(2, 'last'));
    expect(asks()).toBe(false);
  } finally {
    globalThis.fetch = before;
  }
});

test('the last change is taken back, and the one before it, each as a change that is saved', async () => {
  const { service, http } = setting();
  const named = (name: string) => {
    service.change((charter) => ({ ...charter, name }));
  };
  const clock = jest.spyOn(Date, 'now');
  const at = (ms: number) => clock.mockReturnValue(ms);
  at(0);
  named('ab');
  at(300);
  named('abc');
  at(5000);
  named('x');
  expect(service.canUndo()).toBe(true);
  at(6000);
  service.undo();
  expect(service.draft()?.charter.name).toBe('abc');
  at(7000);
  service.undo();
  expect([service.draft()?.charter.name, service.canUndo()]).toEqual(['a', false]);
  clock.mockRestore();
  await later();
  expect(http.expectOne('/api/drafts/2').request.body as SaveDraft).toEqual({ version: 1, charter: inCharter('a') });
});
