import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { FoundRecord, RecordDocument } from '@relvik/contracts';
import {
  type AnyRecord,
  bindCharter,
  type Charter,
  conditionsIn,
  dayOf,
  decide,
  type Decision,
  type Field,
  fieldName,
  type FieldRole,
  type Graded,
  gradeRecord,
  isTied,
  JUST_IN,
  keyOfRole,
  kindOfField,
  type MovingRecord,
  PIPELINE_KINDS,
  namesOf,
  readValue,
  type RecordKind,
  showValue,
  tiedFields,
  type Value,
  type Witness,
  type Wording,
  type World,
  countryToReadBy,
} from '@relvik/core';
import { type Observable, Subscription } from 'rxjs';
import { CharterService } from '../charter/charter.service';
import { WorldService } from '../people/world.service';
import { MomentService } from './moment.service';
import { pathOf, singularHeadingOf } from '../wording/kind-words';

/**
 * The result of one charter for the tracer, with the names to show it: a lead is decided, a deal scored, graded and taken through gates,
 * other records scored and graded.
 */
export type Traced =
  | { readonly kind: 'decided'; readonly result: Decision; readonly wording: Wording }
  | { readonly kind: 'gated'; readonly result: Decision; readonly wording: Wording }
  | { readonly kind: 'graded'; readonly result: Graded; readonly wording: Wording };

interface Carried {
  /** Null for a lead that was made up. */
  readonly id: number | null;
  readonly record: AnyRecord;
}

const MADE_UP: MovingRecord = {
  id: 'made up',
  kind: 'lead',
  arrived: 0,
  way: null,
  values: new Map(),
  activities: [],
  standing: JUST_IN,
};

function isMoving(record: AnyRecord): record is MovingRecord {
  return record.standing !== null && PIPELINE_KINDS.some((kind) => kind === record.kind);
}

/** The value of a record in a field, its own or across a tie. */
function valueIn(record: AnyRecord | null, field: string): Value | undefined {
  return record?.values.get(field) ?? record?.tied?.get(field);
}

/** The one record that is carried through the screens; what is typed over it stays here and changes nothing. */
@Injectable({ providedIn: 'root' })
export class TracerService {
  private readonly http = inject(HttpClient);
  private readonly charters = inject(CharterService);
  private readonly worlds = inject(WorldService);
  private readonly carried = signal<Carried | null>(null);
  private readonly read = signal<World | null>(null);
  /** The world in which it is decided; null: it is not read yet. */
  readonly world = this.read.asReadonly();
  private readonly moment = inject(MomentService);
  private readonly begun = signal(Date.now());
  /** When it is decided: now, or at the moment that was chosen. */
  private readonly asOf = computed(() => this.moment.at() ?? this.begun());
  private asking = Subscription.EMPTY;
  /** What if: raw values by field. */
  readonly typed = signal<ReadonlyMap<string, string>>(new Map());
  /** Whether the bar asks for a record. */
  readonly choosing = signal(false);
  readonly failed = signal(false);

  readonly id = computed(() => this.carried()?.id ?? null);
  readonly has = computed(() => this.carried() !== null);
  readonly kind = computed((): RecordKind => this.carried()?.record.kind ?? 'lead');
  /** The fields of its kind, and those of contacts and companies that the charter reads across a tie. */
  readonly fields = computed(() => {
    const charter = this.charters.shown();
    const kind = this.kind();
    const across = charter === null ? [] : tiedFields(conditionsIn(charter, kind), kind);
    return [...(this.world()?.fields.values() ?? [])]
      .filter(({ key, retired }) => !retired && (kindOfField(key) === kind || across.includes(key)))
      .map((field) => ({ ...field, name: fieldName(field) }));
  });

  private readonly record = computed((): AnyRecord | null => {
    const carried = this.carried();
    const world = this.world();
    const zone = this.charters.shown()?.timeZone;
    if (carried === null || world === null || zone === undefined) return null;
    const values = new Map(carried.record.values);
    const tied = new Map(carried.record.tied);
    for (const [key, raw] of this.typed()) {
      const field = world.fields.get(key);
      if (field === undefined) continue;
      const typed = this.typed();
      const { kind } = carried.record;
      const country = countryToReadBy(field, world.fields, kind, (one) => typed.get(one), carried.record.values);
      const value = readValue(field, raw, dayOf(this.asOf(), zone), country);
      (isTied(key, carried.record.kind) ? tied : values).set(key, value);
    }
    return { ...carried.record, values, tied };
  });

