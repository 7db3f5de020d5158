import type { TeamWeek, WeekMember, WeekQuery } from '@relvik/contracts';
import { calendarOf, hoursOf, membersOfTeam, nextInTurn, type RepKey, type TeamKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import type { Sight } from '../session/sight';
import { readGoverning } from '../store/governing';
import { peekRota } from '../store/rota';

/** Working time, load and turns of the members of a team who may take leads; members of teams inside it are not among them. */
export async function weekOf(
  manager: EntityManager,
  { team, from, to }: WeekQuery,
  sight: Sight,
  now: Date,
): Promise<TeamWeek> {
  const { world, ready } = await readGoverning(manager, 'none');
  const found = world.teams.get(team as TeamKey);
  if (found === undefined || !(sight.all || sight.leads.includes(team))) throw Refused.notFound();
  const rota = await peekRota(manager);
  const at = now.getTime();
  const next = [...nextInTurn(ready.rules.lead.streams, world, rota, at)];
  const members = membersOfTeam(found.key, false, world).reps.flatMap((key: RepKey): WeekMember[] => {
    const rep = world.reps.get(key);
    if (rep?.mayTakeLeads !== true) return [];
    const calendar = calendarOf(rep, world);
    const works = calendar.isWorking(at);
    return [
      {
        ...{ key, away: rep.away === true, zone: hoursOf(rep, world)?.timeZone ?? null },
        stretches: calendar.stretches(from, to),
        daysOff: rep.daysOff ?? [],
        worksNow: works,
        backAt: works ? null : calendar.nextStart(at),
        open: rota.loads.get(key) ?? 0,
        limit: rep.limit,
        next: next.flatMap(([route, who]) => (who === key ? [route] : [])),
      },
    ];
  });
  return { team: found.key, paused: found.paused === true, now: at, members };
}
