import type { Surroundings } from '../people/world';
import { fieldName } from '../record/field';
import { type Named, namesFrom, type NameLists, type Names, namesOver, NO_NAMES } from '../wording/names';
import type { Charter } from './charter';
import type { CharterPart } from './part/part';
import { eachPart } from './parts';

const only = ({ key, name }: Named): Named => ({ key, name });

/** The names in a charter's parts. */
function ownNames(charter: Charter): Partial<NameLists> {
  const lists: Record<string, readonly Named[]> = {};
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    for (const [list, named] of Object.entries(part.names?.(charter[key]) ?? {})) lists[list] = named.map(only);
  });
  return lists;
}

/** The names in a charter, and in the world around it. */
export function nameListsOf(charter: Charter, world: Surroundings): NameLists {
  return {
    ...NO_NAMES,
    ...ownNames(charter),
    fields: [...world.fields.values()].map(({ key, name }) => ({ key, name: fieldName({ key, name }) })),
    reps: [...world.reps.values()].map(only),
    teams: [...world.teams.values()].map(only),
    queues: [...world.queues.values()].map(only),
    skills: [...(world.skills?.values() ?? [])].map(only),
    activities: [...world.kinds.values()].map(only),
  };
}

/** The names of a charter's own parts put over those known: a draft has parts that the charter in force lacks. */
export function withNamesOf(charter: Charter, known: Names): Names {
  return namesOver(ownNames(charter), known);
}

/** The names of a charter, and of the world around it. */
export function namesOf(charter: Charter, world: Surroundings): Names {
  return namesFrom(nameListsOf(charter, world));
}
