import type { Fade } from '../signal/fade';
import type { ActivitySignal, Signal } from '../signal/signal';
import { conditionWords } from './condition-words';
import { daysWords, propertyWords, type Wording } from './subject-words';

/** Points with their sign, to two decimals: +20, −10, +5.66. */
export function signed(points: number): string {
  const shown = Math.round(Math.abs(points) * 100) / 100;
  return points < 0 ? `−${shown}` : `+${shown}`;
}

function fadeWords(fade: Fade): string {
  return fade.kind === 'half-life'
    ? `half-life ${daysWords(fade.days)}`
    : `fades to nothing in ${daysWords(fade.days)}`;
}

function timesWords({ times, most }: ActivitySignal): string {
  if (times === 'first') return 'the first one only';
  return most === null ? 'each' : most === 1 ? 'the last one' : `each, at most ${most}`;
}

/** When a signal gives its points: "Mail clicked · each, at most 3 · half-life 30 days". */
export function signalWords(signal: Signal, wording: Wording): string {
  switch (signal.kind) {
    case 'attribute':
      return conditionWords(signal.when, wording);
    case 'activity': {
      const { window, fade, cap, having } = signal;
      return [
        wording.names.activity(signal.activity),
        ...having.map(propertyWords),
        timesWords(signal),
        ...(window === null ? [] : [`in the last ${daysWords(window)}`]),
        ...(fade === null ? [] : [fadeWords(fade)]),
        ...(cap === null ? [] : [`held at ${cap}`]),
      ].join(' · ');
    }
    case 'silence':
      return `Silence · every ${daysWords(signal.every)}${signal.most === null ? '' : `, at most ${signal.most} times`}`;
  }
}
