import type { Spot } from '../document/problem';
import { key, list, number, object, orElse, orNull, type Read, refined, text, yesNo } from '../document/read-json';
import { isDay } from '../record/day';
import { fold } from '../record/fold';
import type { Day, TeamKey } from '../record/keys';
import type { Queue, Rep, RepSkill, SkillList, Team } from './people';
import { readDaysOff, readWorkHours } from './read-hours';

const name = text({ most: 120 });

/** The public holidays of a place, such as `NO` or `DE-BY`. */
export interface PlaceHolidays {
  readonly place: string;
  readonly days: readonly Day[];
}

export const readRep: Read<Rep> = object<Rep>(
  {
    key: key(),
    name,
    mayTakeLeads: orElse(yesNo, true),
    limit: orNull(number({ least: 0, most: 100_000 })),
    weight: orElse<number | undefined>(number({ least: 0.01, most: 100, decimals: 2 }), undefined),
    hours: orElse<Rep['hours']>(orNull(readWorkHours), undefined),
    holidaysOf: orElse<Rep['holidaysOf']>(orNull(text({ most: 20 })), undefined),
    daysOff: orElse<Rep['daysOff']>(list(readDaysOff, { most: 1000 }), undefined),
    away: orElse<boolean | undefined>(yesNo, undefined),
    skills: orElse<Rep['skills']>(
      list(object<RepSkill>({ skill: key(), has: list(text({ most: 120 }), { most: 500 }) }), { most: 50 }),
      undefined,
    ),
  },
  ['mayTakeLeads', 'limit', 'weight', 'hours', 'holidaysOf', 'daysOff', 'away', 'skills'],
);

export const readTeam: Read<Team> = object<Team>(
  {
    key: key(),
    name,
    members: list(key()),
    parent: orElse<Team['parent']>(orNull(key<TeamKey>()), undefined),
    paused: orElse<boolean | undefined>(yesNo, undefined),
    hours: orElse<Team['hours']>(orNull(readWorkHours), undefined),
  },
  ['parent', 'paused', 'hours'],
);
export const readSkillList: Read<SkillList> = object<SkillList>({
  key: key(),
  name,
  words: list(text({ most: 120 }), { most: 500 }),
});
export const readHolidays: Read<PlaceHolidays> = refined(
  object<PlaceHolidays>({ place: text({ most: 20 }), days: list(text()) }),
  ({ days }, spot) => {
    days.forEach((day, i) => {
      if (!isDay(day)) spot.at('days').at(i).say('is not a day written YYYY-MM-DD');
    });
  },
);
export const readQueue: Read<Queue> = object<Queue>({ key: key(), name, members: orElse(list(key()), []) }, [
  'members',
]);

/** Skills are words of their lists, and teams lie inside teams that are there, in no circle. */
export function checkSkillsAndTeams(
  {
    reps,
    teams,
    skills = [],
  }: {
    readonly reps: readonly Rep[];
    readonly teams: readonly Team[];
    readonly skills?: readonly SkillList[];
  },
  spot: Spot,
): void {
  reps.forEach((one, i) => {
    (one.skills ?? []).forEach(({ skill, has }, j) => {
      const at = spot.at('reps').at(i).at('skills').at(j);
      const known = skills.find(({ key }) => key === skill);
      if (known === undefined) at.at('skill').say(`no such list of skills: ${skill}`);
      const words = new Set(known?.words.map(fold));
      has.forEach((word, k) => {
        if (known !== undefined && !words.has(fold(word))) at.at('has').at(k).say(`is not in the list: ${word}`);
      });
    });
  });
  const parents = new Map(teams.map(({ key, parent = null }) => [key, parent]));
  teams.forEach(({ key, parent }, i) => {
    const at = spot.at('teams').at(i).at('parent');
    if (parent != null && !parents.has(parent)) at.say(`no such team: ${parent}`);
    const above = new Set<TeamKey>();
    for (let up = parent ?? null; up !== null && !above.has(up); up = parents.get(up) ?? null) above.add(up);
    if (above.has(key)) at.say('lies inside itself');
  });
}
