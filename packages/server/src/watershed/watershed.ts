import type { Watershed, WatershedLink } from '@relvik/contracts';
import type { LeadGroup, SourceGroup, Tally } from './tally';

/** A place as the picture tells it: a team, a rep, a queue, the bay; null: not handed over, which it does not reach. */
function placeOf({ place, owner, queue }: LeadGroup, teamOf: ReadonlyMap<string, string>): string | null {
  switch (place) {
    case 'owner': {
      const team = teamOf.get(owner ?? '');
      return team === undefined ? `rep:${owner ?? ''}` : `team:${team}`;
    }
    case 'queue':
      return `queue:${queue ?? ''}`;
    case 'bay':
      return 'bay';
    default:
      return null;
  }
}

/**
 * How leads run from source through fit, stage and territory to people: counts between neighbours. Bands of several sets may have
 * one key: they are one to the eye.
 *
 * @param entering the stages in which routes act
 * @param teamOf the first team of each person
 */
export function watershedOf(
  { groups, sources }: Pick<Tally, 'groups' | 'sources'>,
  entering: ReadonlySet<string>,
  teamOf: ReadonlyMap<string, string>,
): Watershed {
  const links = new Map<string, WatershedLink>();
  const add = (from: string, to: string, { count }: LeadGroup | SourceGroup): void => {
    const key = JSON.stringify([from, to]);
    links.set(key, { from, to, count: (links.get(key)?.count ?? 0) + count });
  };
  for (const group of sources) add(`source:${group.source}`, `fit:${group.fitBand ?? ''}`, group);
  for (const group of groups) add(`fit:${group.fitBand ?? ''}`, `stage:${group.stage}`, group);
  const handedOver = groups.filter(({ stage }) => entering.has(stage));
  for (const group of handedOver) add(`stage:${group.stage}`, `territory:${group.territory ?? ''}`, group);
  for (const group of handedOver) {
    const to = placeOf(group, teamOf);
    if (to !== null) add(`territory:${group.territory ?? ''}`, to, group);
  }
  return { links: [...links.values()] };
}
