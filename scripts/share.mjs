// Prints the share of tests: lines of *.spec.ts and e2e/ over all .ts .html .scss lines, without blanks and comments.
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';

const files = execFileSync(
  'git',
  ['ls-files', '--cached', '--others', '--exclude-standard', '--', '*.ts', '*.html', '*.scss'],
  { encoding: 'utf8' },
)
  .split('\n')
  .filter((file) => file && !/^bench\/|^packages\/demo\/|\.gen\.ts$|\/generated\//.test(file));

const linesOf = (file) =>
  readFileSync(file, 'utf8')
    .split('\n')
    .filter((line) => !/^\s*(\/\/.*|\/\*.*|\*.*)?$/.test(line)).length;

let tests = 0;
let all = 0;
for (const file of files) {
  const lines = linesOf(file);
  all += lines;
  if (/\.spec\.ts$|^e2e\//.test(file)) tests += lines;
}
console.log(`Tests are ${tests} of ${all} lines: ${((100 * tests) / all).toFixed(1)}% (wanted: 25 to 33%)`);
