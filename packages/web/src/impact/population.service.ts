import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { LeadName, PopulationAnswer } from '@relvik/contracts';
import type { Answers, Asks, Condition, ImpactQuestionName, Pair } from '@relvik/core';
import { firstValueFrom, forkJoin } from 'rxjs';
import { LOADING, type Loaded } from '../api/loaded';
import { problemOf } from '../api/problem';
import { IMPACT_WORKER } from './worker-factory';
import type { FromWorker, PopulationState, ToWorker } from './worker-messages';

interface Waiting {
  readonly resolve: (answer: unknown) => void;
  readonly reject: (error: Error) => void;
}

type Unnumbered = ToWorker extends infer M ? (M extends { id: number } ? Omit<M, 'id'> : never) : never;

/** The population in its worker: loaded once, asked again and again, made anew when the worker dies. */
@Injectable({ providedIn: 'root' })
export class PopulationService {
  private readonly http = inject(HttpClient);
  private readonly makeWorker = inject(IMPACT_WORKER);
  private worker: Worker | null = null;
  private waiting = new Map<number, Waiting>();
  private next = 1;
  private readonly names = new Map<number, LeadName>();

  readonly state = signal<Loaded<PopulationState>>(LOADING);
  /** Leads came in or changed since the population was read. */
  readonly outdated = signal(false);

  /** Reads the population from the server and hands it to the worker. */
  async load(): Promise<void> {
    try {
      const [bytes, world] = await firstValueFrom(
        forkJoin([
          this.http.get('/api/population', { responseType: 'arraybuffer' }),
          this.http.get<unknown>('/api/world'),
        ]),
      );
      const state = (await this.send({ kind: 'load', bytes, world }, [bytes])) as PopulationState;
      this.outdated.set(false);
      this.state.set({ state: 'ready', value: state });
    } catch (error) {
      this.state.set({ state: 'failed', problem: problemOf(error) });
    }
  }

  /** Asks whether the population is still that of the server. */
  async check(): Promise<void> {
    const state = this.state();
    if (state.state !== 'ready') return;
    const { version } = await firstValueFrom(this.http.get<{ version: string }>('/api/population/version'));
    this.outdated.set(version !== state.value.version);
  }

  ask<Q extends ImpactQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>> {
    return this.send({ kind: 'ask', question, asks }) as Promise<Answers<Q>>;
  }

  /** Sees to it that what the population withholds is answered for these charters: the server knows it. */
  async prepare(pair: Pair, asked: readonly Condition[] = []): Promise<void> {
    const tests = await this.ask('missing', { pair, asked });
    if (tests.length === 0) return;
    const answers = await firstValueFrom(this.http.post<PopulationAnswer[]>('/api/population/tests', { tests }));
    for (const answer of answers) await this.ask('give', answer);
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

  private send(message: Unnumbered, transfer: Transferable[] = []): Promise<unknown> {
    const worker = (this.worker ??= this.begin());
    const id = this.next;
    this.next += 1;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      worker.postMessage({ ...message, id }, transfer);
    });
  }

  private begin(): Worker {
    const worker = this.makeWorker();
    worker.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      const one = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if (data.ok) one?.resolve(data.answer);
      else one?.reject(new Error(data.why));
    };
    worker.onerror = () => {
      this.fail();
    };
    return worker;
  }

  /** The worker died: whoever waits is told, and the next one begins with a population of its own. */
  private fail(): void {
    this.worker?.terminate();
    this.worker = null;
    const left = [...this.waiting.values()];
    this.waiting = new Map();
    for (const { reject } of left) reject(new Error('The computation stopped; it begins anew.'));
    this.state.set(LOADING);
    void this.load();
  }
}
