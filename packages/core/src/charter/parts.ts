import type { Read } from '../document/read-json';
import type { Charter } from './charter';
import { GATES } from './part/gates';
import type { CharterPart } from './part/part';
import { SCORE_SETS } from './part/score-sets';
import { BASE_CURRENCY, FORMAT, LAST_RESORT, NAME, TIME_ZONE, VERSION } from './part/setting';
import { PIPELINES } from './part/pipelines';
import { STREAMS } from './part/streams';
import { TERRITORIES } from './part/territories';
import { VERDICTS } from './part/verdicts';

type Parts = { readonly [K in keyof Charter]: CharterPart<K> };

/** The parts of a charter, in the order of the work. */
export const PARTS: Parts = {
  format: FORMAT,
  version: VERSION,
  name: NAME,
  timeZone: TIME_ZONE,
  baseCurrency: BASE_CURRENCY,
  pipelines: PIPELINES,
  verdicts: VERDICTS,
  scoreSets: SCORE_SETS,
  gates: GATES,
  territories: TERRITORIES,
  streams: STREAMS,
  lastResort: LAST_RESORT,
};

const KEYS = Object.keys(PARTS) as (keyof Charter)[];

/** Calls a function with each part and the member of the charter that holds it. */
export function eachPart(visit: <K extends keyof Charter>(key: K, part: CharterPart<K>) => void): void {
  for (const key of KEYS) visit(key, PARTS[key] as CharterPart<typeof key>);
}

/** The reader of each member. */
export function partReaders(): { readonly [K in keyof Charter]-?: Read<Charter[K]> } {
  const readers = KEYS.map((key) => [key, PARTS[key].read] as const);
  return Object.fromEntries(readers) as unknown as { readonly [K in keyof Charter]-?: Read<Charter[K]> };
}
