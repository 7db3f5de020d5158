import { type Charter, type Field, readCharter } from '@relvik/core';
import { SMALL_CHARTER as JSON_CHARTER, SMALL_WORLD } from '../../../core/src/charter/charter.fixture';

export type { Charter, Field };
export { SMALL_WORLD };

/** The small charter of core's tests. Here filled leads are good from the start: a brewery alone is worth handing over. */
export const SMALL_CHARTER: Charter = (() => {
  const json = structuredClone(JSON_CHARTER);
  json.scoreSets[0]!.grid.cells = [
    ['no-action', 'no-action'],
    ['hand-over', 'hand-over'],
    ['hand-over', 'hand-over-now'],
  ];
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
})();
