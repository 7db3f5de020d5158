// Leaves the counts of a run in .relvik/counts, so that `npm test` can add up all runners.
const { mkdirSync, writeFileSync } = require('node:fs');
const { join } = require('node:path');

const folder = join(__dirname, '../.relvik/counts');

function leave(name, passed, failed) {
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, `${name}.json`), JSON.stringify({ passed, failed }));
}

/** As a Jest reporter (`onRunComplete`) and as a Playwright reporter (`onTestEnd`, `onEnd`). */
module.exports = class CountReporter {
  constructor(config, options) {
    this.name = options?.name ?? config?.name ?? 'playwright';
    this.outcomes = new Map();
  }

  onRunComplete(_contexts, results) {
    const broken = results.testResults.filter((file) => file.testExecError).length;
    leave(this.name, results.numPassedTests, results.numFailedTests + broken);
  }

  onTestEnd(test, result) {
    this.outcomes.set(test.id, result.status === 'passed');
  }

  onEnd() {
    const outcomes = [...this.outcomes.values()];
    leave(this.name, outcomes.filter(Boolean).length, outcomes.filter((ok) => !ok).length);
  }
};
