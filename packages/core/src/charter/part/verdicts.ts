import { list, object, oneOf, text } from '../../document/read-json';
import { type Verdict, VERDICT_KEYS } from '../../grade/verdict';
import type { CharterPart } from './part';

export const VERDICTS: CharterPart<'verdicts'> = {
  read: list(object<Verdict>({ key: oneOf(VERDICT_KEYS), name: text({ most: 120 }) })),
  words: { items: { verdicts: 'verdict' } },
  check(verdicts, _, spot) {
    for (const verdict of VERDICT_KEYS) {
      const named = verdicts.filter(({ key }) => key === verdict).length;
      if (named !== 1) spot.say(`must name ${verdict} once`);
    }
  },
  names: (verdicts) => ({ verdicts }),
  changes(notes, before, after) {
    notes.each('Verdict', before, after, ({ name }) => name);
  },
};
