import { ownRegionsIn } from '../record/catalogue';
import { groundWords } from '../territory/ground-words';
import { groupDigits, subjectName, unitWords, type Wording } from '../wording/subject-words';
import type { Finding } from './finding';

const AND_LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' });

/** Where in the charter a finding is, as a JSON Pointer with keys in place of list positions. */
export function findingPlace(finding: Finding): string {
  switch (finding.code) {
    case 'unusable':
      return finding.place.path;
    case 'no-such-kind':
      return `/scoreSets/${finding.set}/signals/${finding.signal}/activity`;
    case 'scores-read-gate':
      return `/scoreSets/${finding.set}/${finding.signal === null ? '' : `signals/${finding.signal}/`}when`;
    case 'swallowed':
    case 'territory-unused':
      return `/territories/list/${finding.territory}`;
    case 'overlap':
      return `/territories/list/${finding.counts}`;
    case 'empty-team':
    case 'nobody-can-take':
      return `/streams/${finding.stream}/routes/${finding.route}/to`;
    case 'route-never-reached':
      return `/streams/${finding.stream}/routes/${finding.route}`;
    case 'gap-between-numbers':
      return `/streams/${finding.stream}/routes/${finding.below}/when`;
  }
}

/** A finding as one sentence. */
export function findingWords(finding: Finding, wording: Wording): string {
  const { names } = wording;
  switch (finding.code) {
    case 'unusable':
      return `${finding.place.words}: ${finding.message}`;
    case 'no-such-kind':
      return `Signal “${names.signal(finding.signal)}”: no such kind of activity: ${finding.activity}`;
    case 'scores-read-gate': {
      const { set, signal, gate, effect } = finding;
      const reader = signal === null ? `The entry condition of ${names.set(set)}` : `Signal “${names.signal(signal)}”`;
      const what = effect.kind === 'tag' ? `the tag ${effect.tag}` : names.field(effect.field);
      return `${reader} reads ${what}, which the gate “${names.gate(gate)}” changes: records are scored before they pass gates`;
    }
    case 'overlap': {
      const { counts, others } = finding;
      const all = AND_LIST.format([counts, ...others].map((key) => names.territory(key)));
      return `${groundWords(finding.ground, ownRegionsIn(wording.fields))} is covered by ${all}. Until one of them gives it up, it is ${names.territory(counts)}’s`;
    }
    case 'swallowed': {
      const ground = groundWords(finding.ground, ownRegionsIn(wording.fields));
      return `${names.territory(finding.territory)} lists ${ground}, which wider ground of its own includes`;
    }
    case 'territory-unused':
      return `No rule asks for the territory ${names.territory(finding.territory)}`;
    case 'nobody-can-take':
      return `Nobody to whom the route ${names.route(finding.route)} leads could ever take a lead: what it matches waits in the bay`;
    case 'empty-team':
      return `Nobody is in ${names.team(finding.team)}: what the route ${names.route(finding.route)} matches waits in the bay`;
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
