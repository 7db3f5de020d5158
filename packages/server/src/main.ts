import { readFileSync } from 'node:fs';
import type { Access } from './store/open-database';
import { serve } from './serve';

/** How many proxies stand before the server, or their addresses: `1`, or `10.0.0.0/8, loopback`. */
function trustedProxies(written: string): number | string {
  return /^\d+$/.test(written) ? Number(written) : written;
}

/** The server as a process of its own; scripts/start.mjs starts it with its settings in the environment. */
async function main(): Promise<void> {
  const env = process.env;
  const access = JSON.parse(readFileSync(env['RELVIK_ACCESS'] ?? '', 'utf8')) as Access;
  const serving = await serve({
    access: env['RELVIK_DB_PORT'] ? { ...access, port: Number(env['RELVIK_DB_PORT']) } : access,
    host: env['RELVIK_HOST'] ?? '127.0.0.1',
    port: Number(env['RELVIK_PORT'] ?? 4400),
    webFolder: env['RELVIK_WEB'] ?? null,
    demo: env['RELVIK_DEMO'] !== 'no',
    progress: (text) => {
      process.stdout.write(`  ${text} …\n`);
    },
    ...(env['RELVIK_BROWSER_RECORDS'] ? { browserRecords: Number(env['RELVIK_BROWSER_RECORDS']) } : {}),
    ...(env['RELVIK_TRUST_PROXY'] ? { trustProxy: trustedProxies(env['RELVIK_TRUST_PROXY']) } : {}),
    ...(env['RELVIK_LIMITS'] === 'none' ? { limits: { signIn: 100_000, form: 100_000 } } : {}),
  });
  process.stdout.write(`\nRelvik is at ${serving.address}\n`);
  for (const { email, password, who } of serving.signIns)
    process.stdout.write(`  ${who.padEnd(9)} ${email}   password ${password}\n`);

  // Tell the parent process that the server is ready; stop if the parent ends.
  process.send?.('ready');
  process.on('disconnect', () => {
    stop();
  });

  let stopping = false;
  const stop = (): void => {
    if (stopping) return;
    stopping = true;
    serving.stop().then(
      () => process.exit(0),
      (error: unknown) => {
        process.stderr.write(`Stopping failed: ${String(error)}\n`);
        process.exit(1);
      },
    );
  };
  process.on('SIGINT', stop);
  process.on('SIGTERM', stop);
}

main().catch((error: unknown) => {
  process.stderr.write(`\nRelvik could not start: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
