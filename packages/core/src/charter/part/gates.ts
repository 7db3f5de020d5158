import { bindCondition } from '../../condition/bind-condition';
import { readCondition } from '../../condition/read-condition';
import { distinctKeys, key, list, number, object, orElse, type Read, text, yesNo } from '../../document/read-json';
import { conditionOf, filledTest, type Gate, leastTest, lookKey } from '../../gate/gate';
import type { ReadyCondition } from '../../condition/ready';
import { stagesOf } from '../../gate/pipeline';
import type { ReadyGate } from '../../gate/pass-gates';
import { conditionWords } from '../../wording/condition-words';
import type { CharterPart } from './part';

const MOST_REQUIRED = 20;
const MOST_DAYS = 3650;

const gate: Read<Gate> = object<Gate>(
  {
    ...{ key: key(), name: text({ most: 120 }), from: key(), to: key(), on: orElse(yesNo, true), when: readCondition },
    requiredFields: orElse(list(text({ most: 100 }), { most: MOST_REQUIRED }), []),
    minDays: orElse(number({ least: 0, most: MOST_DAYS }), 0),
  },
  ['on', 'requiredFields', 'minDays'],
);

export const GATES: CharterPart<'gates'> = {
  read: list(gate, { most: 500 }),
  words: { items: { gates: 'gate' } },
  check(gates, charter, spot) {
    distinctKeys(gates, spot);
    const stages = stagesOf(charter, 'lead');
    gates.forEach(({ from, to, requiredFields }, i) => {
      const at = spot.at(i);
      for (const end of ['from', 'to'] as const) {
        const stage = end === 'from' ? from : to;
        if (!stages.some(({ key }) => key === stage)) at.at(end).say(`no such stage: ${stage}`);
      }
      if (stages.find(({ key }) => key === from)?.kind === 'out')
        at.at('from').say(`is a stage that closes: by rule nothing leads out of it: ${from}`);
      if (new Set(requiredFields).size < requiredFields.length) at.at('requiredFields').say('names a field twice');
      if (from === to) at.at('to').say('leads back to the stage it comes from');
    });
  },
  bind: (gates, { scope }, spot) => ({
    gates: gates.map((one, i): ReadyGate => {
      const [own, at] = [scope('gate', 'lead'), spot.at(i)];
      const when = bindCondition(one.when, own, at.at('when'));
      const filled = one.requiredFields.map((field, n) =>
        bindCondition(filledTest(field), own, at.at('requiredFields').at(n)),
      );
      const time = one.minDays === 0 ? [] : [bindCondition(leastTest(one.minDays), own, at.at('minDays'))];
      const more = [...filled, ...time];
      const ready: ReadyCondition = more.length === 0 ? when : { kind: 'all', of: [when, ...more] };
      return { ...one, look: lookKey(one), ready, asks: { when, filled } };
    }),
  }),
  *conditions(gates) {
    for (const gate of gates) yield { of: 'lead', condition: conditionOf(gate) };
  },
  names: (gates) => ({ gates }),
  changes(notes, before, after, wording) {
    const { names } = wording;
    notes.each('Gate', before, after, ({ from, to, on, ...asking }) => {
      const way = `${names.stage(from)} → ${names.stage(to)}`;
      return `${way} when ${conditionWords(conditionOf(asking), wording)}${on ? '' : ', off'}`;
    });
  },
};
