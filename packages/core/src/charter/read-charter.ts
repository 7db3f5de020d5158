import { CONDITION_DEFINITIONS } from '../condition/read-condition';
import { type Problem, Spot } from '../document/problem';
import { JSON_SCHEMA, type JsonSchema, object } from '../document/read-json';
import { type Charter, CHARTER_VERSION } from './charter';
import { fromEarlierVersion, pathAsWritten } from './earlier-versions';
import type { CharterPart } from './part/part';
import { eachPart, partReaders } from './parts';

const charterForm = object<Charter>(partReaders());

/** The form of a charter as a JSON Schema. What its parts must be to each other is checked beside, by {@link readCharter}. */
export const CHARTER_SCHEMA: JsonSchema = {
  $schema: JSON_SCHEMA,
  title: `Relvik charter, version ${CHARTER_VERSION}`,
  description:
    'The form of a charter. What its parts must be to each other (ascending cuts, stages that exist, fields that suit their tests) is checked by `relvik check`.',
  ...charterForm.schema,
  $defs: CONDITION_DEFINITIONS,
};

export type CharterReading =
  { readonly ok: true; readonly charter: Charter } | { readonly ok: false; readonly problems: readonly Problem[] };

/**
 * Reads a charter from JSON, also one of an earlier version, and checks all that can be seen without knowing fields and
 * people.
 *
 * @returns the charter, or everything that is wrong, each with a JSON Pointer to the place
 */
export function readCharter(json: unknown): CharterReading {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const charter = charterForm(fromEarlierVersion(json), spot);
  // References make sense only in a document whose form is right.
  if (problems.length === 0)
    eachPart(<K extends keyof Charter>(key: K, part: CharterPart<K>) => {
      part.check?.(charter[key], charter, spot.at(key));
    });
  return problems.length === 0
    ? { ok: true, charter }
    : { ok: false, problems: problems.map((one) => ({ ...one, path: pathAsWritten(json, one.path) })) };
}
