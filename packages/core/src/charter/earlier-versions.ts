import { CHARTER_VERSION } from './charter';

type Json = Readonly<Record<string, unknown>>;

function isObject(json: unknown): json is Json {
  return typeof json === 'object' && json !== null && !Array.isArray(json);
}

/**
 * A charter as an earlier Relvik wrote it, in the form of today; all else comes back as it was.
 *
 * Version 1 had one score set, which admitted every record.
 */
export function fromEarlierVersion(json: unknown): unknown {
  if (!isObject(json) || json['version'] !== 1 || !('scoreSet' in json)) return json;
  const { scoreSet, ...rest } = json;
  return { ...rest, version: CHARTER_VERSION, scoreSets: [scoreSet] };
}
