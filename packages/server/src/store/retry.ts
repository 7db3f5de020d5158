const MINUTE = 60_000;

/** Pauses before what failed is tried again; after the last one it is parked. */
const PAUSES = [MINUTE, 5 * MINUTE, 25 * MINUTE, 125 * MINUTE];

/**
 * When something that failed is to be tried again: after 1, 5, 25, 125 minutes, a tenth more or less so that not all come at once.
 *
 * @param tries how often it failed, from 1
 * @param seed tells one thing from another; the same one always gets the same pause
 * @returns null: it failed too often, and is to be parked
 */
export function nextTry(now: Date, tries: number, seed: number): Date | null {
  const pause = PAUSES[tries - 1];
  if (pause === undefined) return null;
  const spread = ((seed * 7919 + tries * 104_729) % 2001) / 10_000 - 0.1;
  return new Date(now.getTime() + Math.round(pause * (1 + spread)));
}

/** An error in few words, as it is kept and shown. */
export function errorText(error: unknown): string {
  return (error instanceof Error ? error.message : String(error)).slice(0, 500);
}
