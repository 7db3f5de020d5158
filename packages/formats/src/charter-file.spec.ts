import { type Charter, readCharter } from '@relvik/core';
import { applyPatch } from 'fast-json-patch';
import fc from 'fast-check';
import { createHash } from 'node:crypto';
import { SMALL_CHARTER } from '../../core/src/charter/charter.fixture';
import { charter as anyCharter } from '../../core/src/sweep/sweep.fixture';
import { canonicalJson, charterFile, charterPatch, readCharterFile } from './charter-file';

const digest = (text: string): string => createHash('sha256').update(text).digest('hex');
const reading = readCharter(SMALL_CHARTER);
const SMALL = (reading.ok ? reading.charter : null) as Charter;

test('a charter comes back from its file, whatever the order and layout of its JSON', () => {
  fc.assert(
    fc.property(anyCharter, ({ charter }) => {
      const file = charterFile(charter, digest);
      expect(readCharterFile(JSON.stringify(file, null, 3), digest)).toEqual({ ok: true, charter });
      expect(readCharterFile(canonicalJson(file), digest)).toEqual({ ok: true, charter });
    }),
    { numRuns: 40 },
  );
});

test.each<[string, (text: string) => string, string]>([
  ['cut off', (text) => text.slice(0, -40), ''],
  ['of another version', (text) => text.replace('"version":1', '"version":2'), '/version'],
  ['changed in one number', (text) => text.replace('"points":60', '"points":61'), '/checksum'],
  ['with an unknown member', (text) => text.replace('"version":1', '"version":1,"colour":"red"'), '/colour'],
  ['not an object', () => '[]', ''],
  ['a bare charter of another version', () => JSON.stringify({ ...SMALL, version: 9 }), '/version'],
])('a file that is %s is refused at its place', (_, change, path) => {
  const answer = readCharterFile(change(JSON.stringify(charterFile(SMALL, digest))), digest);
  expect(answer.ok ? [] : answer.problems.map((problem) => problem.path)).toContain(path);
});

test('nesting without end is refused, and a bare charter is read', () => {
  let when: object = { test: 'all', of: [] };
  for (let i = 0; i < 3000; i += 1) when = { test: 'not', of: when };
  const deep = { ...SMALL, gates: [{ ...SMALL.gates[0], when }] };
  expect(readCharterFile(JSON.stringify(deep), digest).ok).toBe(false);
  expect(readCharterFile(JSON.stringify(SMALL), digest)).toEqual({ ok: true, charter: SMALL });
});

// RFC 6902: applying the patch to the one document gives the other; the library's own tests are the standard's suite.
test('the patch between two charters leads from one to the other', () => {
  fc.assert(
    fc.property(anyCharter, anyCharter, ({ charter: from }, { charter: to }) => {
      // As from a file: no part of it is shared between two places.
      const copy = JSON.parse(JSON.stringify(from)) as Charter;
      expect(applyPatch(copy, charterPatch(from, to), true).newDocument).toEqual(to);
    }),
    { numRuns: 40 },
  );
});
