import type { GateRun } from '../gate/pass-gates';
import type { Occasion } from '../record/occasion';

/** How an occasion treats gates and routes. */
export interface OccasionRules {
  /** The gates that are asked. */
  readonly gates: GateRun;
  /** Routes are asked although gates are not. */
  readonly routedWithoutGates: boolean;
  /** Routes are asked as if the record were nowhere yet: it does not stay because it is where its route led it. */
  readonly fromTheStart: boolean;
  /** Someone's word: routes are asked whatever has the record, and streams give it away that otherwise do so only when they run. */
  readonly byWord: boolean;
  /** It is given on although it is where its route led it: a person says so, or did not in time. */
  readonly byPerson: boolean;
}

const USUAL: OccasionRules = {
  ...{ gates: 'on what became true', routedWithoutGates: false },
  ...{ fromTheStart: false, byWord: false, byPerson: false },
};
const WITHOUT_GATES: OccasionRules = { ...USUAL, gates: 'no' };

/** One row for each occasion. */
export const OCCASION_RULES: Readonly<Record<Occasion, OccasionRules>> = {
  created: USUAL,
  joined: USUAL,
  edited: USUAL,
  activity: USUAL,
  time: { ...USUAL, gates: 'by time' },
  'tie-changed': USUAL,
  freed: USUAL,
  moved: USUAL,
  accepted: USUAL,
  enacted: WITHOUT_GATES,
  regated: USUAL,
  rerouted: { ...USUAL, fromTheStart: true },
  'handed-on': { ...USUAL, fromTheStart: true, byWord: true, byPerson: true },
  given: { ...WITHOUT_GATES, byPerson: true },
  scheduled: { ...WITHOUT_GATES, routedWithoutGates: true },
  overdue: { ...WITHOUT_GATES, byPerson: true },
  'given-back': { ...WITHOUT_GATES, routedWithoutGates: true, fromTheStart: true, byWord: true },
  'looked-at': { ...WITHOUT_GATES, fromTheStart: true },
};
