import type { Select } from 'primeng/select';
import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import {
  type ComponentRef,
  provideZonelessChangeDetection,
  type Type,
  type DebugElement,
  getDebugNode,
} from '@angular/core';
import { By } from '@angular/platform-browser';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { CharterState, Draft, People, WordingDocument } from '@relvik/contracts';
import { type Charter, nameListsOf, readCharter, STANDARD_KINDS } from '@relvik/core';
import { SMALL_CHARTER, smallWorld } from '../../core/src/charter/charter.fixture';
import { CharterService } from './charter/charter.service';
import { WordingService } from './wording/wording.service';

export const CHARTER: Charter = (() => {
  const reading = readCharter(SMALL_CHARTER);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
})();

/** Someone of whom nothing more is said. */
const USUAL = {
  ...{
    weight: 1,
    hours: null,
    holidaysOf: null,
    daysOff: [],
    away: false,
    skills: [],
    deputy: null,
    getsBack: true,
    email: null,
  },
  ...{ zone: null, worksNow: true, backAt: null },
};

export const PEOPLE: People = {
  people: [
    {
      key: 'ada',
      name: 'Ada Lindqvist',
      role: 'rep',
      mayTakeLeads: true,
      whyNot: null,
      limit: 10,
      ...USUAL,
      open: 10,
      teams: ['north'],
    },
    {
      key: 'cai',
      name: 'Cai Morgan',
      role: 'rep',
      mayTakeLeads: false,
      whyNot: 'has no seat',
      limit: null,
      ...USUAL,
      open: 0,
      teams: ['north'],
    },
  ],
  teams: [
    {
      key: 'north',
      name: 'Team north',
      leaders: [],
      members: ['ada', 'cai'],
      open: 10,
      parent: null,
      paused: false,
      hours: null,
    },
  ],
  queues: [
    { key: 'projects', name: 'Projects', order: 'oldest', mostHeld: null, members: ['ada'], waiting: 3, held: 0 },
  ],
  skills: [],
};

export function charterState(draft: Partial<Draft> | null): CharterState {
  const base = {
    id: 2,
    version: 4,
    base: 1,
    stale: false,
    author: 'Runa',
    note: null,
    changedAt: 0,
    charter: { ...CHARTER, name: 'Next' },
    findings: [],
  };
  return {
    drafts: [],
    past: [],
    inForce: { id: 1, number: 1, enactedAt: 0, charter: CHARTER },
    draft: draft === null ? null : { ...base, ...draft },
  };
}

/** What an element says: its texts with single blanks between them, as the browser lays them apart. */
export function wordsOf(element: Element): string {
  const walker = document.createTreeWalker(element, NodeFilter.SHOW_TEXT);
  const texts: string[] = [];
  while (walker.nextNode()) texts.push(walker.currentNode.nodeValue ?? '');
  return texts.join(' ').replace(/\s+/g, ' ').trim();
}

/** All but the clock and the intervals on which RxJS runs. */
const REAL_TIMERS: FakeableAPI[] = [
  'cancelAnimationFrame',
  'cancelIdleCallback',
  'clearImmediate',
  'clearTimeout',
  'hrtime',
  'nextTick',
  'performance',
  'queueMicrotask',
  'requestAnimationFrame',
  'requestIdleCallback',
  'setImmediate',
  'setTimeout',
];

/** A page in a test: what it shows, and the server's side of its requests. */
export class PageTest<T> {
  private constructor(
    readonly http: HttpTestingController,
    readonly element: HTMLElement,
    readonly component: ComponentRef<T>,
    private readonly stable: () => Promise<unknown>,
  ) {}

