import { tellOfLongWaits } from './bay-alarm';
import { freeBay } from '../act/free-bay';
import { standIn } from '../act/stand-in';
import { nightly } from '../doctor/nightly';
import { deliver } from '../outbox/deliver';
import { forget } from './forget';
import { importFiles } from './import-files';
import { handOnOverdue } from './overdue';
import { passTime } from './pass-time';
import { finishRescores } from './rescore';
import type { Work } from './runner';
import { followTies } from './tie-changes';
import { runSchedules } from './schedules';
import { tendUnrouted } from './tend-unrouted';

const HALF_MINUTE = 30_000;
const HOUR = 3_600_000;

/** The background works, in the order in which they run. */
export const WORKS: readonly Work[] = [
  { name: 'outbox', lane: 'quick', every: 0, woken: true, run: (source, now) => deliver(source, now()) },
  { name: 'rescore', lane: 'long', every: HALF_MINUTE, woken: true, run: finishRescores },
  { name: 'import', lane: 'files', every: HALF_MINUTE, woken: true, run: importFiles },
  { name: 'time', lane: 'long', every: HALF_MINUTE, woken: true, run: (source, now) => passTime(source, now()) },
  {
    name: 'records',
    lane: 'long',
    every: HALF_MINUTE,
    woken: true,
    run: (source, now) => tendUnrouted(source, now()),
  },
  { name: 'ties', lane: 'long', every: HALF_MINUTE, woken: true, run: (source, now) => followTies(source, now()) },
  // Presence is followed at once in act/change-people.ts; this sees days off begin and end.
  {
    name: 'deputies',
    lane: 'long',
    every: HALF_MINUTE,
    woken: false,
    run: (source, now) => standIn(source, now()),
  },
  // The bay is woken in act/acting.ts; this catches up after a restart.
  { name: 'bay', lane: 'long', every: HALF_MINUTE, woken: true, run: (source, now) => freeBay(source, now()) },
  {
    name: 'overdue',
    lane: 'long',
    every: HALF_MINUTE,
    woken: false,
    run: (source, now) => handOnOverdue(source, now()),
  },
  { name: 'schedules', lane: 'long', every: HALF_MINUTE, woken: true, run: runSchedules },
  {
    name: 'bay-alarm',
    lane: 'quick',
    every: HALF_MINUTE,
    woken: false,
    run: (source, now) => tellOfLongWaits(source, now()),
  },
  { name: 'doctor', lane: 'long', every: HOUR, woken: false, run: (source, now) => nightly(source, now()) },
  { name: 'forget', lane: 'long', every: HOUR, woken: false, run: (source, now) => forget(source, now()) },
];
