import type { Facts } from '../condition/facts';
import type { SkillAsk } from '../people/eligible';
import { fold } from '../record/fold';
import type { Value } from '../record/value';
import type { Route } from './route';

/** Skills from one list that a record requires; `words` is null where its field can't be read. */
export interface RecordSkill extends Omit<SkillAsk, 'words'> {
  readonly field: string;
  readonly words: readonly string[] | null;
}
export type RecordSkills = readonly RecordSkill[];

const NOTHING: RecordSkills = [];

/** The skills that a record asks for by a route: what is in the fields that are held against them. */
export function skillsAsked(route: Pick<Route, 'skills'>, facts: Pick<Facts, 'value'>): RecordSkills {
  const { skills = [] } = route;
  if (skills.length === 0) return NOTHING;
  return skills.flatMap(({ skill, field }): RecordSkill[] => {
    const words = wordsIn(facts.value(field));
    return words !== null && words.length === 0 ? [] : [{ skill, field, words }];
  });
}

/** The folded words of a value; null: it can't be read. */
function wordsIn(value: Value): readonly string[] | null {
  switch (value.kind) {
    case 'text':
      return [value.folded];
    case 'choices':
      return value.texts.map(fold);
    case 'unreadable':
      return null;
    default:
      return [];
  }
}
