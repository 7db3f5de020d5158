import { readHaving } from '../../activity/read-having';
import { readCondition } from '../../condition/read-condition';
import {
  kept,
  key,
  list,
  number,
  object,
  oneByKind,
  oneOf,
  orElse,
  orNull,
  type Read,
  refined,
  text,
  yesNo,
} from '../../document/read-json';
import type { Band, Bands } from '../../grade/band';
import type { Grid } from '../../grade/grid';
import { VERDICT_KEYS } from '../../grade/verdict';
import { RECORD_KINDS } from '../../record/kind';
import { type AxisBounds, type ScoreSet } from '../../score/score-set';
import { type Fade, LONGEST_FADE } from '../../signal/fade';
import {
  type ActivitySignal,
  type AttributeSignal,
  AXES,
  type Signal,
  type SignalGroup,
  type SilenceSignal,
} from '../../signal/signal';

const name = text({ most: 120 });
const on = orElse(yesNo, true);
const points: Read<number> = number({ least: -100_000, most: 100_000, decimals: 2 });
const days = number({ least: 1, most: LONGEST_FADE });
/** A cap by points. Nothing above zero would be held to less than the smallest step. */
const cap = number({ least: 0.01, most: 1_000_000, decimals: 2 });
const fade: Read<Fade> = object<{ kind: Fade['kind']; days: number }>({ kind: oneOf(['half-life', 'end']), days });

const group: Read<SignalGroup> = object<SignalGroup>({ key: key(), name, axis: oneOf(AXES), cap });

const common = { key: key<string>(), name, axis: oneOf(AXES), on, points, group: orNull(key<string>()) };
const most = orNull(number({ least: 1, most: 10_000 }));
const signal: Read<Signal> = kept(
  oneByKind<Signal>('kind', {
    attribute: object<AttributeSignal>({ kind: oneOf(['attribute']), ...common, when: readCondition }, ['on', 'group']),
    activity: object<ActivitySignal>(
      {
        kind: oneOf(['activity']),
        ...common,
        activity: key<string>(),
        having: orElse(readHaving, []),
        times: orElse(oneOf(['each', 'first'] as const), 'each'),
        window: orNull(days),
        most,
        fade: orNull(fade),
        cap: orNull(cap),
      },
      ['on', 'group', 'having', 'times', 'window', 'most', 'fade', 'cap'],
    ),
    silence: object<SilenceSignal>({ kind: oneOf(['silence']), ...common, every: days, most }, ['on', 'group', 'most']),
  }),
);

const edge = number({ least: -1_000_000, most: 1_000_000, decimals: 2 });
const bounds: Read<AxisBounds> = refined(
  object<AxisBounds>({ least: edge, most: edge, decimals: orElse(number({ least: 0, most: 2 }), 0) }, ['decimals']),
  (read, spot) => {
    if (read.least >= read.most) spot.say('its least must be below its most');
  },
);

const bands: Read<Bands> = refined(
  object<Bands>({ bands: list(object<Band>({ key: key(), name: text({ most: 40 }) })), cuts: list(edge) }),
  ({ cuts }, spot) => {
    cuts.forEach((at, i) => {
      const below = cuts[i - 1];
      if (below !== undefined && at <= below) spot.at('cuts').at(i).say(`must be above the cut before it, ${below}`);
    });
  },
);

const grid: Read<Grid> = object<Grid>({ fit: bands, engagement: bands, cells: list(list(oneOf(VERDICT_KEYS))) });

/** The form of one score set. */
export const scoreSet: Read<ScoreSet> = object<ScoreSet>(
  {
    key: key(),
    name,
    of: orElse(oneOf(RECORD_KINDS), 'lead'),
    on,
    when: orElse(readCondition, { test: 'all', of: [] }),
    fit: bounds,
    engagement: bounds,
    groups: orElse(list(group, { most: 100 }), []),
    signals: list(signal, { most: 500 }),
    grid,
  },
  ['of', 'on', 'when', 'groups'],
);
