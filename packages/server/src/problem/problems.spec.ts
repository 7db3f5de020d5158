import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { PROBLEMS } from './problems';

test('every problem has its place in docs/errors.md, with its status and title, and nothing else has one', () => {
  const page = readFileSync(join(__dirname, '../../../../docs/errors.md'), 'utf8');
  const written = [...page.matchAll(/^## (\S+)\n\n(\d+) · (.+)$/gm)].map(([, code, status, title]) => [
    code,
    Number(status),
    title,
  ]);
  expect(written).toEqual(Object.entries(PROBLEMS).map(([code, { status, title }]) => [code, status, title]));
});
