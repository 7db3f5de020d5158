import type { Instant } from '@relvik/core';
import type { Given } from './lead';

/** A run of a stream: over what waits for it, what nobody has in its stages, and what it gave away where it asks again then. */
export interface StreamRun {
  readonly id: number;
  readonly stream: string;
  /** The name of the person who began it; null: its schedule did. */
  readonly by: string | null;
  readonly state: 'running' | 'stopped' | 'done';
  readonly startedAt: Instant;
  readonly endedAt: Instant | null;
  /** Leads that it goes over, and over how many it went. */
  readonly leads: number;
  readonly done: number;
  /** Those that got an owner or queue, or another one. */
  readonly given: number;
  /** Those on which it failed; they stay where they are. */
  readonly failed: number;
}

/** A stream in force that has a schedule. */
export interface ScheduledStream {
  readonly stream: string;
  readonly name: string;
  /** When it runs next; null: the stream is off. */
  readonly next: Instant | null;
  /** Its latest run; null: none yet. */
  readonly last: StreamRun | null;
}

/** The outcome of a run if it began now. */
export interface RunPreview {
  /** Leads that it would go over. */
  readonly leads: number;
  /** The first of them, as many as are carried through: where they would be. */
  readonly shown: number;
  readonly places: Given['places'];
}
