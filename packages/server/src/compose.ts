import type { DemoSignIn } from '@relvik/contracts';
import type { Express } from 'express';
import type { DataSource } from 'typeorm';
import { byHandEndpoints } from './endpoint/by-hand-endpoints';
import { activityEndpoints } from './endpoint/activity-endpoints';
import { backgroundEndpoints } from './endpoint/background-endpoints';
import { bayEndpoints } from './endpoint/bay-endpoints';
import { charterEndpoints } from './endpoint/charter-endpoints';
import { fieldEndpoints } from './endpoint/field-endpoints';
import { scheduleEndpoints } from './endpoint/schedule-endpoints';
import { redrawEndpoints } from './endpoint/redraw-endpoints';
import { spellingEndpoints } from './endpoint/spelling-endpoints';
import { joinEndpoints } from './endpoint/join-endpoints';
import { intakeEndpoints } from './endpoint/intake-endpoints';
import { leadEndpoints } from './endpoint/lead-endpoints';
import { peopleEndpoints } from './endpoint/people-endpoints';
import { type Desks, recordEndpoints } from './endpoint/record-endpoints';
import { taskEndpoints } from './endpoint/task-endpoints';
import { proposalEndpoints } from './endpoint/proposal-endpoints';
import { rateEndpoints } from './endpoint/rate-endpoints';
import { populationEndpoints } from './endpoint/population-endpoints';
import { sessionEndpoints } from './endpoint/session-endpoints';
import { viewEndpoints } from './endpoint/view-endpoints';
import { buildApp, type HttpSettings } from './http/app';
import type { Endpoint } from './http/endpoint';
import { InFlight } from './http/in-flight';
import type { LeadWriter } from './intake/intake-writer';
import type { Background } from './job/background-worker';
import type { PopulationDesk } from './population/population-desk';
import { IntakeKeys } from './session/intake-keys';
import { Seen } from './store/seen';
import { WatershedCounts } from './watershed/watershed-counts';

export interface Settings extends Omit<HttpSettings, 'keys' | 'seen'> {
  readonly demo: readonly DemoSignIn[];
  /** Takes leads in. */
  readonly writer: LeadWriter;
  /** Answers about the population where it is too large for the browser. */
  readonly desk: PopulationDesk;
  /** Answer what a draft makes of contacts, companies and deals. */
  readonly desks: Desks;
  /** Carries on what no request waits for. */
  readonly background: Background;
  /** For counts over all leads, which may take long. */
  readonly counting: DataSource;
  /** As many records the browser computes with. */
  readonly browserRecords: number;
}

export interface Service {
  readonly app: Express;
  readonly endpoints: readonly Endpoint[];
  readonly inFlight: InFlight;
  readonly counts: WatershedCounts;
}

/** Puts the parts of a server together. */
export function compose(settings: Settings): Service {
  const { source, background, writer } = settings;
  const counts = new WatershedCounts(source, settings.counting, settings.now);
  const seen = new Seen(source);
  const endpoints = [
    ...sessionEndpoints(source, settings.demo, seen),
    ...byHandEndpoints(source),
    ...scheduleEndpoints(source, background),
    ...leadEndpoints(source, writer),
    ...proposalEndpoints(source),
    ...taskEndpoints(source),
    ...viewEndpoints(source),
    ...fieldEndpoints(source, counts),
    ...spellingEndpoints(source, counts),
    ...redrawEndpoints(source),
    ...activityEndpoints(source),
    ...intakeEndpoints(source, writer, background, counts),
    ...charterEndpoints(source, background, counts),
    ...backgroundEndpoints(source, background),
    ...recordEndpoints(source, settings.desks, writer),
    ...joinEndpoints(source),
    ...peopleEndpoints(source, counts),
    ...bayEndpoints(source),
    ...rateEndpoints(source, counts),
    ...populationEndpoints(source, settings.desk, settings.browserRecords),
  ];
  const inFlight = new InFlight();
  const app = buildApp(endpoints, { ...settings, keys: new IntakeKeys(source), seen }, inFlight);
  return { app, endpoints, inFlight, counts };
}
