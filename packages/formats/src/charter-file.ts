import { type Charter, type Problem, readCharter } from '@relvik/core';
import { compare, type Operation } from 'fast-json-patch';

/** A charter as a file that says by itself whether it is whole. */
export interface CharterFile {
  readonly format: 'relvik-charter-file';
  readonly version: 1;
  /** `sha256:` and the digest, in hexadecimal, of the charter's canonical JSON. */
  readonly checksum: string;
  readonly charter: Charter;
}

/** SHA-256 of a text, in hexadecimal: Node and the browser have each their own. */
export type Digest = (text: string) => string;

/** JSON with the members of every object in order of their names and no white space: equal charters are equal texts. */
export function canonicalJson(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalJson).join(',')}]`;
  if (value === undefined) return 'null';
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const members = Object.entries(value)
    .filter(([, member]) => member !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, member]) => `${JSON.stringify(name)}:${canonicalJson(member)}`);
  return `{${members.join(',')}}`;
}

/** A charter as a file. */
export function charterFile(charter: Charter, digest: Digest): CharterFile {
  return { format: 'relvik-charter-file', version: 1, checksum: `sha256:${digest(canonicalJson(charter))}`, charter };
}

export type CharterFileReading =
  { readonly ok: true; readonly charter: Charter } | { readonly ok: false; readonly problems: readonly Problem[] };

function refused(path: string, message: string): CharterFileReading {
  return { ok: false, problems: [{ path, message }] };
}

/** Reads a file made by {@link charterFile}, or a charter as bare JSON; says what is wrong and where. */
export function readCharterFile(text: string, digest: Digest): CharterFileReading {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return refused('', `is no JSON, or cut off: ${error instanceof Error ? error.message : ''}`);
  }
  if (typeof json !== 'object' || json === null) return refused('', 'is no charter');
  if (!('format' in json) || json.format !== 'relvik-charter-file') return readCharter(json);
  if (!('version' in json) || json.version !== 1)
    return refused('/version', 'must be 1, the version this Relvik reads');
  const known = ['format', 'version', 'checksum', 'charter'];
  const unknown = Object.keys(json).find((name) => !known.includes(name));
  if (unknown !== undefined) return refused(`/${unknown}`, 'is not known here');
  const charter: unknown = 'charter' in json ? json.charter : undefined;
  const checksum = `sha256:${digest(canonicalJson(charter))}`;
  if (!('checksum' in json) || json.checksum !== checksum)
    return refused('/checksum', 'does not fit the charter: the file was changed or cut off since it was exported');
  const reading = readCharter(charter);
  return reading.ok
    ? reading
    : { ok: false, problems: reading.problems.map(({ path, message }) => ({ path: `/charter${path}`, message })) };
}

/** What leads from one charter to another, as a JSON Patch (RFC 6902). */
export function charterPatch(from: Charter, to: Charter): Operation[] {
  return compare(from, to);
}
