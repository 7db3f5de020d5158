/// <reference lib="webworker" />
import { WorkerDesk } from './worker-desk';
import type { ToWorker } from './worker-messages';

const desk = new WorkerDesk();

addEventListener('message', ({ data }: MessageEvent<ToWorker>) => {
  postMessage(desk.answer(data));
});
