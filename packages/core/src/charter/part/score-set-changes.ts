import { conditionWords } from '../../wording/condition-words';
import type { Wording } from '../../wording/subject-words';
import { signalWords, signed } from '../../wording/signal-words';
import { AXES, type Axis } from '../../signal/signal';
import type { Bands } from '../../grade/band';
import type { Grid } from '../../grade/grid';
import type { VerdictKey } from '../../grade/verdict';
import type { ScoreSet } from '../../score/score-set';
import type { ChangeNotes } from '../../wording/change-notes';

/** Notes what score sets change against others: who is admitted, signals, groups, cuts, verdicts, bounds. */
export function noteSetChanges(
  notes: ChangeNotes,
  before: readonly ScoreSet[],
  after: readonly ScoreSet[],
  wording: Wording,
): void {
  notes.each('Score set', before, after, (set) =>
    [
      `${set.of === 'company' ? 'for companies, ' : ''}when ${conditionWords(set.when, wording)}`,
      ...(set.on ? [] : ['off']),
    ].join(', '),
  );
  notes.order('Order of score sets', before, after);
  const many = before.length > 1 || after.length > 1;
  for (const set of after) {
    const old = before.find(({ key }) => key === set.key);
    noteInSet(notes, old, set, wording, many ? `${set.name}: ` : '');
  }
}

function noteInSet(
  notes: ChangeNotes,
  before: ScoreSet | undefined,
  after: ScoreSet,
  wording: Wording,
  of: string,
): void {
  const { names } = wording;
  const old = new Map((before?.signals ?? []).map((signal) => [signal.key, signal]));
  for (const signal of after.signals) {
    const was = old.get(signal.key);
    notes.note(`${of}Points for “${signal.name}”`, was ? signed(was.points) : null, signed(signal.points));
    if (was) notes.note(`${of}“${signal.name}” is given when`, signalWords(was, wording), signalWords(signal, wording));
    old.delete(signal.key);
  }
  for (const signal of old.values()) notes.note(`${of}Signal “${signal.name}”`, signed(signal.points), 'taken out');
  noteGrid(notes, before, after, wording, of);

  notes.each(`${of}Group`, before?.groups ?? [], after.groups, ({ cap }) => `held at ${cap}`);
  notes.eachInBoth(`${of}Signal`, before?.signals ?? [], after.signals, ({ on, group }) =>
    [on ? 'on' : 'off', ...(group === null ? [] : [`in ${names.group(group)}`])].join(', '),
  );
  for (const axis of AXES) {
    const shown = (set: ScoreSet): string => {
      const { least, most, decimals } = set[axis];
      return `${least} to ${most}, ${decimals} decimals`;
    };
    notes.note(`${of}Bounds of ${axis}`, before ? shown(before) : null, shown(after));
  }
}

function noteGrid(
  notes: ChangeNotes,
  before: ScoreSet | undefined,
  { grid }: ScoreSet,
  { names }: Wording,
  of: string,
): void {
  const old = before?.grid;
  for (const axis of AXES) {
    const { bands } = grid[axis];
    notes.each(`${of}${AXIS_NAMES[axis]} band`, old?.[axis].bands ?? [], bands, ({ name }) => name);
    bands.forEach(({ key, name }, i) => {
      const below = bands[i - 1];
      if (below === undefined) return;
      notes.note(
        `${of}Cut between ${below.name} and ${name}`,
        old ? cutBelow(old[axis], key) : null,
        cutBelow(grid[axis], key),
      );
    });
  }
  grid.fit.bands.forEach((fit, f) => {
    grid.engagement.bands.forEach((engagement, e) => {
      const verdict = grid.cells[f]?.[e];
      const was = old && verdictOf(old, fit.key, engagement.key);
      if (verdict !== undefined)
        notes.note(
          `${of}Verdict of ${fit.name} ${engagement.name}`,
          was ? names.verdict(was) : null,
          names.verdict(verdict),
        );
    });
  });
}

const AXIS_NAMES: Readonly<Record<Axis, string>> = { fit: 'Fit', engagement: 'Engagement' };

/** The cut at which a band begins. */
function cutBelow({ bands, cuts }: Bands, key: string): string {
  return String(cuts[bands.findIndex((band) => band.key === key) - 1] ?? '–');
}

function verdictOf({ fit, engagement, cells }: Grid, fitBand: string, engagementBand: string): VerdictKey | undefined {
  const row = cells[fit.bands.findIndex(({ key }) => key === fitBand)];
  return row?.[engagement.bands.findIndex(({ key }) => key === engagementBand)];
}
