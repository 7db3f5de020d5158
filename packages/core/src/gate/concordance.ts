import { DateTime } from 'luxon';
import { type ShareInterval, wilson } from '../grade/wilson';
import type { Instant, StageKey } from '../record/keys';

/** A person's decision of a proposal, and the rule's answer at that moment. */
export interface Judgement {
  /** The stage that the rule picked; null: by then it would not have asked. */
  readonly rule: StageKey | null;
  /** The stage to which the person moved the record; null: they refused. */
  readonly person: StageKey | null;
  /** The name of the person. */
  readonly by: string;
  readonly at: Instant;
}

/** How often people decided as the rule did. */
export interface Agreement {
  /** A person, or the first day of a week as YYYY-MM-DD. */
  readonly of: string;
  readonly same: number;
  readonly all: number;
}

/** Decisions of people against those of the rule, as counts. */
export interface Concordance {
  /** Answers that were given, stages first in the order of `stages`, then null. */
  readonly rule: readonly (StageKey | null)[];
  readonly person: readonly (StageKey | null)[];
  /** By answer of the person, then of the rule. */
  readonly counts: readonly (readonly number[])[];
  /** The share of decisions that are the same, with its interval at 95%; null: there are none. */
  readonly same: ShareInterval | null;
  /** Those who decided most first. */
  readonly byPerson: readonly Agreement[];
  /** The oldest first, without weeks in which nobody decided. */
  readonly byWeek: readonly Agreement[];
}

/**
 * Sets decisions of people against those of the rule.
 *
 * @param stages the order in which stages are shown
 * @param zone in which weeks begin, on Mondays (ISO 8601)
 */
export function concordanceOf(
  judgements: readonly Judgement[],
  stages: readonly StageKey[],
  zone: string,
): Concordance {
  const answers = (given: (one: Judgement) => StageKey | null): (StageKey | null)[] => {
    const found = new Set(judgements.map(given));
    return [...stages, null, ...found].filter((one, i, all) => found.has(one) && all.indexOf(one) === i);
  };
  const rule = answers((one) => one.rule);
  const person = answers((one) => one.person);
  const counts = person.map((chosen) =>
    rule.map((said) => judgements.filter((one) => one.person === chosen && one.rule === said).length),
  );
  const same = judgements.filter(isSame).length;
  const week = ({ at }: Judgement): string => DateTime.fromMillis(at, { zone }).startOf('week').toISODate() ?? '';
  return {
    ...{ rule, person, counts },
    same: wilson(same, judgements.length),
    byPerson: agreements(judgements, ({ by }) => by).sort((a, b) => b.all - a.all || (a.of < b.of ? -1 : 1)),
    byWeek: agreements(judgements, week).sort((a, b) => (a.of < b.of ? -1 : 1)),
  };
}

function isSame({ rule, person }: Judgement): boolean {
  return rule === person;
}

function agreements(judgements: readonly Judgement[], keyOf: (one: Judgement) => string): Agreement[] {
  const groups = new Map<string, Judgement[]>();
  for (const one of judgements) groups.set(keyOf(one), [...(groups.get(keyOf(one)) ?? []), one]);
  return [...groups].map(([of, own]) => ({ of, same: own.filter(isSame).length, all: own.length }));
}
