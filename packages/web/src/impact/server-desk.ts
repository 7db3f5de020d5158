import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { DeskAnswer, PopulationState } from '@relvik/contracts';
import type { Answers, Asks, ImpactQuestionName } from '@relvik/core';
import { firstValueFrom, Subject } from 'rxjs';
import type { DeskLink } from './desk-link';

/** A desk in a thread of the server, for populations that are too large for a browser. */
@Injectable({ providedIn: 'root' })
export class ServerDesk implements DeskLink {
  private readonly http = inject(HttpClient);
  protected readonly base: string = '/api/population';
  /** Answers are about a population that was read since. */
  readonly readAnew = new Subject<PopulationState>();
  private version: string | null = null;

  async load(): Promise<PopulationState> {
    const state = await firstValueFrom(this.http.post<PopulationState>(`${this.base}/desk`, {}));
    this.version = state.version;
    return state;
  }

  async ask<Q extends ImpactQuestionName>(question: Q, asks: Asks<Q>): Promise<Answers<Q>> {
    const { population, answer } = await firstValueFrom(
      this.http.post<DeskAnswer>(`${this.base}/questions`, { question, asks }),
    );
    if (this.version !== population.version) {
      this.version = population.version;
      this.readAnew.next(population);
    }
    return answer as Answers<Q>;
  }
}
