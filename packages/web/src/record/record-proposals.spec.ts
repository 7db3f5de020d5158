import type { LeadDetail, PastProposal } from '@relvik/contracts';
import { namesFrom, NO_NAMES } from '@relvik/core';
import { PageTest } from '../page.fixture';
import { RecordProposals, proposalWords } from './record-proposals';
import { MoveStage } from './move-stage';

const PROPOSAL: PastProposal = {
  ...{ id: 4, gate: 'qualify', state: 'open', pick: 'qualified', answer: null, rule: null, by: '', reason: null },
  ...{ why: null, askedAt: 0, decidedAt: null },
};

test.each<[Partial<PastProposal>, string]>([
  [{}, 'waits for an answer'],
  [{ state: 'taken', answer: 'a', rule: 'a', by: 'Bo' }, 'Bo moved it to a, as the rule said'],
  [{ state: 'taken', answer: 'b', rule: 'a', by: 'Bo', reason: 'known' }, 'Bo moved it to b, the rule said a: known'],
  [{ state: 'refused', by: 'Bo', reason: 'far' }, 'Bo refused, the rule would not have asked: far'],
  [{ state: 'withdrawn', why: 'gate-gone' }, 'withdrawn: the charter does not ask it any more'],
])('a proposal %j is said as “%s”', (more, words) => {
  expect(proposalWords({ ...PROPOSAL, ...more }, namesFrom(NO_NAMES))).toBe(words);
});

test('a lead shows what is asked about it, to answer it for who may, and what was asked before', async () => {
  const proposals = [PROPOSAL, { ...PROPOSAL, id: 3, state: 'refused', by: 'Bo', reason: 'far' }];
  const record = { proposals, may: { decide: true } } as unknown as Pick<LeadDetail, 'proposals' | 'may'>;
  const page = await PageTest.open(RecordProposals, { record, busy: false });
  expect(page.text).toContain('Qualify asks whether it goes to Qualified');
  expect(page.text).toContain('Bo refused');
  const taken: number[] = [];
  page.component.instance.taken.subscribe(({ id }) => taken.push(id));
  await page.click('Take the rule’s pick');
  expect(taken).toEqual([4]);
  page.component.setInput('record', { ...record, may: { decide: false } });
  await page.settle();
  expect(page.element.querySelector('button')).toBeNull();
});

test('a stage to move to takes a reason where no gate that holds leads there', async () => {
  const moves = [
    { stage: 'qualified', needsReason: false },
    { stage: 'out', needsReason: true },
  ];
  const page = await PageTest.open(MoveStage, { moves, busy: false });
  const sent: unknown[] = [];
  page.component.instance.moved.subscribe((move) => sent.push(move));
  const choose = async (stage: string): Promise<void> => {
    (page.component.instance as unknown as { stage: { set: (stage: string) => void } }).stage.set(stage);
    await page.settle();
  };
  await choose('qualified');
  await page.click('Move');
  await choose('out');
  expect(page.button('Move').disabled).toBe(true);
  await page.type('input[aria-label="Why it is moved"]', ' asked us to stop ');
  await page.click('Move');
  expect(sent).toEqual([
    { stage: 'qualified', reason: null },
    { stage: 'out', reason: 'asked us to stop' },
  ]);
});
