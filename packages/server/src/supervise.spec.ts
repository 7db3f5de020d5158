import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { type Running, supervise } from './supervise';

/** A real process that says it is ready, and then does what it is told. */
function run(code: string): Running & { kill: () => void } {
  const child = spawn(process.execPath, ['-e', `process.send('ready'); ${code}`], {
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  return {
    ready: once(child, 'message').then(() => undefined),
    ended: once(child, 'exit').then(([exit, signal]) => String(signal ?? `code ${String(exit)}`)),
    kill: () => child.kill('SIGKILL'),
  };
}

test('a process that is killed is started again, and it is said', async () => {
  const said: string[] = [];
  const begun: ReturnType<typeof run>[] = [];
  const watching = supervise({
    name: 'The server',
    begin() {
      const one = run('setInterval(() => {}, 1000)');
      begun.push(one);
      return one;
    },
    say: (text) => said.push(text),
    pauses: [50, 100, 200],
    settled: 60_000,
  });
  expect(await watching.ready).toBe(true);
  begun[0]!.kill();
  await begun[0]!.ended;
  while (begun.length < 2) await new Promise((resume) => setTimeout(resume, 20));
  await begun[1]!.ready;
  expect(said).toEqual(['The server ended (SIGKILL); it is started again in 0.1 s']);
  watching.stop();
  begun[1]!.kill();
  await begun[1]!.ended;
  await new Promise((resume) => setTimeout(resume, 150));
  expect(begun).toHaveLength(2);
});

test('one that keeps ending is given up, with growing pauses before', async () => {
  const said: string[] = [];
  const began: number[] = [];
  const watching = supervise({
    name: 'The database',
    begin() {
      began.push(Date.now());
      return run('setTimeout(() => process.exit(3), 10)');
    },
    say: (text) => said.push(text),
    pauses: [100, 300],
    settled: 60_000,
  });
  await watching.givenUp;
  expect(said).toEqual([
    'The database ended (code 3); it is started again in 0.1 s',
    'The database ended (code 3); it is started again in 0.3 s',
    'The database keeps ending: code 3',
  ]);
  expect(began).toHaveLength(3);
  // A timer may be a millisecond early; how long the process itself took is another matter.
  expect(began[1]! - began[0]!).toBeGreaterThan(98);
  expect(began[2]! - began[1]!).toBeGreaterThan(298);
});

test('one that never was ready is not tried again', async () => {
  const said: string[] = [];
  const watching = supervise({
    name: 'The server',
    begin: () => Promise.reject(new Error('Port 4400 is taken')),
    say: (text) => said.push(text),
    pauses: [20],
    settled: 1,
  });
  expect(await watching.ready).toBe(false);
  await watching.givenUp;
  expect(said).toEqual(['The server could not be started: Port 4400 is taken']);
});
