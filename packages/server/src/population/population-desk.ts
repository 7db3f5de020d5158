import type { DeskAnswer, DeskQuestion, PopulationState } from '@relvik/contracts';
import {
  type Answers,
  type Asks,
  askDesk,
  type Charter,
  type Found,
  ImpactDesk,
  type ImpactQuestionName,
  type Lookup,
  type Mask,
  missingFor,
  type Pair,
  type PastCharter,
  type Population,
  type Problem,
  readCharter,
  readCondition,
  Spot,
  readWorld,
} from '@relvik/core';
import { populationToArrow } from '@relvik/formats';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { lookUp } from './look-up';
import { KeptLeads } from './kept-leads';
import { populationVersion } from './snapshot';
import { worldDocument } from './world-document';

/** Whom a desk is about. */
export interface DeskSubject {
  read(now: Date): Promise<{
    readonly population: Population;
    readonly state: PopulationState;
    /** The past charters that still govern some of them. */
    readonly past: readonly PastCharter[];
  }>;
  /** Looks up what the population withholds. */
  lookUp(lookups: readonly Lookup[], now: Date): Promise<Found[]>;
  /** The population for the browser, as an Arrow stream. */
  asArrow(now: Date): Promise<Uint8Array>;
}

/** All leads, each time brought up to date. */
export class LeadSubject implements DeskSubject {
  private readonly leads: KeptLeads;

  constructor(private readonly source: DataSource) {
    this.leads = new KeptLeads(source);
  }

  async read(now: Date): ReturnType<DeskSubject['read']> {
    const { population, meta } = await this.leads.bring(now);
    // The desk adds lookup results to its population: give it maps of its own.
    const own = { ...population, events: new Map(population.events), given: new Map<string, Mask>() };
    return {
      population: own,
      state: { asOf: meta.asOf, version: meta.version, size: population.size },
      past: meta.past,
    };
  }

  async asArrow(now: Date): Promise<Uint8Array> {
    const { population, meta } = await this.leads.bring(now);
    return populationToArrow(population, meta);
  }

  lookUp(lookups: readonly Lookup[], now: Date): Promise<Found[]> {
    return lookUp(this.source.manager, lookups, now);
  }
}

/** What answers questions about a population that is too large for the browser. */
export interface PopulationDesk {
  /** Reads the population, unless it is read already and nothing changed since. */
  load(): Promise<PopulationState>;
  /** Answers about the population as it was read last. */
  ask(question: DeskQuestion): Promise<DeskAnswer>;
  /** The population as it is now, for the browser: an Arrow stream. */
  asArrow(): Promise<Uint8Array>;
  stop(): Promise<void>;
}

interface Open {
  readonly population: Population;
  /** The world around it as text: people and rates change without a lead being touched. */
  readonly world: string;
  readonly desk: ImpactDesk;
  readonly state: PopulationState;
  readonly past: readonly PastCharter[];
}

/** The desk itself, one question after the other. */
export class NearDesk implements PopulationDesk {
  private open: Open | null = null;
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly source: DataSource,
    private readonly now: () => Date,
    private readonly subject: DeskSubject = new LeadSubject(source),
  ) {}

  load(): Promise<PopulationState> {
    return this.inTurn(async () => {
      const version = await populationVersion(this.source);
      this.open = await this.read(this.open?.state.version === version ? this.open : null);
      return this.open.state;
    });
  }

  ask(question: DeskQuestion): Promise<DeskAnswer> {
    return this.inTurn(async () => {
      const open = (this.open ??= await this.read(null));
      return { population: open.state, answer: await this.answer(open.desk, question) };
    });
  }

  asArrow(): Promise<Uint8Array> {
    return this.inTurn(() => this.subject.asArrow(this.now()));
  }

  async stop(): Promise<void> {
    await this.turn;
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const done = this.turn.then(work);
    this.turn = done.catch(() => undefined);
    return done;
  }

  /** @param before what is as good as the population is now */
  private async read(before: Open | null): Promise<Open> {
    const document = await worldDocument(this.source.manager);
    const world = JSON.stringify(document);
    if (before?.world === world) return before;
    const reading = readWorld(document);
    if (!reading.ok) throw new Error(reading.problems.map(({ path, message }) => `${path} ${message}`).join('; '));
    const { population, state, past } = before ?? (await this.subject.read(this.now()));
    return { population, world, state, past, desk: new ImpactDesk(population, reading.world, state.asOf, past) };
  }

  private async answer(desk: ImpactDesk, { question, asks }: DeskQuestion): Promise<unknown> {
    if (question === 'values')
      return askDesk(desk, question, {
        field: needed('field', asks.field),
        base: needed('base', asks.base),
      });
    const reading = readPair(needed('pair', asks.pair));
    if (!reading.ok) return reading;
    const { pair } = reading;
    switch (question) {
      case 'impact':
      case 'owners':
        return this.put(desk, question, { pair, reading: needed('reading', asks.reading) });
      case 'meeting': {
        const how = needed('reading', asks.reading);
        if (how.kind === 'came-in')
          throw Refused.invalid([{ path: '/asks/reading/kind', message: 'must be on-enact: it is about enacting' }]);
        return this.put(desk, question, { pair, reading: how });
      }
      case 'waits':
        return this.put(desk, question, { pair });
      case 'tally':
        return this.put(desk, question, { pair });
      case 'taken':
        return this.put(desk, question, { pair });
      case 'findings':
        return this.put(desk, question, { pair });
      case 'match': {
        const problems: Problem[] = [];
        const condition = readCondition(needed('condition', asks.condition), Spot.root(problems));
        if (problems.length > 0) return { ok: false, problems };
        return this.put(desk, question, { pair, condition, place: needed('place', asks.place) });
      }
    }
  }

  /** What the population withholds is looked up where it is stored. */
  private async put<Q extends ImpactQuestionName>(desk: ImpactDesk, question: Q, asks: Asks<Q>): Promise<Answers<Q>> {
    const lookups = missingFor(desk, asks);
    if (lookups.length > 0) for (const found of await this.subject.lookUp(lookups, this.now())) desk.give(found);
    return askDesk(desk, question, asks);
  }
}

function needed<T>(name: string, value: T | undefined): T {
  if (value === undefined) throw Refused.invalid([{ path: `/asks/${name}`, message: 'is missing' }]);
  return value;
}

type PairReading =
  { readonly ok: true; readonly pair: Pair } | { readonly ok: false; readonly problems: readonly Problem[] };

function readPair({ inForce, draft }: { readonly inForce: object; readonly draft: object }): PairReading {
  const both: Charter[] = [];
  for (const json of [inForce, draft]) {
    const reading = readCharter(json);
    if (!reading.ok) return reading;
    both.push(reading.charter);
  }
  return { ok: true, pair: { inForce: both[0] as Charter, draft: both[1] as Charter } };
}
