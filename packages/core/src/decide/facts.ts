import { lastByThem } from '../activity/activity-kind';
import type { ReadyCharter } from '../charter/ready-charter';
import type { Facts } from '../condition/facts';
import type { ScoreAxis } from '../condition/subject';
import type { GateChange } from '../gate/effect';
import type { Grade } from '../grade/grade';
import { type Computed, NUMBER_DECIMALS } from '../record/field';
import { teamsOf } from '../people/people';
import { fold } from '../record/fold';
import { dayNumber, dayOf } from '../record/day';
import type { Instant, StageKey } from '../record/keys';
import type { Money } from '../record/money';
import type { AnyRecord } from '../record/record';
import { BLANK, type Value } from '../record/value';
import type { Score } from '../score/score-by-sets';
import type { AddressPart, TerritoryAnswer } from '../territory/coverage';
import type { World } from '../people/world';

function textValue(text: string): Value {
  return { kind: 'text', text, folded: fold(text) };
}

function numberValue(value: number): Value {
  return { kind: 'number', scaled: Math.round(value * 10 ** NUMBER_DECIMALS), decimals: NUMBER_DECIMALS };
}

/** A set scores the record, and an axis can't be judged. */
const NO_SCORE = { kind: 'unreadable', raw: '', why: 'has no score' } as const;

/** Why an address tells no territory. */
const UNTOLD: Readonly<Record<AddressPart, string>> = {
  country: 'is not a country',
  region: 'is not a region',
  postalCode: 'is not a postal code',
};

/** The part of the world that facts read. */
export type FactsAround = Pick<World, 'rates' | 'kinds' | 'teams'>;

/**
 * When a record entered the stage in which it is.
 *
 * @param moved gates brought it there at `asOf`; of a record that has just come in moves take no time
 */
export function enteredAt({ standing, arrived }: AnyRecord, moved: boolean, asOf: Instant): Instant {
  if (standing?.stage == null) return arrived;
  return moved ? asOf : (standing.stageSince ?? arrived);
}

/** A record with the values that gates have changed. */
export function withChangedValues<R extends AnyRecord>(record: R, changes: readonly GateChange[]): R {
  if (changes.length === 0) return record;
  return {
    ...record,
    values: new Map([...record.values, ...changes.map(({ field, value }) => [field, value] as const)]),
  };
}

/** A record's own values, and beside them what the way of the lead has computed so far. */
export class GatheredFacts implements Facts {
  private constructor(
    private readonly record: AnyRecord,
    private readonly around: FactsAround,
    private readonly setting: { readonly baseCurrency: string; readonly timeZone: string },
    readonly asOf: Instant,
    private readonly known: ReadonlyMap<Computed, Value>,
    readonly stageSince: Instant,
    private readonly score: Score | null,
  ) {}

  static of(record: AnyRecord, around: FactsAround, { charter }: ReadyCharter, asOf: Instant): GatheredFacts {
    return new GatheredFacts(record, around, charter, asOf, new Map(), enteredAt(record, false, asOf), null);
  }

  get timeZone(): string {
    return this.setting.timeZone;
  }

  get arrived(): Instant {
    return this.record.arrived;
  }

  get activities(): AnyRecord['activities'] {
    return this.record.activities;
  }

  get way(): string | null {
    return this.record.way;
  }

  get owner(): string | null {
    const place = this.record.standing?.place;
    return place?.kind === 'owner' ? place.rep : null;
  }

  get teams(): readonly string[] {
    return teamsOf(this.owner, this.around.teams);
  }

  lastActivity(): Instant | null {
    return lastByThem(this.around.kinds, this.record.activities, this.asOf);
  }

  today(): number {
    return dayNumber(dayOf(this.asOf, this.setting.timeZone));
  }

  value(field: string): Value {
    const { values, tied } = this.record;
    return values.get(field) ?? tied?.get(field) ?? BLANK;
  }

  inBase(amount: Money): number | null {
    return this.around.rates.toBase(amount, this.setting.baseCurrency);
  }

  computed(key: Computed): Value {
    return this.known.get(key) ?? BLANK;
  }

  setScore(set: string, axis: ScoreAxis): Value {
    const { score } = this;
    if (score === null) return BLANK;
    const given = score.set === set ? score : score.beside.find((one) => one.set === set);
    if (given === undefined) return BLANK;
    const { fit, engagement } = given;
    switch (axis) {
      case 'fit':
      case 'engagement': {
        const of = given[axis];
        return of.judged ? numberValue(of.score) : NO_SCORE;
      }
      case 'rank':
        return fit.judged && engagement.judged ? numberValue(fit.score + engagement.score) : NO_SCORE;
    }
  }

  private knowing(
    computed: Iterable<readonly [Computed, Value]>,
    stageSince = this.stageSince,
    score = this.score,
  ): GatheredFacts {
    const known = new Map([...this.known, ...computed]);
    return new GatheredFacts(this.record, this.around, this.setting, this.asOf, known, stageSince, score);
  }

  /** A record that no set admits has blank scores. */
  withScore(score: Score, grade: Grade | null): GatheredFacts {
    const missing = (why: string): Value => (score.admitted === 'no' ? BLANK : { kind: 'unreadable', raw: '', why });
    const noScore = missing(NO_SCORE.why);
    const noGrade = missing('has no grade');
    const { fit, engagement } = score;
    const known: [Computed, Value][] = [
      ['fit', fit.judged ? numberValue(fit.score) : noScore],
      ['engagement', engagement.judged ? numberValue(engagement.score) : noScore],
      ['rank', fit.judged && engagement.judged ? numberValue(fit.score + engagement.score) : noScore],
      ['fit_band', grade ? textValue(grade.bands.fit) : noGrade],
      ['engagement_band', grade ? textValue(grade.bands.engagement) : noGrade],
      ['verdict', grade ? textValue(grade.verdict) : noGrade],
    ];
    return this.knowing(known, this.stageSince, score);
  }

  /** With values that gates have changed. */
  withChanges(changes: readonly GateChange[]): GatheredFacts {
    if (changes.length === 0) return this;
    const { around, setting, asOf, known, stageSince, score } = this;
    return new GatheredFacts(withChangedValues(this.record, changes), around, setting, asOf, known, stageSince, score);
  }

  /** @param moved gates brought it there by this decision */
  withStage(stage: StageKey, moved: boolean): GatheredFacts {
    return this.knowing([['stage', textValue(stage)]], enteredAt(this.record, moved, this.asOf));
  }

  withTerritory(answer: TerritoryAnswer): GatheredFacts {
    switch (answer.found) {
      case 'covered':
      case 'pinned':
        return this.knowing([['territory', textValue(answer.territory)]]);
      case 'unjudged':
        return this.knowing([
          ['territory', { kind: 'unreadable', raw: answer.raw, why: UNTOLD[answer.part ?? 'country'] }],
        ]);
      case 'open-ground':
      case 'no-address':
        return this.knowing([['territory', BLANK]]);
    }
  }
}
