import { unjudgedFields } from '../condition/explain';
import type { Gate } from '../gate/gate';
import type { GateLook } from '../gate/pass-gates';
import type { StageKey } from '../record/keys';
import type { Wording } from '../wording/subject-words';
import { firstReason } from './decision-words';

/** A gate that could move a record on from where it stands, and the first thing that stands in the way. */
export interface Obstacle {
  readonly gate: string;
  readonly to: StageKey;
  readonly words: string;
}

/**
 * Why a record has not moved: each gate that leads out of its stage, in the order in which they are asked.
 *
 * @param looked what the gates would see if something happened to the record now
 * @param stage where it stands
 * @param gates those of the charter in force
 */
export function obstaclesOf(
  looked: readonly GateLook[],
  stage: StageKey,
  gates: readonly Gate[],
  wording: Wording,
): Obstacle[] {
  return gates
    .filter(({ on, from }) => on && from === stage)
    .map(({ key, to, decider }) => {
      const look = looked.find(({ gate }) => gate === key);
      return {
        gate: key,
        to,
        words: look === undefined ? notAsked(looked) : wordsOf(look, decider.kind === 'asks', wording),
      };
    });
}

function notAsked(looked: readonly GateLook[]): string {
  return looked.some(({ answer }) => answer === 'moves')
    ? 'is not asked: one above it acts first'
    : 'is not asked: one above it can’t be judged';
}

function wordsOf({ answer, account }: GateLook, asks: boolean, wording: Wording): string {
  switch (answer) {
    case 'asks':
      return 'holds, and asks a person when next something happens';
    case 'for-a-person':
      return 'holds, and is for a person to decide';
    case 'was-true':
      return asks
        ? 'has asked a person: it asks again once it has been false in between'
        : 'held already at the last look: it acts once it has been false in between';
    case 'moves':
    case 'held-before':
    case 'only-looked':
      return `holds, and ${asks ? 'asks a person' : 'acts'} when next something happens`;
    case 'unjudged': {
      const fields = [...unjudgedFields(account)].map((field) => wording.names.field(field));
      return `can’t be judged: ${fields.join(', ')}`;
    }
    case 'waits-for-field':
    case 'waits-for-time':
      // The condition itself holds; what is asked beside it comes after.
      return account.test === 'all'
        ? `waits: ${firstReason({ ...account, of: account.of.slice(1) }, wording)}`
        : firstReason(account, wording);
    case 'no':
      return `does not hold: ${firstReason(account, wording)}`;
  }
}
