import type { ReadyTest } from '../condition/ready';
import { readKeyOf } from '../condition/subject-table';
import { type Bits, hasBit, noBits } from '../column/bits';
import { type ReadyEffect, valueAfter } from '../gate/effect';
import { dayOf } from '../record/day';
import { tagsOf } from '../record/field';
import { fold } from '../record/fold';
import { BLANK, type Value } from '../record/value';
import type { PlannedGate } from './plan';
import type { Resident } from './resident';
import type { Term } from './term';

/** The bits that an effect of a gate sets and clears: which records have its value, and no other value that gates set. */
export interface GateMark {
  readonly gives: Bits;
  /** Null: it is a tag, which takes the place of nothing. */
  readonly takes: readonly Bits[] | null;
}

/** A value that gates set, and the records that have it from them. */
interface Given {
  readonly key: string;
  readonly value: Value;
  readonly records: Bits;
}

/** The values that gates change, by records that have passed them: no column is rewritten. */
export class GateChanges {
  private readonly set = new Map<string, Given[]>();
  /** By folded tag. */
  private readonly tagged = new Map<string, Bits>();
  private readonly all: readonly Bits[];
  private readonly size: number;
  /** The field that holds the tags of these records. */
  private readonly tags: string;

  constructor(
    gates: readonly Pick<PlannedGate, 'effects'>[],
    private readonly resident: Resident,
  ) {
    this.size = resident.population.size;
    this.tags = tagsOf(resident.population.kind);
    for (const { effects } of gates) for (const effect of effects) this.marksOf(effect);
    this.all = [...[...this.set.values()].flat().map(({ records }) => records), ...this.tagged.values()];
  }

  /** Whether gates change what a test reads. */
  reads({ subject }: Pick<ReadyTest, 'subject'>): boolean {
    const field = readKeyOf(subject);
    return this.set.has(field) || (field === this.tags && this.tagged.size > 0);
  }

  /** The marks of a gate's effects, in their order. */
  marks(effects: readonly ReadyEffect[]): GateMark[] {
    return effects.map((effect) => this.marksOf(effect));
  }

  private marksOf(effect: ReadyEffect): GateMark {
    if (effect.kind === 'tag') {
      const tag = fold(effect.tag);
      const gives = this.tagged.get(tag) ?? noBits(this.size);
      this.tagged.set(tag, gives);
      return { gives, takes: null };
    }
    const { field } = effect;
    const day = dayOf(this.resident.asOf, this.resident.timeZone);
    const value = valueAfter(effect, BLANK, day);
    const key = JSON.stringify(value);
    const known = this.set.get(field) ?? [];
    const own = known.find((one) => one.key === key) ?? { key, value, records: noBits(this.size) };
    if (!known.includes(own)) known.push(own);
    this.set.set(field, known);
    return { gives: own.records, takes: known.flatMap(({ records }) => (records === own.records ? [] : [records])) };
  }

  /** The value of a field that gates have given a record; null: none. */
  givenTo(record: number, field: string): Value | null {
    return this.set.get(field)?.find(({ records }) => hasBit(records, record))?.value ?? null;
  }

  /** Records whose tags can't be read: a person corrects these, and no gate adds any. Null: none. */
  get untaggable(): Bits | null {
    const tags = this.resident.population.columns.get(this.tags);
    return tags?.kind === 'codes' ? tags.unreadable : null;
  }

  /** Forgets what the records of some words have. */
  forget(words: Uint32Array): void {
    for (const bits of this.all) for (const w of words) bits[w] = 0;
  }

  /** Takes from records what gates have given them. */
  undo(w: number, records: number): void {
    for (const bits of this.all) bits[w] = (bits[w] as number) & ~records;
  }

  /** A test on a field that gates change: of who has a value from them the answer of that value, of all others the stored one. */
  term(test: ReadyTest): Term {
    return readKeyOf(test.subject) === this.tags ? this.tagsTerm(test) : this.setTerm(test);
  }

  private setTerm(test: ReadyTest): Term {
    const given = this.set.get(readKeyOf(test.subject)) ?? [];
    const has = given.map(({ records }): Term => ({ kind: 'changed', records }));
    const stored: Term = { kind: 'all', of: [this.stored(test), { kind: 'not', of: { kind: 'any', of: has } }] };
    const answers = given.map(({ value, records }): Term => {
      const answer = this.resident.answerFor(test, value);
      return {
        kind: 'all',
        of: [
          { kind: 'changed', records },
          { kind: 'mask', mask: answer },
        ],
      };
    });
    return { kind: 'any', of: [stored, ...answers] };
  }

  private tagsTerm(test: ReadyTest): Term {
    const given = (option: string): Term[] => {
      const records = this.tagged.get(option);
      return records === undefined ? [] : [{ kind: 'changed', records }];
    };
    switch (test.kind) {
      case 'any-of':
        return { kind: 'any', of: [this.stored(test), ...[...test.folded].flatMap(given)] };
      case 'all-of':
        return {
          kind: 'all',
          of: [...test.folded].map((option): Term => ({
            kind: 'any',
            of: [this.stored(anyOf(test, option)), ...given(option)],
          })),
        };
      case 'blank': {
        const has = [...this.tagged.values()].map((records): Term => ({ kind: 'changed', records }));
        return { kind: 'all', of: [this.stored(test), { kind: 'not', of: { kind: 'any', of: has } }] };
      }
      default:
        return this.stored(test);
    }
  }

  private stored(test: ReadyTest): Term {
    return { kind: 'mask', mask: this.resident.answerTo(test) };
  }
}

/** The test for one option of those that a test names. */
function anyOf({ subject }: ReadyTest, option: string): ReadyTest {
  const source = { test: 'any-of', subject, values: [option] } as const;
  return { kind: 'any-of', subject, source, folded: new Set([option]) };
}
