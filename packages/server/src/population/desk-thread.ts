import 'reflect-metadata';
import type { DeskAnswer, PopulationState } from '@relvik/contracts';
import { workerData } from 'node:worker_threads';
import { describeDatabase, LONG_PATIENCE } from '../store/open-database';
import { answerInThread } from '../thread/answer-in-thread';
import type { DeskThreadData, ToDesk } from './desk-messages';
import { LeadSubject, NearDesk } from './population-desk';
import { UnroutedSubject } from './unrouted-population';

/** A thread of the server in which the population stands, with a connection of its own. */
const { access, of } = workerData as DeskThreadData;
const opening = describeDatabase(access, LONG_PATIENCE)
  .initialize()
  .then((source) => {
    const subject = of === 'lead' ? new LeadSubject(source) : new UnroutedSubject(source, of);
    return new NearDesk(source, () => new Date(), subject);
  });
answerInThread(opening, (desk, question): Promise<PopulationState | DeskAnswer | Uint8Array> => {
  const message = question as ToDesk;
  switch (message.kind) {
    case 'load':
      return desk.load();
    case 'as-arrow':
      return desk.asArrow();
    case 'ask':
      return desk.ask(message.question);
  }
});