  /** The page's pauses run on a clock that only {@link passes} moves on; what Angular and the worker wait for is real. */
  static async open<T>(
    page: Type<T>,
    inputs: Readonly<Record<string, unknown>> = {},
    state: CharterState | null = null,
  ): Promise<PageTest<T>> {
    jest.useFakeTimers({ now: Date.now(), doNotFake: REAL_TIMERS });
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([{ path: '**', children: [] }]),
      ],
    });
    const http = TestBed.inject(HttpTestingController);
    const world = smallWorld();
    TestBed.inject(WordingService).load();
    const wording: WordingDocument = {
      names: nameListsOf(CHARTER, world),
      fields: [...world.fields.values()],
      baseCurrency: 'EUR',
      timeZone: 'Europe/Oslo',
      byHand: 'decide',
      grids: CHARTER.scoreSets.map(({ key, of, grid }) => ({
        set: key,
        of,
        fit: grid.fit.bands,
        engagement: grid.engagement.bands,
      })),
      kinds: STANDARD_KINDS,
      pipelines: CHARTER.pipelines.map(({ key, name, of, stages, entry }) => ({ key, name, of, stages, entry })),
    };
    http.expectOne('/api/wording').flush(wording);
    if (state !== null) {
      TestBed.inject(CharterService).load();
      http.expectOne('/api/charters').flush(state);
    }
    const fixture = TestBed.createComponent(page);
    for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
    fixture.autoDetectChanges();
    await fixture.whenStable();
    return new PageTest(http, fixture.nativeElement as HTMLElement, fixture.componentRef, () => fixture.whenStable());
  }

  /** Answers what the page asked for at an address; the newest of several. */
  async answer(url: string, body: unknown, status = 200): Promise<void> {
    await this.settle();
    const asked = this.http.match((request) => request.url === url);
    if (asked.length === 0) throw new Error(`The page did not ask for ${url}`);
    for (const one of asked) if (!one.cancelled) one.flush(body as object, { status, statusText: String(status) });
    await this.settle();
  }

  /** What the page sent to an address. */
  sent(url: string, method: string): { body: unknown; answer: (body: unknown, status?: number) => Promise<void> } {
    const request = this.http.expectOne((one) => one.url === url && one.method === method);
    return {
      body: request.request.body,
      answer: async (body, status = 200) => {
        request.flush(body as object, { status, statusText: String(status) });
        await this.settle();
      },
    };
  }

  /** Lets the page's clock run on until what was changed is sent to be saved. */
  async saved(): Promise<void> {
    await this.passes(400);
  }

  /** Moves the page's clock on. */
  async passes(ms: number): Promise<void> {
    await jest.advanceTimersByTimeAsync(ms);
    await this.settle();
  }

  async settle(): Promise<void> {
    await this.stable();
  }

  /** What it says, with single blanks. */
  get text(): string {
    return wordsOf(this.element);
  }

  find(selector: string): HTMLElement {
    const found = this.element.querySelector<HTMLElement>(selector);
    if (found === null) throw new Error(`Nothing on the page fits ${selector}`);
    return found;
  }

  /** A component inside the page. */
  part<P>(of: Type<P>): P {
    const found = (getDebugNode(this.element) as DebugElement).query(By.directive(of));
    return found.componentInstance as P;
  }

  /** Chooses a value of a list that is told by its label. */
  async choose(label: string, value: unknown): Promise<void> {
    const lists = (getDebugNode(this.element) as DebugElement).queryAll(By.css('p-select'));
    const found = lists.find(({ componentInstance: list }) => (list as Select).ariaLabel === label);
    if (found === undefined) throw new Error(`No list ${label}`);
    found.triggerEventHandler('ngModelChange', value);
    await this.settle();
  }

  button(name: string): HTMLButtonElement {
    const found = [...this.element.querySelectorAll('button')].find(
      (one) => one.getAttribute('aria-label') === name || one.textContent?.trim() === name,
    );
    if (found === undefined) throw new Error(`No button ${name}`);
    return found;
  }

  async click(name: string): Promise<void> {
    this.button(name).click();
    await this.settle();
  }

  /** Types into a field and leaves it. */
  async type(selector: string, text: string): Promise<void> {
    const field = this.find(selector) as HTMLInputElement;
    field.value = text;
    field.dispatchEvent(new Event('input'));
    field.dispatchEvent(new Event('change'));
    await this.settle();
  }
}
