#!/usr/bin/env node
const { existsSync } = require('node:fs');
const { join } = require('node:path');
const { spawnSync } = require('node:child_process');

const main = join(__dirname, '../dist/main.js');
if (!existsSync(main)) {
  // A fresh clone has no build yet: make one, with its messages on stderr so that stdout stays the command's own.
  process.stderr.write('relvik: first run, compiling …\n');
  const tsc = require.resolve('typescript/bin/tsc');
  const built = spawnSync(process.execPath, [tsc, '-b', join(__dirname, '..')], { stdio: ['ignore', 2, 2] });
  if (built.status !== 0) process.exit(1);
}
require(main).run(process.argv);
