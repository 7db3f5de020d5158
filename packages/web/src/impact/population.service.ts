import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { LeadName, PopulationPlace, PopulationState } from '@relvik/contracts';
import type { Answers, Asks, ImpactQuestionName } from '@relvik/core';
import { firstValueFrom } from 'rxjs';
import { LOADING, type Loaded } from '../api/loaded';
import { problemOf } from '../api/problem';
import { BrowserDesk } from './browser-desk';
import type { DeskLink } from './desk-link';
import { ServerDesk } from './server-desk';

/** Two deaths within so many milliseconds are no accident. */
const SOON = 60_000;

/** The population at its desk, in the browser or on the server: loaded once, asked again and again. */
@Injectable({ providedIn: 'root' })
export class PopulationService {
  private readonly http = inject(HttpClient);
  private readonly browser = inject(BrowserDesk);
  private readonly server = inject(ServerDesk);
  private desk: DeskLink = this.browser;
  private lastDeath = -Infinity;
  private readonly names = new Map<number, LeadName>();

  readonly state = signal<Loaded<PopulationState>>(LOADING);
  /** Leads came in or changed since the population was read. */
  readonly outdated = signal(false);

  constructor() {
    this.browser.died.subscribe(() => {
      this.beginAnew();
    });
    this.server.readAnew.subscribe((value) => {
      this.state.set({ state: 'ready', value });
    });
  }

  /** Has the population read; the server says where. */
  async load(): Promise<void> {
    if (this.state().state === 'failed') this.state.set(LOADING);
    try {
      this.desk = (await this.place()).place === 'server' ? this.server : this.browser;
      const value = await this.desk.load();
      this.outdated.set(false);
      this.state.set({ state: 'ready', value });
    } catch (error) {
      this.state.set({ state: 'failed', problem: problemOf(error) });
    }
  }

  /** Asks whether the population is still that of the server. */
  async check(): Promise<void> {
    const state = this.state();
    if (state.state !== 'ready') return;
    const { version } = await this.place();
    this.outdated.set(version !== state.value.version);
  }

  ask<Q extends ImpactQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>> {
    return this.desk.ask(question, asks);
  }

  /** The names of a few leads, which the population does not hold. */
  async namesOf(ids: readonly number[]): Promise<ReadonlyMap<number, LeadName>> {
    const missing = ids.filter((id) => !this.names.has(id)).slice(0, 200);
    if (missing.length > 0) {
      const found = await firstValueFrom(
        this.http.get<LeadName[]>('/api/lead-names', { params: { ids: missing.join(',') } }),
      );
      for (const one of found) this.names.set(one.id, one);
    }
    return this.names;
  }

  private place(): Promise<PopulationPlace> {
    return firstValueFrom(this.http.get<PopulationPlace>('/api/population/version'));
  }

  /** The worker died: the next one begins with a population of its own, unless one died just now. */
  private beginAnew(): void {
    const soon = Date.now() - this.lastDeath < SOON;
    this.lastDeath = Date.now();
    if (!soon) {
      this.state.set(LOADING);
      void this.load();
      return;
    }
    this.state.set({
      state: 'failed',
      problem: {
        type: 'about:blank',
        status: 0,
        title: 'The impact can’t be computed in this browser',
        detail: 'The computation stopped twice. The draft is safe, and you can go on editing it.',
      },
    });
  }
}
