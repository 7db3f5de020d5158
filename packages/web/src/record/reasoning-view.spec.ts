import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { Reasoning, WordingDocument } from '@relvik/contracts';
import { decide, nameListsOf } from '@relvik/core';
import { clicks, lead, NOW, smallCharter, smallWorld, standing } from '../../../core/src/charter/charter.fixture';
import { ReasoningView } from './reasoning-view';
import { WordingService } from '../wording/wording.service';

function setting() {
  const world = smallWorld();
  const charter = smallCharter(world);
  TestBed.configureTestingModule({ providers: [provideHttpClient(), provideHttpClientTesting()] });
  TestBed.inject(WordingService).load();
  const wording: WordingDocument = {
    names: nameListsOf(charter.charter, world),
    fields: [...world.fields.values()],
    baseCurrency: 'EUR',
    timeZone: 'Europe/Oslo',
    byHand: 'decide',
    grids: [],
    pipelines: [],
    kinds: [...world.kinds.values()],
  };
  TestBed.inject(HttpTestingController).expectOne('/api/wording').flush(wording);
  return { world, charter };
}

async function shown(reasoning: Reasoning): Promise<HTMLElement> {
  const fixture = TestBed.createComponent(ReasoningView);
  fixture.componentRef.setInput('reasoning', reasoning);
  await fixture.whenStable();
  return fixture.nativeElement as HTMLElement;
}

/** What it says, without blanks: how templates lay them out is the browser's. */
const words = (element: Element | null): string => element?.textContent?.replace(/\s+/g, '') ?? '';

test('then and now are told apart, each with points, gates, routes that did and did not match, and who was skipped', async () => {
  const { world, charter } = setting();
  world.rota.turns.set('north' as never, { lastServed: 'ada' as never, order: ['ada', 'cai', 'bo'] as never });
  const record = lead(world, { industry: 'Brewery', country: 'NO' }, { activities: clicks(2) });
  const then = decide(charter, record, world, 'created', NOW);
  const quiet = standing({ ...record, activities: [] }, { stage: then.stage, place: then.place });
  const now = decide(charter, quiet, world, 'looked-at', NOW);
  const view = await shown({
    then: { decision: then, charter: { number: 3, name: 'Spring' } },
    rescored: { at: NOW + 86_400_000, charter: { number: 4, name: 'Summer' } },
    notMoved: [],
    companyOwner: null,
    gradeMoved: {
      at: NOW,
      from: 'B quiet',
      occasion: 'activity',
      changes: [{ signal: 'clicks', axis: 'engagement', by: 40 }],
    },
    now: { decision: now, charter: { number: 4, name: 'Summer' } },
    earlier: [],
  });
  const text = words(view);
  for (const part of [
    'As decided when it came in',
    'by charter 3 · Spring · scores as of',
    'by charter 4 · Summer',
    'after something they did; before, B quiet: +40 Mail clicked',
    'Fit 60 − 0 = 60',
    '+60 A trade we serve Industry is Brewery or Fish farm (is Brewery)',
    '+40 Mail clicked 2 counted of 2',
    'B active its cell says: Hand over',
    'Qualify became true, moves',
    'Large deals does not match Deal value from 20,000 EUR (it is blank)',
    'Nordics matches',
    'leads to Team north',
    'Skipped: Cai Morgan may not take leads',
    'Where it is Bo Rask',
  ])
    expect(text).toContain(part.replace(/\s+/g, ''));

  (view.querySelectorAll('.switch button')[1] as HTMLButtonElement).click();
  await new Promise((done) => setTimeout(done));
  const later = words(view);
  expect(later).toContain('Asitwouldbejudgednow');
  expect(later).toContain('bycharter4·Summer');
  expect(later).not.toContain('before,Bquiet');
  expect(later).toContain('Engagement0−0=0');
});
