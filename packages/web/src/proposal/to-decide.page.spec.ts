import type { ProposalPage, ProposalRow, Role } from '@relvik/contracts';
import { TestBed } from '@angular/core/testing';
import { PageTest, wordsOf } from '../page.fixture';
import { SessionService } from '../session/session.service';
import { ToDecidePage } from './to-decide.page';

const lead = (id: number, company: string) => ({
  ...{
    kind: 'lead',
    id,
    company,
    name: 'Kari Moe',
    grade: 'A active',
    fitBand: 2,
    engagementBand: 1,
    rank: 84,
    status: 'open',
  },
  ...{ stage: 'new', territory: null, place: { kind: 'owner', rep: 'ada' }, arrived: 0, fit: 60, engagement: 24 },
});
const row = (id: number, company: string, pick: string | null = 'qualified'): ProposalRow =>
  ({
    ...{ id, record: lead(id + 100, company), gate: 'qualify', askedAt: Date.now() - 7_200_000, pick },
    why: 'Country is Norway',
    outcomes: [
      { to: 'qualified', why: '' },
      { to: 'out', why: 'Employees below 5 (is 80)' },
    ],
  }) as unknown as ProposalRow;
const ROWS = [row(1, 'Fjordbrygg'), row(2, 'Bergmølle'), row(3, 'Havfisk')];

const pageOf = (rows: readonly ProposalRow[]): ProposalPage => ({
  ...{ rows, count: rows.length, oldest: rows.length === 0 ? null : Date.now() - 7_200_000, size: 50 },
  gates: rows.length === 0 ? [] : [{ gate: 'qualify', count: rows.length }],
});

async function open(role: Role = 'rep', rows = ROWS): Promise<PageTest<ToDecidePage>> {
  const page = await PageTest.open(ToDecidePage);
  TestBed.inject(SessionService).signIn('x', 'y').subscribe();
  page.http.expectOne('/api/session').flush({ name: 'X', key: 'x', role });
  await page.answer('/api/proposals', pageOf(rows));
  return page;
}
const press = async (page: PageTest<ToDecidePage>, key: string): Promise<void> => {
  page.element.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
  await page.settle();
};
const shown = (page: PageTest<ToDecidePage>): string => wordsOf(page.find('.proposal-side h2'));
const decided = (page: PageTest<ToDecidePage>) => page.sent('/api/proposals/decide', 'POST');

test('proposals with the rule’s pick and why; beside it each outcome, and what happened since', async () => {
  const page = await open();
  expect(wordsOf(page.find('h1'))).toBe('To decide 3 proposals , the oldest from 2 hours ago');
  const first = wordsOf(page.find('.proposals tbody tr'));
  expect(first).toContain('Fjordbrygg Kari Moe');
  expect(first).toContain('Qualify Country is Norway Qualified 2 hours ago');
  await page.answer('/api/proposals/1', {
    ...ROWS[0],
    changes: [{ field: 'employees', from: { kind: 'number', value: 5 }, to: null, reason: null, at: 0 }],
    activities: [{ kind: 'mail_clicked', at: 0 }],
  });
  const side = wordsOf(page.find('.proposal-side'));
  expect(side).toContain('Qualified rule’s pick ✓ Disqualified no: Employees below 5 (is 80)');
  expect(side).toContain('Mail clicked');
  // A rep sees no concordance of colleagues.
  expect(page.element.querySelector('rv-concordance')).toBeNull();
});

test('with keys: on to the next, the rule’s pick, and back again', async () => {
  const page = await open();
  await press(page, 'j');
  expect(shown(page)).toContain('Bergmølle');
  await press(page, 'k');
  await press(page, 'j');
  await press(page, 'Enter');
  const sent = decided(page);
  expect(sent.body).toEqual({ decisions: [{ id: 2, answer: 'qualified' }] });
  await sent.answer({ done: [2], refused: [] });
  await page.answer('/api/proposals', pageOf([ROWS[0]!, ROWS[2]!]));
  expect(page.text).toContain('1 proposal decided: Qualified. Undo');
  // On to the one below.
  expect(shown(page)).toContain('Havfisk');
  expect(page.text).not.toContain('meanwhile');
  await press(page, 'u');
  const undone = page.sent('/api/proposals/undo', 'POST');
  expect(undone.body).toEqual({ ids: [2] });
  await undone.answer({ done: [2], refused: [] });
  await page.answer('/api/proposals', pageOf(ROWS));
  expect(page.text).toContain('1 proposal taken back.');
});

test('several at once: another outcome that all have, or refused with a reason; who was overtaken is told', async () => {
  const page = await open('rep', [...ROWS.slice(0, 2), row(3, 'Havfisk', null)]);
  for (const key of [' ', 'j', ' ']) await press(page, key);
  expect(page.text).toContain('2 chosen');
  await press(page, 'o');
  await page.click('Disqualified');
  const other = decided(page);
  expect(other.body).toEqual({
    decisions: [
      { id: 1, answer: 'out' },
      { id: 2, answer: 'out' },
    ],
  });
  await other.answer({ done: [1], refused: [{ id: 2, why: 'This proposal is settled. Bo decided it already' }] });
  await page.answer('/api/proposals', pageOf([row(3, 'Havfisk', null)]));
  expect(page.text).toContain('Bo decided it already');

  // The gate of this one does not hold any more: there is no pick to take.
  expect(page.text).toContain('does not hold now');
  await press(page, 'Enter');
  page.http.expectNone('/api/proposals/decide');
  await page.click('Refuse… X');
  await page.type('.decision-bar input', 'too small');
  await page.click('Refuse');
  expect(decided(page).body).toEqual({ decisions: [{ id: 3, answer: null }], reason: 'too small' });
});

test('what goes by another’s hand, or with its gate, goes with a word', async () => {
  const page = await open();
  await page.passes(60_000);
  await page.answer('/api/proposals', pageOf(ROWS.slice(0, 1)));
  expect(page.text).toContain('2 more went meanwhile');
  await page.passes(60_000);
  await page.answer('/api/proposals', { title: 'Not now', status: 503 }, 503);
  // The rows stay.
  expect(page.text).toContain('Fjordbrygg');
});

test('where nothing waits it is said; an admin sees beside it what untrusted ways in said', async () => {
  const page = await open('admin', []);
  await page.answer('/api/said', []);
  expect(page.text).toContain('Nothing waits for you');
});

test('concordance: answers of people against those of the rule, by person and by week', async () => {
  const page = await open('manager');
  await page.answer('/api/concordance', {
    ...{ gate: 'qualify', days: 90, rule: ['qualified', null], person: ['qualified', null] },
    counts: [
      [61, 2],
      [9, 0],
    ],
    same: { share: 61 / 72, low: 0.7468, high: 0.9121, of: 72 },
    byPerson: [{ of: 'Bo Rask', same: 40, all: 50 }],
    byWeek: [{ of: '2026-03-02', same: 5, all: 7 }],
  });
  const table = wordsOf(page.find('rv-concordance'));
  expect(table).toContain('People chose rule: Qualified rule: would not ask');
  expect(table).toContain('Qualified 61 2 refused 9 0');
  expect(table).toContain('Bo Rask 40 of 50');
  expect(table).toContain('2 Mar 5 of 7');
  expect(table).toContain('The same in 61 of 72, 85% (75 to 91).');
});
