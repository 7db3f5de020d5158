import { type DeskAnswer, deskQuestionSchema, type PopulationState } from '@relvik/contracts';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import type { PopulationDesk } from '../population/population-desk';

/** Reading a large population takes its time, ms. */
export const LONG = 180_000;

/** A desk that stands on the server: it is loaded, and asked what a draft does to its population. */
export function deskEndpoints(
  path: '/api/population' | '/api/contacts' | '/api/companies' | '/api/deals',
  desk: PopulationDesk,
): Endpoint[] {
  return [
    endpoint({
      method: 'post',
      path: `${path}/desk`,
      who: ADMIN,
      patience: LONG,
      answer: json<PopulationState>(),
      call: () => desk.load(),
    }),
    endpoint({
      method: 'post',
      path: `${path}/questions`,
      who: ADMIN,
      // Two charters, each as large as a draft may be.
      most: '3mb',
      body: deskQuestionSchema,
      patience: LONG,
      answer: json<DeskAnswer>(),
      call: ({ body }) => desk.ask(body),
    }),
  ];
}
