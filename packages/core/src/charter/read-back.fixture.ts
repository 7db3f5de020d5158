import type { Charter } from './charter';
import { readCharter } from './read-charter';

/** The charter itself, which is only good if it can be read back. */
export function readBack(charter: Charter): Charter {
  const again = readCharter(JSON.parse(JSON.stringify(charter)));
  if (!again.ok) throw new Error(JSON.stringify(again.problems));
  expect(again.charter).toEqual(charter);
  return charter;
}
