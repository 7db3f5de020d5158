import { list, object, oneOf, orElse, text } from '../../document/read-json';
import { TELLS, type Verdict, VERDICT_KEYS } from '../../grade/verdict';
import type { CharterPart } from './part';

export const VERDICTS: CharterPart<'verdicts'> = {
  read: list(
    object<Verdict>(
      { key: oneOf(VERDICT_KEYS), name: text({ most: 120 }), tells: orElse(list(oneOf(TELLS), { most: 3 }), []) },
      ['tells'],
    ),
  ),
  words: { items: { verdicts: 'verdict' } },
  check(verdicts, _, spot) {
    for (const verdict of VERDICT_KEYS) {
      const named = verdicts.filter(({ key }) => key === verdict).length;
      if (named !== 1) spot.say(`must name ${verdict} once`);
    }
    verdicts.forEach(({ tells }, i) => {
      if (new Set(tells).size < tells.length) spot.at(i).at('tells').say('names someone twice');
    });
  },
  names: (verdicts) => ({ verdicts }),
  changes(notes, before, after) {
    notes.each('Verdict', before, after, ({ name, tells }) => [name, ...tells.map((one) => `tells ${one}`)].join(', '));
  },
};
