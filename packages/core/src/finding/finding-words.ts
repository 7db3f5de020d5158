import { groupDigits, subjectName, unitWords, type Wording } from '../reasoning/subject-words';
import type { Finding } from './finding';

/** A finding as one sentence. */
export function findingWords(finding: Finding, wording: Wording): string {
  const { names } = wording;
  switch (finding.code) {
    case 'route-never-reached': {
      const { takenBy } = finding;
      if (takenBy === null) return 'No lead can match it';
      if (takenBy === 'several') return 'Never reached: the routes before it take all that it would';
      return `Never reached: ${names.route(takenBy)} takes all that it would`;
    }
    case 'gap-between-numbers': {
      const { subject, from, to, below, above } = finding;
      const day = (at: string): string => (at.includes('-', 1) ? at : groupDigits(at));
      const what = from === to ? `exactly ${day(from)}` : `from ${day(from)} to ${day(to)}`;
      return `${subjectName(subject, wording)} ${what}${unitWords(subject, wording)} is taken neither by ${names.route(below)} nor by ${names.route(above)}, and goes to the last resort`;
    }
  }
}
