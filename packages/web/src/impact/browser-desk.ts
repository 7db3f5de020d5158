import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { PopulationState } from '@relvik/contracts';
import type { Answers, Asks, Charter, Found, ImpactQuestionName, Pair } from '@relvik/core';
import { firstValueFrom, forkJoin, Subject } from 'rxjs';
import { deltaOf } from './charter-delta';
import type { DeskLink } from './desk-link';
import { IMPACT_WORKER } from './worker-factory';
import type { FromWorker, SentCharter, SentPair, ToWorker } from './worker-messages';

interface Waiting {
  readonly resolve: (said: FromWorker) => void;
  readonly reject: (error: Error) => void;
}

type Unnumbered = ToWorker extends infer M ? (M extends { id: number } ? Omit<M, 'id'> : never) : never;

/** A desk in a web worker of this browser, with the population that the server sent. */
@Injectable({ providedIn: 'root' })
export class BrowserDesk implements DeskLink {
  private readonly http = inject(HttpClient);
  private readonly makeWorker = inject(IMPACT_WORKER);
  private worker: Worker | null = null;
  private waiting = new Map<number, Waiting>();
  private next = 1;
  /** The charters that the worker holds: they are sent once, not with each question. */
  private sent = new Map<Charter, number>();
  private nextCharter = 1;
  /** The worker died, and its population with it. */
  readonly died = new Subject<void>();

  async load(): Promise<PopulationState> {
    const [bytes, world] = await firstValueFrom(
      forkJoin([
        this.http.get('/api/population', { responseType: 'arraybuffer' }),
        this.http.get<unknown>('/api/world'),
      ]),
    );
    const said = await this.send({ kind: 'load', bytes, world }, [bytes]);
    return answerIn(said) as PopulationState;
  }

  async ask<Q extends ImpactQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>> {
    let said = await this.put(question, asks);
    if (said.said === 'missing') {
      const { lookups } = said;
      const found = await firstValueFrom(this.http.post<Found[]>('/api/population/lookups', { lookups }));
      answerIn(await this.send({ kind: 'give', found }));
      said = await this.put(question, asks);
    }
    return answerIn(said) as Answers<Q>;
  }

  private put(question: ImpactQuestionName, asks: Asks<ImpactQuestionName>): Promise<FromWorker> {
    if (!('pair' in asks)) return this.send({ kind: 'ask', question, asks, pair: null, charters: [] });
    const { pair, ...rest } = asks;
    return this.send({ kind: 'ask', question, asks: rest, ...this.numbered(pair) });
  }

  private numbered({ inForce, draft }: Pair): { pair: SentPair; charters: SentCharter[] } {
    const charters: SentCharter[] = [];
    // The draft before the edit is the last that was sent.
    const [base = null] = [...this.sent].reverse();
    const numberOf = (charter: Charter): number => {
      const known = this.sent.get(charter);
      if (known !== undefined) return known;
      const number = this.nextCharter;
      this.nextCharter += 1;
      this.sent.set(charter, number);
      const delta = JSON.stringify(deltaOf(base?.[0], charter));
      charters.push({ number, from: base?.[1] ?? null, delta });
      return number;
    };
    const pair = { inForce: numberOf(inForce), draft: numberOf(draft) };
    // The worker holds on to no others.
    this.sent = new Map([
      [inForce, pair.inForce],
      [draft, pair.draft],
    ]);
    return { pair, charters };
  }

  private send(message: Unnumbered, transfer: Transferable[] = []): Promise<FromWorker> {
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
      one?.resolve(data);
    };
    worker.onerror = () => {
      this.fail();
    };
    return worker;
  }

  private fail(): void {
    this.worker?.terminate();
    this.worker = null;
    this.sent = new Map();
    const left = [...this.waiting.values()];
    this.waiting = new Map();
    for (const { reject } of left) reject(new Error('The computation stopped; it starts again.'));
    this.died.next();
  }
}

function answerIn(said: FromWorker): unknown {
  switch (said.said) {
    case 'answer':
      return said.answer;
    case 'failed':
      throw new Error(said.why);
    case 'missing':
      throw new Error('The server does not know what the population withholds');
  }
}
