import { distinctKeys, key, list, object, oneOf, type Read, text } from '../../document/read-json';
import type { Stage } from '../../gate/gate';
import type { CharterPart } from './part';

const stage: Read<Stage> = object<Stage>({ key: key(), name: text({ most: 120 }), kind: oneOf(['open', 'out']) });

export const STAGES: CharterPart<'stages'> = {
  read: list(stage, { least: 1, most: 50 }),
  words: { items: { stages: 'stage' } },
  check(stages, _, spot) {
    distinctKeys(stages, spot);
  },
  names: (stages) => ({ stages }),
  changes(notes, before, after) {
    notes.each('Stage', before, after, ({ name, kind }) => (kind === 'out' ? `${name}, closes` : name));
    notes.order('Order of stages', before, after);
  },
};

export const ENTRY: CharterPart<'entry'> = {
  read: key(),
  words: { members: { entry: 'entry stage' } },
  check(entry, { stages }, spot) {
    if (!stages.some(({ key }) => key === entry)) spot.say(`no such stage: ${entry}`);
  },
  changes(notes, before, after, { names }) {
    notes.note('Entry stage', names.stage(before), names.stage(after));
  },
};
