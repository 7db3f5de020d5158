import 'reflect-metadata';
import { workerData } from 'node:worker_threads';
import { describeDatabase, LONG_PATIENCE } from '../store/open-database';
import { answerInThread } from '../thread/answer-in-thread';
import { CompanySubject } from './company-population';
import type { DeskThreadData, ToDesk } from './desk-messages';
import { LeadSubject, NearDesk } from './population-desk';

/** A thread of the server in which the population stands, with a connection of its own. */
const { access, of } = workerData as DeskThreadData;
const opened = describeDatabase(access, LONG_PATIENCE)
  .initialize()
  .then((source) => {
    const subject = of === 'company' ? new CompanySubject(source) : new LeadSubject(source);
    return new NearDesk(source, () => new Date(), subject);
  });
answerInThread(async (question) => {
  const message = question as ToDesk;
  const desk = await opened;
  return message.kind === 'load' ? desk.load() : desk.ask(message.question);
});
