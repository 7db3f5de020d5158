import { type Ground, groundsOf } from '../territory/claims';
import { groundWords } from '../territory/ground-words';
import type { Territory } from '../territory/territory';
import type { Charter } from '../charter/charter';
import { takeGround } from '../charter/edit-territories';
import type { Condition } from '../condition/condition';
import type { Subject } from '../condition/subject';
import type { RouteKey, TerritoryKey } from '../record/keys';
import type { Stream } from '../route/stream';
import { groupDigits } from '../wording/subject-words';
import type { Wording } from '../wording/subject-words';
import { ownRegionsIn } from '../record/catalogue';
import type { Finding } from './finding';

/** A change to a charter after which a finding is gone. */
export interface Fix {
  /** An instruction: "Move it before Large deals". */
  readonly words: string;
  readonly apply: (charter: Charter) => Charter;
}

/**
 * A fix of a finding that the charter alone allows.
 *
 * @returns null: what is to be done is not for the tool to say, or lies outside the charter
 */
export function fixOf(
  finding: Finding,
  charter: Charter,
  { names, fields }: Pick<Wording, 'names' | 'fields'>,
): Fix | null {
  switch (finding.code) {
    case 'unusable':
    case 'territory-unused':
    case 'empty-team':
    case 'nobody-can-take':
      return null;
    case 'no-such-kind':
      return {
        words: 'Take the signal out',
        apply: ({ scoreSets, ...rest }) => ({
          ...rest,
          scoreSets: scoreSets.map((set) => ({
            ...set,
            signals: set.signals.filter(({ key }) => key !== finding.signal),
          })),
        }),
      };
    case 'scores-read-gate': {
      const { gate, effect } = finding;
      return {
        words: `Take it out of ${names.gate(gate)}`,
        apply: ({ gates, ...rest }) => ({
          ...rest,
          gates: gates.map((one) =>
            one.key === gate
              ? { ...one, effects: one.effects.filter((other) => JSON.stringify(other) !== JSON.stringify(effect)) }
              : one,
          ),
        }),
      };
    }
    case 'overlap': {
      const covers = charter.territories.list.filter(({ key }) => finding.others.includes(key)).flatMap(groundsOf);
      // Ranges that only cross have no ground of their own in common that could be taken from one.
      if (!covers.some((ground) => JSON.stringify(ground) === JSON.stringify(finding.ground))) return null;
      return {
        words: `Leave ${groundWords(finding.ground, ownRegionsIn(fields))} to ${names.territory(finding.counts)} alone`,
        apply: (changed) => withoutGround(changed, finding.ground, finding.others),
      };
    }
    case 'swallowed':
      return {
        words: `Take ${groundWords(finding.ground, ownRegionsIn(fields))} out of it`,
        apply: (changed) => takeGround(changed, finding.territory, finding.ground),
      };
    case 'route-never-reached': {
      const { stream, route, takenBy } = finding;
      if (takenBy === null)
        return {
          words: 'Take the route out',
          apply: inStream(stream, (routes) => routes.filter(({ key }) => key !== route)),
        };
      return takenBy === 'several'
        ? { words: 'Move it to the top', apply: inStream(stream, (routes) => moved(routes, route, routes[0]?.key)) }
        : {
            words: `Move it before ${names.route(takenBy)}`,
            apply: inStream(stream, (routes) => moved(routes, route, takenBy)),
          };
    }
    case 'gap-between-numbers': {
      const { stream, below, subject, from, to } = finding;
      const routes = charter.streams.find(({ key }) => key === stream)?.routes;
      const when = routes?.find(({ key }) => key === below)?.when;
      const wider = when && widened(when, subject, from, to);
      if (wider === undefined) return null;
      const numbers = from === to ? groupDigits(from) : `${groupDigits(from)} to ${groupDigits(to)}`;
      return {
        words: `Let ${names.route(below)} take ${numbers} too`,
        apply: inStream(stream, (all) => all.map((one) => (one.key === below ? { ...one, when: wider } : one))),
      };
    }
  }
}

type Routes = Stream['routes'];

function inStream(stream: string, change: (routes: Routes) => Routes): Fix['apply'] {
  return (charter) => ({
    ...charter,
    streams: charter.streams.map((one) => (one.key === stream ? { ...one, routes: change(one.routes) } : one)),
  });
}

/** The routes with one of them moved before another. */
function moved(routes: Routes, route: RouteKey, before: RouteKey | undefined): Routes {
  const rest = routes.filter(({ key }) => key !== route);
  const at = rest.findIndex(({ key }) => key === before);
  const own = routes.filter(({ key }) => key === route);
  return at < 0 ? routes : [...rest.slice(0, at), ...own, ...rest.slice(at)];
}

function withoutGround(charter: Charter, ground: Ground, others: readonly TerritoryKey[]): Charter {
  const isIt = (covers: Partial<Territory>): boolean =>
    groundsOf({ countries: [], regions: [], postalCodes: [], ...covers }).some(
      (one) => JSON.stringify(one) === JSON.stringify(ground),
    );
  const list = charter.territories.list.map((territory) =>
    others.includes(territory.key)
      ? {
          ...territory,
          countries: territory.countries.filter((country) => !isIt({ countries: [country] })),
          regions: territory.regions.filter((region) => !isIt({ regions: [region] })),
          postalCodes: territory.postalCodes.filter((codes) => !isIt({ postalCodes: [codes] })),
        }
      : territory,
  );
  return { ...charter, territories: { ...charter.territories, list } };
}

/**
 * A condition whose range on a subject, which ended before a gap, takes the gap in.
 *
 * @returns undefined: not exactly one range ends there outside of a "not"
 */
function widened(condition: Condition, subject: Subject, from: string, to: string): Condition | undefined {
  let changes = 0;
  const change = (part: Condition): Condition => {
    switch (part.test) {
      case 'all':
      case 'any':
        return { ...part, of: part.of.map(change) };
      case 'range':
        if (part.to === null || isAfter(part.to.at, from) || JSON.stringify(part.subject) !== JSON.stringify(subject))
          return part;
        changes += 1;
        return { ...part, to: { at: to, included: true } };
      default:
        return part;
    }
  };
  const changed = change(condition);
  return changes === 1 ? changed : undefined;
}

/** Whether an end of a range lies after another: numbers, or days as text. */
function isAfter(end: string, other: string): boolean {
  const [a, b] = [Number(end), Number(other)];
  return Number.isNaN(a) || Number.isNaN(b) ? end > other : a > b;
}