  readonly name = computed(() => {
    const record = this.record();
    const fields = this.world()?.fields ?? new Map<string, Field>();
    const text = (role: FieldRole): string =>
      showValue(record?.values.get(keyOfRole(fields, this.kind(), role) ?? '') ?? { kind: 'blank' });
    return (
      [text('name'), text('company')].filter(Boolean).join(' · ') ||
      (this.id() === null ? 'Made up' : `${singularHeadingOf(this.kind())} ${this.id()}`)
    );
  });
  readonly inForce = computed(() => this.trace(this.charters.inForce()?.charter ?? null));
  /** The same as in force while no draft is open. */
  readonly draft = computed(() =>
    this.charters.draft() === null ? this.inForce() : this.trace(this.charters.shown()),
  );

  /** A field's value as it is carried, and as it is stored. */
  valueOf(field: string): { readonly now: Value; readonly stored: Value } {
    const blank: Value = { kind: 'blank' };
    return {
      now: valueIn(this.record(), field) ?? blank,
      stored: valueIn(this.carried()?.record ?? null, field) ?? blank,
    };
  }

  private trace(charter: Charter | null): Traced | null {
    const record = this.record();
    const world = this.world();
    if (charter === null || record === null || world === null) return null;
    const binding = bindCharter(charter, world);
    if (!binding.ok) return null;
    const wording = {
      names: namesOf(charter, world),
      fields: world.fields,
      baseCurrency: charter.baseCurrency,
    };
    if (!isMoving(record))
      return { kind: 'graded', result: gradeRecord(binding.ready, record, world, this.asOf()), wording };
    const result = decide(binding.ready, record, this.moment.in(world), 'created', this.asOf());
    return { kind: record.kind === 'lead' ? 'decided' : 'gated', result, wording };
  }

  /** Carries a record along, as it would be decided or graded if it came in now. */
  carry(kind: RecordKind, id: number): void {
    this.begin();
    // Whoever is chosen last is carried, in whatever order the answers come.
    this.asking.unsubscribe();
    this.asking = this.http.get<RecordDocument>(`/api${pathOf(kind)}/${id}/record`).subscribe({
      next: ({ arrived, way, pin, values, tied, activities }) => {
        const record: AnyRecord = {
          ...{ id: String(id), kind, arrived, way, activities },
          values: new Map(values),
          tied: new Map(tied),
          standing: kind === 'lead' || kind === 'deal' ? { ...JUST_IN, pin } : null,
        };
        this.carried.set({ id, record });
      },
      error: () => {
        this.failed.set(true);
      },
    });
  }

  /** Carries a lead that does not exist: all its values are typed. */
  makeUp(): void {
    this.begin();
    this.asking.unsubscribe();
    this.carried.set({ id: null, record: { ...MADE_UP, arrived: Date.now() } });
  }

  /** The same with values that prove something; what is no value of a record can't be made up. */
  makeUpWith(witness: readonly Witness[]): void {
    this.makeUp();
    for (const { subject, value } of witness) if (subject.kind === 'field') this.whatIf(subject.field, value);
  }

  whatIf(field: string, raw: string): void {
    this.typed.update((typed) => new Map([...typed, [field, raw]]));
  }

  /** Takes back what was typed over: one field, or all. */
  asStored(field?: string): void {
    this.typed.update((typed) =>
      field === undefined ? new Map() : new Map([...typed].filter(([key]) => key !== field)),
    );
  }

  drop(): void {
    this.carried.set(null);
    this.typed.set(new Map());
  }

  /** Records of all kinds by name, e-mail, telephone or domain. */
  find(text: string): Observable<readonly FoundRecord[]> {
    return this.http.get<readonly FoundRecord[]>('/api/find', { params: { text } });
  }

  private begin(): void {
    this.typed.set(new Map());
    this.failed.set(false);
    this.choosing.set(false);
    this.begun.set(Date.now());
    this.worlds.read().subscribe((world) => {
      this.read.set(world);
    });
  }
}
