import { ChangeNotes, type CharterChange } from '../wording/change-notes';
import type { Wording } from '../wording/subject-words';
import type { Charter } from './charter';
import type { CharterPart } from './part/part';
import { eachPart } from './parts';

/** The differences between two charters, part by part: points, signals, cuts, verdicts, gates, routes, their order and targets. */
export function changesBetween(before: Charter, after: Charter, wording: Wording): CharterChange[] {
  const notes = new ChangeNotes();
  eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
    part.changes?.(notes, before[key], after[key], wording);
  });
  // A draft has a name of its own: that alone changes nothing.
  if (notes.changes.length === 0 && JSON.stringify(before) !== JSON.stringify({ ...after, name: before.name }))
    notes.note('Names and order', 'as in force', 'changed without any effect on a decision');
  return notes.changes;
}
