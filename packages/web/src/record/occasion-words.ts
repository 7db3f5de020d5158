import type { Occasion } from '@relvik/core';

const OCCASION_WORDS: { readonly [O in Occasion]: string } = {
  created: 'when it came in',
  joined: 'when an inquiry joined it',
  edited: 'after an edit',
  activity: 'after something they did',
  'tie-changed': 'when its company or contact changed',
  time: 'as time passed',
  moved: 'when someone moved it by hand',
  accepted: 'when someone took the rule’s pick',
  'handed-on': 'when someone let the routes choose again',
  given: 'when someone gave it away',
  scheduled: 'when its stream ran',
  'given-back': 'when its owner gave it back',
  overdue: 'when its manager had not handed it on in time',
  freed: 'when someone was free',
  enacted: 'when the charter came into force',
  regated: 'when the charter came into force, gates too',
  rerouted: 'when the charter came into force, gates and routes too',
  'looked-at': 'as it would be now',
};

/** On what occasion something was decided. */
export function occasionWords(occasion: Occasion): string {
  return OCCASION_WORDS[occasion];
}
