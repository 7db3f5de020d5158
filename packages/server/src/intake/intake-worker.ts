import 'reflect-metadata';
import { workerData } from 'node:worker_threads';
import { describeDatabase } from '../store/open-database';
import { answerInThread } from '../thread/answer-in-thread';
import type { IntakeThreadData, ToIntake } from './intake-thread';
import { IntakeWriter } from './intake-writer';

/** A thread of the server that takes leads in, with connections of its own. */
const { access, patience } = workerData as IntakeThreadData;
const opening = describeDatabase(access, patience)
  .initialize()
  .then((source) => new IntakeWriter(source));
answerInThread(opening, (writer, question) => {
  const { inquiry, mark } = question as ToIntake;
  return writer.accept(inquiry, mark);
});
