/** A process that runs, and ends some time. */
export interface Running {
  /** Resolves when it is ready to be used; never, if it ends before. */
  readonly ready: Promise<void>;
  /** Resolves with how it ended, in words. */
  readonly ended: Promise<string>;
}

export interface Watch {
  readonly name: string;
  begin(): Promise<Running> | Running;
  readonly say: (text: string) => void;
  /** Pauses before it is started again, ms, one for each time in a row; after the last one it is given up. */
  readonly pauses: readonly number[];
  /** As long as it ran well, ms, it starts with the first pause again. */
  readonly settled: number;
}

export interface Watching {
  /** Resolves when it was ready for the first time, with true; with false if it could not be started at all. */
  readonly ready: Promise<boolean>;
  /** Resolves when it is given up. */
  readonly givenUp: Promise<void>;
  /** Nothing is started again from now on. */
  stop(): void;
}

/** Keeps a process running: when it ends it is started again, with growing pauses, and given up when it keeps ending. */
export function supervise({ name, begin, say, pauses, settled }: Watch): Watching {
  let stopping = false;
  let firstReady: (ready: boolean) => void = () => undefined;
  const ready = new Promise<boolean>((resolve) => (firstReady = resolve));
  const wasStopped = (): boolean => stopping;

  async function once(): Promise<{ readonly how: string; readonly wasReady: boolean }> {
    try {
      const running = await begin();
      const wasReady = await Promise.race([running.ready.then(() => true), running.ended.then(() => false)]);
      if (wasReady) firstReady(true);
      return { how: await running.ended, wasReady };
    } catch (error) {
      return { how: error instanceof Error ? error.message : String(error), wasReady: false };
    }
  }

  async function keep(): Promise<void> {
    let everReady = false;
    for (let failed = 0; ;) {
      const began = Date.now();
      const { how, wasReady } = await once();
      if (wasStopped()) return;
      everReady ||= wasReady;
      if (wasReady && Date.now() - began >= settled) failed = 0;
      const pause = pauses[failed];
      if (!everReady || pause === undefined) {
        say(`${name} ${everReady ? 'keeps ending' : 'could not be started'}: ${how}`);
        firstReady(false);
        return;
      }
      failed += 1;
      say(`${name} ended (${how}); it is started again in ${(pause / 1000).toFixed(pause < 1000 ? 1 : 0)} s`);
      await new Promise((resume) => setTimeout(resume, pause));
      if (wasStopped()) return;
    }
  }

  const kept = keep();
  return {
    ready,
    givenUp: kept.then(() => (wasStopped() ? new Promise<void>(() => undefined) : undefined)),
    stop() {
      stopping = true;
    },
  };
}
