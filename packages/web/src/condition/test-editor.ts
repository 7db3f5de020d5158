import { ChangeDetectionStrategy, Component, computed, effect, inject, input, output, signal } from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { FormsModule } from '@angular/forms';
import {
  type Bound,
  type Condition,
  COUNTRY_LIST,
  type FieldValues,
  fold,
  type Happening,
  holdsOf,
  NUMBER_DECIMALS,
  type PredicateKind,
  readKeyOf,
  type Scope,
  showScaled,
  Spot,
  type Subject,
  subjectsIn,
  type Test,
  valueWords,
  REGION_LIST,
  regionLabel,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { ImpactService } from '../impact/impact.service';
import { CharterService } from '../charter/charter.service';
import { WordingService } from '../wording/wording.service';
import { ChipField, type Offered } from '../ui/chip-field';
import { PropertyTests } from './property-tests';
import { subjectGroups } from './subject-groups';
import { freshTest, kindsFor, NO_VALUE, takesOneValue, unwrapped, wrapped } from './test-kinds';

/** A subject as it stands in the list: what happened stands there once for each kind. */
function offeredAs(subject: Subject): Subject {
  return subject.kind === 'happened' ? { ...subject, having: [], within: null } : subject;
}

/** One question about one subject: about what, which question, and its values, as they are in the data. */
@Component({
  selector: 'rv-test-editor',
  imports: [FormsModule, NgTemplateOutlet, ChipField, PropertyTests, SelectModule],
  templateUrl: './test-editor.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TestEditor {
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  private readonly charters = inject(CharterService);
  /** Lists are asked in the words in force, rules in those of the draft that they stand in. */
  private readonly wording = computed(() =>
    this.scope().place === 'list' ? this.words.wording() : this.charters.wording(),
  );
  readonly condition = input.required<Condition>();
  readonly scope = input.required<Scope>();
  readonly changed = output<Condition>();

  protected readonly parts = computed(() => {
    const { inner, negated } = unwrapped(this.condition());
    return { test: inner as Test, negated };
  });
  protected readonly test = computed(() => this.parts().test);
  protected readonly holds = computed(() => holdsOf(this.test().subject, this.scope(), Spot.root([])));
  protected readonly subjects = computed(() => subjectGroups(this.scope(), this.wording()));
  /** As it is offered: of what happened, without how it is narrowed. */
  protected readonly subject = computed(() => JSON.stringify(offeredAs(this.test().subject)));
  /** The activities asked about, which can be narrowed; null: another subject. */
  protected readonly happening = computed(() => {
    const { subject } = this.test();
    return subject.kind === 'happened' ? subject : null;
  });
  protected readonly kinds = computed(() =>
    kindsFor(this.test().subject, this.scope()).flatMap(({ test, label, opposite }) => [
      { value: test, label },
      { value: `not ${test}`, label: opposite },
    ]),
  );
  protected readonly kind = computed(() => (this.parts().negated ? `not ${this.test().test}` : this.test().test));
  /** The one value that is typed or chosen; null: there may be several, or none. */
  protected readonly single = computed(() => {
    const test = this.test();
    const type = this.holds()?.type;
    return test.test === 'one-of' && type !== undefined && takesOneValue(type) ? (test.values[0] ?? '') : null;
  });

  private readonly readKey = computed(() => readKeyOf(this.test().subject));
  private readonly data = signal<FieldValues | null>(null);
  /** Values to choose from: the field's options, else what is in the data; with how many leads have each. */
  protected readonly offered = computed((): Offered[] => {
    const holds = this.holds();
    const counts = new Map((this.data()?.values ?? []).map(({ value, count }) => [value, count]));
    if (holds === null) return [];
    const count = (value: string): number => counts.get(fold(value)) ?? 0;
    if (holds.type === 'country')
      return COUNTRY_LIST.map(({ code, name }) => ({ value: name, label: name, count: count(code) })).sort(
        (a, b) => b.count - a.count,
      );
    if (holds.type === 'region')
      return [...REGION_LIST, ...(holds.ownRegions ?? [])]
        .map(({ code }) => ({ value: code, label: regionLabel(code, holds.ownRegions), count: count(code) }))
        .sort((a, b) => b.count - a.count);
    if (holds.options.length + holds.retired.length > 0) {
      const offered = holds.options.map((value) => ({ value, label: this.shown(value), count: count(value) }));
      // Lists can look for retired options.
      const retired = this.scope().place === 'list' ? holds.retired : [];
      return [
        ...offered.sort((a, b) => b.count - a.count),
        ...retired.map((value) => ({ value, label: `${this.shown(value)} (retired)`, count: count(value) })),
      ];
    }
    return [...counts].map(([value, many]) => ({ value, label: value, count: many }));
  });
  protected readonly chosen = computed((): Offered[] => {
    const test = this.test();
    return 'values' in test
      ? test.values
          .filter((value) => value !== NO_VALUE)
          .map((value) => ({ value, label: this.shown(value), count: 0 }))
      : [];
  });
  protected readonly range = computed(() => {
    const test = this.test();
    return test.test === 'range' ? test : null;
  });
  protected readonly extent = computed(() => {
    const extent = this.data()?.extent ?? null;
    const type = this.holds()?.type;
    const { kind } = this.test().subject;
    if (kind === 'days-since' || kind === 'days-in-stage') return 'days';
    if (kind === 'hours-in-stage') return 'hours';
    if (this.happening() !== null) return 'times';
    if (extent === null || type === 'date' || type === undefined) return '';
    const decimals = type === 'money' ? 2 : NUMBER_DECIMALS;
    return `in the data ${showScaled(extent[0], decimals)} to ${showScaled(extent[1], decimals)}`;
  });

  constructor() {
    effect(() => {
      const field = this.readKey();
      this.impacts.state();
      void this.impacts.values(field, this.scope().place).then(
        (values) => {
          this.data.set(values);
        },
        () => {
          this.data.set(null);
        },
      );
    });
  }

  /** A value as people know it: what the admin named by its name, a country in English. */
  private shown(value: string): string {
    return valueWords(this.test().subject, value, this.wording());
  }

  private say(test: Test, negated = this.parts().negated): void {
    this.changed.emit(wrapped(test, negated));
  }

  protected chooseSubject(chosen: string): void {
    const subject = subjectsIn(this.scope()).find((one) => JSON.stringify(one) === chosen);
    if (subject !== undefined && chosen !== this.subject()) this.say(freshTest(subject, this.scope()));
  }

  protected narrow(how: Partial<Happening>): void {
    const happening = this.happening();
    if (happening !== null) this.say({ ...this.test(), subject: { ...happening, ...how } });
  }

  protected setWindow(days: string): void {
    const trimmed = days.trim();
    if (trimmed === '' || /^[1-9]\d*$/.test(trimmed)) this.narrow({ within: trimmed === '' ? null : Number(trimmed) });
  }

  protected chooseKind(kind: string): void {
    const negated = kind.startsWith('not ');
    const asked = (negated ? kind.slice(4) : kind) as PredicateKind;
    const now = this.test();
    if (asked === now.test) this.say(now, negated);
    else {
      const fresh = freshTest(now.subject, this.scope(), asked);
      // What was chosen for one question about texts serves the next one.
      this.say('values' in fresh && 'values' in now ? { ...fresh, values: now.values } : fresh, negated);
    }
  }

  protected setValues(values: readonly string[]): void {
    const test = this.test();
    if ('values' in test) this.say({ ...test, values: values.length > 0 ? values : [NO_VALUE] });
  }

  protected setValue(value: string): void {
    const test = this.test();
    if (test.test === 'one-of' && value !== '') this.say({ ...test, values: [value] });
  }

  protected setEnd(end: 'from' | 'to', at: string): void {
    const range = this.range();
    if (range === null) return;
    const trimmed = at.trim().replaceAll(',', '');
    const bound: Bound | null =
      trimmed === '' ? null : { at: trimmed, included: range[end]?.included ?? end === 'from' };
    const next = { ...range, [end]: bound };
    // One end must stay.
    if (next.from !== null || next.to !== null) this.say(next);
  }

  protected toggleEnd(end: 'from' | 'to'): void {
    const range = this.range();
    const bound = range?.[end];
    if (range && bound) this.say({ ...range, [end]: { ...bound, included: !bound.included } });
  }
}
