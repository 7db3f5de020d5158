// `npm run screenshots`: one picture of each main view, from demo data, into docs/screenshots.
import { spawn } from 'node:child_process';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, ROOT } from './build.mjs';
import { ensurePackages } from './debian.mjs';

const PORT = 4430;
const BASE = `http://127.0.0.1:${PORT}`;
const asRoot = process.getuid?.() === 0 ? ['--no-sandbox'] : [];

ensurePackages(['mariadb-server', 'chromium', 'fonts-liberation']);
ensureInstalled();
ensureBuilt();
const { chromium } = createRequire(join(ROOT, 'e2e/playwright.config.ts'))('@playwright/test');
const server = spawn(process.execPath, [join(ROOT, 'scripts/e2e-server.mjs')], {
  env: { ...process.env, RELVIK_PORT: String(PORT) },
  stdio: ['ignore', 'pipe', 'inherit'],
});
await new Promise((ready) => server.stdout.on('data', (text) => String(text).includes('ready at') && ready()));
const browser = await chromium.launch({
  executablePath: '/usr/bin/chromium',
  args: [
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--disable-dev-shm-usage',
    ...asRoot,
  ],
});

async function signedIn(who) {
  const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
  await page.goto(`${BASE}/sign-in`);
  await page.getByLabel('E-mail').fill(`${who}@ostervane.example`);
  await page.getByLabel('Password').fill('brackish harbour 7');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.getByRole('button', { name: 'Sign out' }).waitFor();
  return page;
}

async function shoot(page, name) {
  await page.waitForTimeout(1200);
  await page.screenshot({ path: join(ROOT, `docs/screenshots/${name}.png`) });
  console.log(`  ${name}`);
}

const admin = await signedIn('admin');
await admin.goto(`${BASE}/score`);
await admin.locator('.headline').waitFor();
await admin.getByText('counting', { exact: true }).first().waitFor({ state: 'detached' });
// The tracer stays while one moves inside the application.
await admin.locator('rv-impact-panel .changed').first().click();
await admin.locator('.tracer-columns').waitFor();
await admin.goBack();
await admin.getByRole('button', { name: /^Edit Brewery with yearly volume/ }).click();
await shoot(admin, 'score');
for (const [link, name] of [
  [/^Grade/, 'grade'],
  [/^Gates/, 'gates'],
  [/^Territories/, 'territories'],
  [/^Routes/, 'routes'],
  [/^People/, 'people'],
  [/^Intake/, 'intake'],
]) {
  await admin.locator('.course').getByRole('link', { name: link }).click();
  await shoot(admin, name);
}
await admin.getByRole('link', { name: 'Why? What if?' }).click();
await shoot(admin, 'tracer');
for (const [link, name] of [
  ['Watershed', 'watershed'],
  ['Leads', 'leads'],
  ['Charters', 'charters'],
]) {
  await admin.getByRole('navigation', { name: 'Main' }).getByRole('link', { name: link }).click();
  await shoot(admin, name);
}
await admin.getByRole('link', { name: 'Enact…' }).click();
await shoot(admin, 'enact');
await admin.goto(`${BASE}/leads`);
await admin.locator('.leads tbody a').first().click();
await admin.getByRole('heading', { name: 'Reasoning' }).waitFor();
await shoot(admin, 'lead');
await admin.goto(`${BASE}/companies`);
await admin.locator('.records tbody a').first().click();
await admin.getByRole('heading', { name: 'What happened' }).waitFor();
await shoot(admin, 'company');
await admin.goto(`${BASE}/to-decide`);
await admin.locator('.proposals tbody tr').first().waitFor();
await admin.locator('.proposal-side h3').first().waitFor();
await shoot(admin, 'to-decide');
await admin.goto(`${BASE}/tasks?whose=seen`);
await admin.locator('.task').first().waitFor();
await admin.getByRole('button', { name: /^Put off/ }).first().click();
await shoot(admin, 'tasks');
await admin.goto(`${BASE}/deals?layout=columns`);
await admin.locator('.stage-card').first().waitFor();
await shoot(admin, 'deals');
// Someone without whom leads wait.
await admin.evaluate(async () => {
  const token = /XSRF-TOKEN=([^;]+)/.exec(document.cookie)?.[1] ?? '';
  const { people } = await (await fetch('/api/people')).json();
  for (const { key, limit, name } of people.filter(({ name }) => /^(Owen|Rhona)/.test(name)))
    await fetch(`/api/people/${key}`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json', 'X-XSRF-TOKEN': token },
      body: JSON.stringify({
        mayTakeLeads: true,
        whyNot: null,
        limit: name.startsWith('Owen') ? 1 : limit,
        away: name.startsWith('Rhona'),
      }),
    });
  for (let n = 0; n < 3; n += 1)
    await fetch('/api/leads', {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'X-XSRF-TOKEN': token },
      body: JSON.stringify({
        values: {
          ...{
            name: ['Isla Thistle', 'Rory Glenmoor', 'Fiona Strath'][n],
            company: ['Thistleby Water', 'Glenmoor Ales', 'Strath Salmon'][n],
          },
          ...{ email: `bay-${n}@thistle.example`, country: 'United Kingdom', industry: 'Waterworks', employees: '620' },
          ...{
            deal_value: '60000 EUR',
            points: '40',
            title: 'Plant operations',
            source: 'Referral',
            by_hand: 'yes',
            product: 'Buoy',
          },
        },
      }),
    })
      .then((made) => made.json())
      .then(({ id }) =>
        Promise.all(
          ['form_filled', 'call_taken'].map((kind) =>
            fetch(`/api/leads/${id}/activities`, {
              method: 'POST',
              headers: { 'content-type': 'application/json', 'X-XSRF-TOKEN': token },
              body: JSON.stringify({ kind, at: new Date().toISOString() }),
            }),
          ),
        ),
      );
});
await admin.goto(`${BASE}/bay`);
await admin.locator('.bay-group').first().waitFor();
await shoot(admin, 'bay');
await shoot(await signedIn('rep'), 'my-leads');
await browser.close();
server.kill('SIGTERM');
