import { NO_CELLS, type RecordQuery, type RecordRow } from '@relvik/contracts';
import { conditionWords, namesFrom, NO_NAMES, readCondition, Spot } from '@relvik/core';
import { firstValueFrom, of } from 'rxjs';
import { amissConditions } from './amiss-conditions';
import { dealColumns } from './deal-columns';
import type { RecordService } from './record.service';

const FIELDS = { amount: 'deal.amount', close: 'deal.close' };
const TODAY = '2026-12-01';

const deal = (id: number, status: 'open' | 'won', values: Record<string, string>): RecordRow => ({
  ...{ id, name: '', owner: null, admitted: 'no', scoreSet: null, arrived: 0, leads: 0, stage: 'talks', status },
  ...{ fit: null, engagement: null, rank: null, fitBand: null, engagementBand: null, grade: null },
  ...{ ties: { contact: null, company: { id: 9, name: 'Millworks' } }, ...NO_CELLS, values },
});

const asked: RecordQuery[] = [];
const records = {
  page(_: string, query: RecordQuery) {
    asked.push(query);
    const rows = [
      deal(1, 'open', { 'deal.amount': '39000 EUR', 'deal.close': '2026-11-30' }),
      deal(2, 'open', { 'deal.close': '2026-12-01' }),
      deal(3, 'won', {}),
    ];
    return of({ rows, next: null, asOf: 0 });
  },
  dealSums(query: RecordQuery) {
    asked.push(query);
    const sum = { stage: 'talks', count: 3, sum: 390_001_250, withoutAmount: 1, withoutRate: 0, overdue: 1 };
    return of({ stages: [sum], currency: 'KWD' });
  },
} as unknown as RecordService;

test('a card says what a deal is worth and what is amiss with an open one; today is no delay', async () => {
  const source = dealColumns(records, { owner: 'ada' }, FIELDS, TODAY);
  const cards = await firstValueFrom(source.page({ key: 'talks', kind: 'open' } as never));
  expect(asked.at(-1)).toMatchObject({
    owner: 'ada',
    stage: 'talks',
    status: 'open',
    columns: 'field:deal.amount,field:deal.close',
  });
  expect(cards.map(({ name, beside, worth, amiss }) => ({ name, beside, worth, amiss }))).toEqual([
    { name: 'Deal 1', beside: 'Millworks', worth: '39,000 EUR', amiss: ['should have closed on 2026-11-30'] },
    { name: 'Deal 2', beside: 'Millworks', worth: '', amiss: ['no amount'] },
    { name: 'Deal 3', beside: 'Millworks', worth: '', amiss: [] },
  ]);
});

test('a column says what its deals are worth together, in the decimals of the base currency', async () => {
  const source = dealColumns(records, {}, FIELDS, TODAY);
  const heads = await firstValueFrom(source.heads([]));
  expect(heads.get('talks')).toEqual({
    ...{ count: 3, worth: '390,001 KWD', amiss: ['1 overdue to close', '1 without an amount'] },
  });
});

test('what is amiss is found by conditions that can be read, and say what they ask', () => {
  const wording = { names: namesFrom(NO_NAMES), fields: new Map(), baseCurrency: 'EUR' };
  const read = amissConditions(FIELDS, TODAY).map(({ words, when }) => {
    const problems: never[] = [];
    const condition = readCondition(JSON.parse(when), Spot.root(problems));
    expect(problems).toEqual([]);
    return [words, conditionWords(condition, wording)];
  });
  expect(read).toEqual([
    ['overdue to close', 'deal.close below 2026-12-01'],
    ['without an amount', 'deal.amount is blank'],
    ['nothing happened for 30 days', 'Last activity is blank or Last activity below 2026-11-01'],
  ]);
  expect(amissConditions({ amount: null, close: null }, TODAY)).toHaveLength(1);
});
