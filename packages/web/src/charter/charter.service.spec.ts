import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { CharterState, SaveDraft } from '@relvik/contracts';
import { SMALL_CHARTER } from '../../../core/src/charter/charter.fixture';
import { CharterService } from './charter.service';

const body = SMALL_CHARTER as unknown as CharterState['inForce']['charter'];
const state = (version: number, name: string): CharterState => ({
  inForce: { id: 1, number: 1, enactedAt: 0, charter: body },
  draft: { id: 2, version, base: 1, stale: false, author: 'x', changedAt: 0, charter: { ...body, name }, problems: [] },
});

test('changes are saved one after the other, each on what the one before left; a refused one leaves the draft as it was', () => {
  TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
  const service = TestBed.inject(CharterService);
  const http = TestBed.inject(HttpTestingController);
  service.load();
  http.expectOne('/api/charters').flush(state(1, 'a'));

  service.change((charter) => ({ ...charter, name: `${charter.name}b` }));
  service.change((charter) => ({ ...charter, name: `${charter.name}c` }));
  const first = http.expectOne('/api/drafts/2');
  expect(first.request.body as SaveDraft).toMatchObject({ version: 1, charter: { name: 'ab' } });
  expect(service.saving()).toBe(true);
  first.flush(state(2, 'ab'));
  const second = http.expectOne('/api/drafts/2');
  expect(second.request.body as SaveDraft).toMatchObject({ version: 2, charter: { name: 'abc' } });
  second.flush(
    { type: 'about:blank', status: 409, title: 'Someone changed this draft meanwhile' },
    { status: 409, statusText: 'Conflict' },
  );

  expect(service.draft()?.charter.name).toBe('ab');
  expect(service.problem()?.title).toBe('Someone changed this draft meanwhile');
  expect(service.saving()).toBe(false);
  http.verify();
});
