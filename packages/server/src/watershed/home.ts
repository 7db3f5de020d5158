import type { Home } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import { readGoverning } from '../store/governing';
import type { Sight } from '../session/sight';
import type { User } from '../session/session-store';
import { TeamMemberEntity } from '../store/entity/people.entity';
import { attentionOf } from './attention';
import type { Counted } from './kept-count';
import { noticesFor } from './notices';
import { countOf, countsBy, groupsSeen, type Tally } from './tally';
import { watershedOf } from './watershed';

/** Counts so old are as good as new ones, ms. */
const RECENT = 10_000;

/** The counts and news of the home page, over what the user sees. */
export async function homeOf(
  manager: EntityManager,
  { value: tally, asOf }: Counted<Tally>,
  sight: Sight,
  user: User,
  now: Date,
): Promise<Home> {
  const { ready } = await readGoverning(manager, 'none');
  const { charter } = ready;
  const all = groupsSeen(tally.groups, sight);
  const sources = groupsSeen(tally.sources, sight);
  const open = all.filter(({ status }) => status === 'open');
  // From the gates on the course counts those that reached a stage in which routes act.
  const entering = new Set<string>(charter.streams.flatMap((stream) => stream.entering));
  const passed = all.filter(({ stage }) => entering.has(stage));
  const scored = countOf(all.filter((group) => group.scored));
  const members = await manager.find(TeamMemberEntity, { order: { team: 'ASC' } });
  const teamOf = new Map([...members].reverse().map(({ person, team }) => [person, team]));
  return {
    asOf: now.getTime() - asOf < RECENT ? null : asOf,
    watershed: watershedOf({ groups: all, sources }, entering, teamOf),
    course: {
      intake: countOf(all),
      score: scored,
      grade: scored,
      gates: countOf(passed),
      territories: countOf(passed.filter(({ territory }) => territory !== null)),
      routes: countOf(passed.filter(({ routed }) => routed)),
      people: countOf(passed.filter(({ place }) => place === 'owner')),
    },
    attention: await attentionOf(manager, open, tally.heldBack, entering, sight, user, charter, now),
    others: sight.all ? tally.others : null,
    byStatus: countsBy(all, ({ status }) => status).map(({ key, count }) => ({ status: key, count })),
    byStage: countsBy(open, ({ stage }) => stage).map(({ key, count }) => ({ stage: key, count })),
    byTerritory: countsBy(open, ({ territory }) => territory).map(({ key, count }) => ({ territory: key, count })),
    bySource: countsBy(sources, ({ source }) => source).map(({ key, count }) => ({ source: key, count })),
    notices: await noticesFor(manager, sight, user),
  };
}
