import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SmallServer } from '../fixture/small-server.fixture';
import { testAccess } from '../fixture/test-database.fixture';

test('relvik doctor mends the database and says what it found; looking only mends nothing', async () => {
  const server = await SmallServer.start();
  const access = join(mkdtempSync(join(tmpdir(), 'relvik-doctor-')), 'access.json');
  writeFileSync(access, JSON.stringify(testAccess()));
  const doctor = (...more: string[]) => {
    const command = join(__dirname, '../../../cli/bin/relvik.js');
    const done = spawnSync(process.execPath, [command, 'doctor', '--access', access, ...more], { encoding: 'utf8' });
    return [done.status, done.stdout.trim(), done.stderr];
  };
  expect(doctor()).toEqual([0, 'Nothing is wrong.', '']);
  await server.source.query("INSERT INTO rep_load (rep, open) VALUES ('ada', 7)");
  expect(doctor('--look')).toEqual([1, '1 people whose open leads were counted wrongly (ada): not mended', '']);
  expect(doctor()).toEqual([0, '1 people whose open leads were counted wrongly (ada): mended', '']);
  expect(doctor()).toEqual([0, 'Nothing is wrong.', '']);
  await server.stop();
});
