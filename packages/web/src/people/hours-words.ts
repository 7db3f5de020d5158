import { weekWords, type WorkHours } from '@relvik/core';

export function hoursWords(hours: WorkHours | null): string {
  return hours === null ? '' : `${weekWords(hours.weekly)}, ${hours.timeZone}`;
}
