import { smallCharter, smallWorld } from '../charter/charter.fixture';
import { gradeOf } from '../grade/grade';
import { recipientsOfVerdict } from './verdict-recipients';

const { charter: SMALL } = smallCharter(smallWorld());
const [set] = SMALL.scoreSets;
const charter = {
  ...SMALL,
  verdicts: SMALL.verdicts.map((one) =>
    one.key === 'hand-over-now' ? { ...one, notify: ['owner', 'manager'] as const } : one,
  ),
};
const { grid } = set!;
const best = gradeOf(grid, 1000, 1000);
const worst = gradeOf(grid, -1000, -1000);
const before = ({ bands }: typeof best) => ({ set: set!.key, bands });
const now = (grade: typeof best | null) => ({ grade, status: 'open', occasion: 'edited' }) as const;

test('who is named for a verdict is told when a lead gets it, not while it stays, nor when a charter brings it', () => {
  expect([best.verdict, worst.verdict]).toEqual(['hand-over-now', expect.not.stringMatching(/^hand-over-now$/)]);
  expect(recipientsOfVerdict(charter, before(worst), now(best))).toEqual(['owner', 'manager']);
  expect(recipientsOfVerdict(charter, null, now(best))).toEqual(['owner', 'manager']);
  expect(recipientsOfVerdict(charter, before(best), now(best))).toEqual([]);
  expect(recipientsOfVerdict(charter, before(best), now(worst))).toEqual([]);
  expect(recipientsOfVerdict(charter, before(worst), now(null))).toEqual([]);
  expect(recipientsOfVerdict(charter, before(worst), { ...now(best), occasion: 'enacted' })).toEqual([]);
  expect(recipientsOfVerdict(charter, before(worst), { ...now(best), status: 'disqualified' })).toEqual([]);
});

test('a cell that the charter gave another verdict since is no news by itself; a band that is gone counts as no grade', () => {
  const cells = grid.cells.map((row) => row.map(() => 'hand-over-now' as const));
  const everywhere = { ...charter, scoreSets: [{ ...set!, grid: { ...grid, cells } }] };
  expect(recipientsOfVerdict(everywhere, before(worst), now(best))).toEqual([]);
  const gone = { set: set!.key, bands: { fit: 'gone', engagement: 'gone' } };
  expect(recipientsOfVerdict(charter, gone, now(best))).toEqual(['owner', 'manager']);
});
