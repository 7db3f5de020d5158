import { momentText } from '@relvik/core';

/** The zone of whoever reads it. */
export const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** An instant as its reader’s clock shows it: `Mon 30 Nov 08:00`. */
export function momentWords(at: number): string {
  return momentText(at, OWN_ZONE);
}
