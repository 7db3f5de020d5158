import { fork } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { cpus, release, totalmem } from 'node:os';
import { join } from 'node:path';
import { gateFigures } from './gates.bench';
import { type Figure, ROUNDS } from './measure';
import { peerFigures } from './peers.bench';
import { subjectFigures } from './subjects.bench';
import { sweepFigures } from './sweep.bench';
import { territoryFigures } from './territories.bench';

/** `npm run bench`: measures, prints, and writes docs/speed.md. `npm run bench -- quick` leaves out the million. */
async function main(): Promise<void> {
  const quick = process.argv.includes('quick');
  const figures: Figure[] = [];
  const measured = (more: readonly Figure[]): void => {
    for (const { id, what, median, range, goal, reached } of more)
      console.log(`${id} ${what}: ${median} (${range}), goal ${goal}${reached ? '' : ', NOT reached'}`);
    figures.push(...more);
  };
  console.log('S1');
  measured(await peerFigures(100_000, ROUNDS));
  console.log('S2 to S4 on 100,000');
  measured(sweepFigures(100_000));
  console.log('S2 with choices, tags and what is more than a field, on 100,000');
  measured(subjectFigures(100_000));
  console.log('S2 with two pipelines and 40 gates, on 100,000');
  measured(gateFigures(100_000));
  console.log('Territories of 100,000 addresses');
  measured(territoryFigures(100_000));
  console.log('S4 from the database');
  measured(await inOwnProcess('stored.ts'));
  if (!quick) {
    console.log('S2, S3 on 1,000,000');
    measured(sweepFigures(1_000_000));
  }
  if (!quick) writeFileSync(join(__dirname, '../docs/speed.md'), page(figures));
}

/** Measures in a process of its own. */
function inOwnProcess(file: string): Promise<readonly Figure[]> {
  return new Promise((resolve, reject) => {
    const child = fork(join(__dirname, file));
    child.once('message', (figures) => {
      resolve(figures as readonly Figure[]);
    });
    child.once('exit', (code) => {
      reject(new Error(`${file} ended with ${code}`));
    });
  });
}

function page(figures: readonly Figure[]): string {
  const machine = `${cpus()[0]?.model.trim() ?? 'unknown'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Linux ${release()}, Node ${process.version}`;
  return `# Speed

Written by \`npm run bench\` on ${new Date().toISOString().slice(0, 10)}: ${machine}; shared and noisy. Every figure is a ratio of two works done by turns
in one run (${ROUNDS} rounds: the median, and the range seen; garbage is collected before each), or a time where it says so; the results are checked to be the same before
anything is timed. Seeded data: 15 fields, choices and tags, 40 signals, 25 routes, about 150 distinct tests, five of them on
a field of the contact or company, about 8 activities a record.

| | what | goal | median | range | |
|---|---|---|---|---|---|
${figures.map(({ id, what, goal, median, range, reached }) => `| ${id} | ${what} | ${goal} | ${median} | ${range} | ${reached ? 'reached' : '**not reached**'} |`).join('\n')}

S1 and S3 end at the route; owners by replay are measured apart. A full sweep starts from columns and indexes that are resident, with
no answer of a test kept: what it costs to get there is S4. The libraries are timed on a part of the records and scaled; they judge the
conditions, while fade and bands are computed by the same code for all of them. Of S3 both works are done once untimed, then timed. S8, the screen, is measured by \`npm run bench:screen\`:
see [speed-screen.md](speed-screen.md).
`;
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
