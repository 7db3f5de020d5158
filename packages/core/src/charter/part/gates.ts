import { bindCondition } from '../../condition/bind-condition';
import { readCondition } from '../../condition/read-condition';
import { distinctKeys, key, list, object, orElse, type Read, text, yesNo } from '../../document/read-json';
import { type Gate, lookKey } from '../../gate/gate';
import { stagesOf } from '../../gate/pipeline';
import type { ReadyGate } from '../../gate/pass-gates';
import { conditionWords } from '../../wording/condition-words';
import type { CharterPart } from './part';

const gate: Read<Gate> = object<Gate>(
  { key: key(), name: text({ most: 120 }), from: key(), to: key(), on: orElse(yesNo, true), when: readCondition },
  ['on'],
);

export const GATES: CharterPart<'gates'> = {
  read: list(gate, { most: 500 }),
  words: { items: { gates: 'gate' } },
  check(gates, charter, spot) {
    distinctKeys(gates, spot);
    const stages = stagesOf(charter, 'lead');
    gates.forEach(({ from, to }, i) => {
      const at = spot.at(i);
      for (const end of ['from', 'to'] as const) {
        const stage = end === 'from' ? from : to;
        if (!stages.some(({ key }) => key === stage)) at.at(end).say(`no such stage: ${stage}`);
      }
      if (stages.find(({ key }) => key === from)?.kind === 'out')
        at.at('from').say(`is a stage that closes: by rule nothing leads out of it: ${from}`);
      if (from === to) at.at('to').say('leads back to the stage it comes from');
    });
  },
  bind: (gates, { scope }, spot) => ({
    gates: gates.map((one, i): ReadyGate => ({
      ...one,
      look: lookKey(one),
      ready: bindCondition(one.when, scope('gate', 'lead'), spot.at(i).at('when')),
    })),
  }),
  *conditions(gates) {
    for (const { when } of gates) yield { of: 'lead', condition: when };
  },
  names: (gates) => ({ gates }),
  changes(notes, before, after, wording) {
    const { names } = wording;
    notes.each('Gate', before, after, ({ from, to, when, on }) => {
      const way = `${names.stage(from)} → ${names.stage(to)}`;
      return `${way} when ${conditionWords(when, wording)}${on ? '' : ', off'}`;
    });
  },
};
