import type { Charter } from '../charter/charter';
import { placeInCharter } from '../charter/charter-place';
import { bindCharter } from '../charter/ready-charter';
import { coverageOf } from '../territory/coverage';
import { membersAt } from '../route/choose';
import type { RepKey } from '../record/keys';
import type { Finding } from './finding';
import { swallowedIn, unusedTerritories } from './idle-ground';
import { overlapsIn } from './overlap';
import { scoresReadingGates } from './scores-and-gates';

/** The things around a charter that it may name. */
type Surroundings = Parameters<typeof bindCharter>[1];

/**
 * The findings of a charter, without those of a search of its routes: errors, which keep it from coming into force, and
 * warnings.
 */
export function charterFindings(charter: Charter, around: Surroundings): readonly Finding[] {
  const coverage = coverageOf(charter.territories.list);
  return [
    ...unusable(charter, around),
    ...missingKinds(charter, around),
    ...scoresReadingGates(charter),
    ...overlapsIn(charter, coverage),
    ...swallowedIn(charter, coverage),
    ...unusedTerritories(charter),
    ...nobodyCanTake(charter, around),
    ...emptyTeams(charter, around),
  ];
}

/** Whether a finding keeps a charter from coming into force. */
export function isError({ severity }: Finding): boolean {
  return severity === 'error';
}

function unusable(charter: Charter, around: Surroundings): Finding[] {
  const binding = bindCharter(charter, around);
  if (binding.ok) return [];
  return binding.problems.map(({ path, message }) => ({
    code: 'unusable',
    severity: 'error',
    place: placeInCharter(charter, path),
    message,
  }));
}

/** Signals for kinds of activities that do not exist. They give no points, so that a charter in force goes on without them. */
function missingKinds(charter: Charter, { kinds }: Surroundings): Finding[] {
  return charter.scoreSets.flatMap(({ key: set, signals }) =>
    signals.flatMap((signal): Finding[] =>
      signal.kind === 'activity' && !kinds.has(signal.activity)
        ? [{ code: 'no-such-kind', severity: 'error', set, signal: signal.key, activity: signal.activity }]
        : [],
    ),
  );
}

/** Routes to people of whom none may take leads, or who lack a whole list of skills that the route asks for. */
function nobodyCanTake(charter: Charter, people: Surroundings): Finding[] {
  const could = (key: RepKey, lists: readonly string[]): boolean => {
    const rep = people.reps.get(key);
    if (rep === undefined || !rep.mayTakeLeads || rep.limit === 0) return false;
    return lists.every((list) => (rep.skills ?? []).some(({ skill, has }) => skill === list && has.length > 0));
  };
  return charter.streams.flatMap(({ key: stream, routes }) =>
    routes.flatMap(({ key: route, on, to, skills = [] }): Finding[] => {
      const { reps } = membersAt(to, people);
      const lists = skills.map(({ skill }) => skill);
      return on && (reps.length > 0 || to.kind === 'skilled') && !reps.some((rep) => could(rep, lists))
        ? [{ code: 'nobody-can-take', severity: 'warning', stream, route }]
        : [];
    }),
  );
}

function emptyTeams(charter: Charter, { teams }: Surroundings): Finding[] {
  return charter.streams.flatMap(({ key: stream, routes }) =>
    routes.flatMap(({ key: route, to }): Finding[] =>
      (to.kind === 'team' || to.kind === 'handed-on') && teams.get(to.team)?.members.length === 0
        ? [{ code: 'empty-team', severity: 'warning', stream, route, team: to.team }]
        : [],
    ),
  );
}
