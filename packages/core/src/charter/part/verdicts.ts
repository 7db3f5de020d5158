import { list, object, oneOf, orElse, text } from '../../document/read-json';
import { RECIPIENTS, type Verdict, VERDICT_KEYS } from '../../grade/verdict';
import type { CharterPart } from './part';

export const VERDICTS: CharterPart<'verdicts'> = {
  read: list(
    object<Verdict>(
      { key: oneOf(VERDICT_KEYS), name: text({ most: 120 }), notify: orElse(list(oneOf(RECIPIENTS), { most: 3 }), []) },
      ['notify'],
    ),
  ),
  words: { items: { verdicts: 'verdict' } },
  check(verdicts, _, spot) {
    for (const verdict of VERDICT_KEYS) {
      const named = verdicts.filter(({ key }) => key === verdict).length;
      if (named !== 1) spot.say(`must name ${verdict} once`);
    }
    verdicts.forEach(({ notify }, i) => {
      if (new Set(notify).size < notify.length) spot.at(i).at('notify').say('names someone twice');
    });
  },
  names: (verdicts) => ({ verdicts }),
  changes(notes, before, after) {
    notes.each('Verdict', before, after, ({ name, notify }) =>
      [name, ...notify.map((one) => `notify ${one}`)].join(', '),
    );
  },
};
