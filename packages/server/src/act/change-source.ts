import type { Origin } from '@relvik/core';
import { type Cause, handOf } from './cause';
import type { Hand } from './hand';
import { byCause } from './history';

/** The cause and time of a change of a contact, company or deal, and the origin that its values get. */
export interface ChangeSource {
  readonly cause: Cause;
  readonly at: Date;
  readonly origin: Origin;
}

export function handSource({ user, at }: Hand): ChangeSource {
  return { cause: handOf(user), at, origin: 'hand' };
}

/** The columns of a line of the history that all its lines share. */
export function lineBy(record: number, { cause, at }: Pick<ChangeSource, 'cause' | 'at'>) {
  return { ...byCause(cause), record, reason: null, at };
}

export function lineOf(record: number, hand: Hand) {
  return lineBy(record, handSource(hand));
}
