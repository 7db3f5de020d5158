import type { Decider } from '../gate/gate';
import { conditionWords } from './condition-words';
import type { Names } from './names';
import type { Wording } from './subject-words';

/** The people whom a gate asks: "its owner, else team North". */
export function askedWords({ withoutOwner }: Extract<Decider, { kind: 'asks' }>, names: Names): string {
  switch (withoutOwner?.kind) {
    case undefined:
      return 'its owner';
    case 'team':
      return `its owner, else ${names.team(withoutOwner.team)}`;
    case 'queue':
      return `its owner, else ${names.queue(withoutOwner.queue)}`;
  }
}

/** The decider of a gate in words: "asks its owner, or Trial if Employees below 50". */
export function deciderWords(decider: Decider, wording: Wording): string {
  switch (decider.kind) {
    case 'rule':
      return 'by rule';
    case 'person':
      return 'a person only';
    case 'asks': {
      const others = decider.alternatives.map(
        ({ to, when }) => `, or ${wording.names.stage(to)} if ${conditionWords(when, wording)}`,
      );
      return `asks ${askedWords(decider, wording.names)}${others.join('')}`;
    }
  }
}
