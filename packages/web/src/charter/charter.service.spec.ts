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
    problems: [],
  },
});

const later = () => new Promise((resume) => setTimeout(resume, 400));
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
    { path: '/charter/timeZone', message: 'no such time zone: Mars/Olympus' },
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
