import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { WordingDocument } from '@relvik/contracts';
import {
  type Axis,
  type Band,
  type Charter,
  type Field,
  keyOfRole,
  kindOfField,
  kindsFrom,
  namesFrom,
  NO_NAMES,
  type OwnPlaces,
  readableFields,
  type RecordKind,
  type Scope,
  type ScopeAround,
  type Stage,
  withNamesOf,
  type Wording,
} from '@relvik/core';

/** What things are called, for every page that puts keys into words. */
@Injectable({ providedIn: 'root' })
export class WordingService {
  private readonly http = inject(HttpClient);
  private readonly document = signal<WordingDocument | null>(null);

  readonly wording = computed((): Wording => {
    const document = this.document();
    return {
      names: namesFrom({ ...this.lists(), reps: [...this.lists().reps, ...(document?.retired ?? [])] }),
      fields: new Map((document?.fields ?? []).map((field): [string, Field] => [field.key, field])),
      baseCurrency: document?.baseCurrency ?? '',
    };
  });
  /** With the names of a draft's own parts. */
  wordingOf(charter: Charter): Wording {
    const wording = this.wording();
    return { ...wording, names: withNamesOf(charter, wording.names) };
  }

  /** Fields in use, of all kinds. */
  private readonly inUse = computed(() => (this.document()?.fields ?? []).filter((field) => !field.retired));
  private readonly ownFields = {
    lead: computed(() => this.inUse().filter(({ key }) => kindOfField(key) === 'lead')),
    contact: computed(() => this.inUse().filter(({ key }) => kindOfField(key) === 'contact')),
    company: computed(() => this.inUse().filter(({ key }) => kindOfField(key) === 'company')),
    deal: computed(() => this.inUse().filter(({ key }) => kindOfField(key) === 'deal')),
  };
  /** The fields of leads that are in use. */
  readonly fields = this.ownFields.lead;

  /** The key of the field that holds the country of a kind's records; empty: it has none. */
  countryKey(kind: RecordKind): string {
    return keyOfRole(this.catalogue(), kind, 'country') ?? '';
  }

  fieldsOf(kind: RecordKind): readonly Field[] {
    return this.ownFields[kind]();
  }
  readonly lists = computed(() => this.document()?.names ?? NO_NAMES);
  readonly kinds = computed(() => (this.document()?.kinds ?? []).filter((kind) => !kind.retired));
  private readonly grids = computed(() => this.gridsOf('lead'));
  readonly leadSets = computed(() => this.setsFor('lead'));
  /** The bands of all score sets for leads, lowest first. */
  readonly bands = computed(() => {
    const { fitBands, engagementBands } = this.lists();
    return { fit: fitBands, engagement: engagementBands };
  });
  /** How many rising bars the highest engagement band has above the lowest. */
  readonly engagementBands = computed(() => Math.max(1, ...this.grids().map(({ engagement }) => engagement.length)));

  pipelinesOf(kind: RecordKind): WordingDocument['pipelines'] {
    return (this.document()?.pipelines ?? []).filter(({ of }) => of === kind);
  }

  /** The stages of the records of a kind, of one pipeline after the other; where two are called the same, each with its pipeline. */
  stagesOf(kind: RecordKind): readonly Stage[] {
    const { names } = this.wording();
    return this.pipelinesOf(kind).flatMap(({ stages }) =>
      stages.map((one) => ({ ...one, name: names.stage(one.key) })),
    );
  }

  private gridsOf(kind: RecordKind): WordingDocument['grids'] {
    return (this.document()?.grids ?? []).filter(({ of }) => of === kind);
  }

  /** The bands of the score sets for a kind, lowest first; those of one key once. */
  bandsOf(kind: RecordKind, axis: Axis): readonly Band[] {
    return [...new Map(this.gridsOf(kind).flatMap((grid) => grid[axis].map((band) => [band.key, band]))).values()];
  }

  /** The score sets for a kind. */
  setsFor(kind: RecordKind): WordingDocument['names']['sets'] {
    const keys = new Set(this.gridsOf(kind).map(({ set }) => set));
    return this.lists().sets.filter(({ key }) => keys.has(key));
  }

  /** How far rules are asked of leads typed in or edited by hand, where nothing else is said. */
  readonly byHand = computed(() => this.document()?.byHand ?? 'decide');

  readonly catalogue = computed(() => new Map(this.inUse().map((field) => [field.key, field])));

  /** The admin's own regions, and spellings of regions. */
  readonly places = computed((): Required<OwnPlaces> => {
    const field = this.inUse().find(({ type }) => type === 'region');
    return { ownRegions: field?.ownRegions ?? [], spellings: field?.spellings ?? [] };
  });
  readonly countrySpellings = computed(() => this.inUse().find(({ type }) => type === 'country')?.spellings ?? []);

  /** The things outside the charter that conditions may name. */
  readonly around = computed((): ScopeAround => ({
    fields: this.catalogue(),
    kinds: kindsFrom(this.document()?.kinds ?? []),
    reps: new Map(this.lists().reps.map(({ key }) => [key, null])),
    teams: new Map(this.lists().teams.map(({ key }) => [key, null])),
  }));

  /** The scope of conditions over stored records of a kind. */
  listScope(kind: RecordKind = 'lead'): Scope {
    const { territories } = this.lists();
    const keys = (list: readonly { readonly key: string }[]): string[] => list.map(({ key }) => key);
    return {
      place: 'list',
      fields: readableFields(this.catalogue(), kind),
      baseCurrency: this.wording().baseCurrency,
      kinds: this.around().kinds,
      owners: keys(this.lists().reps),
      teams: keys(this.lists().teams),
      sets: keys(this.setsFor(kind)),
      bands: { fit: keys(this.bandsOf(kind, 'fit')), engagement: keys(this.bandsOf(kind, 'engagement')) },
      stages: keys(this.stagesOf(kind)),
      territories: kind === 'lead' ? keys(territories) : [],
      // Which lies in which is known where the list is asked for.
      inside: new Map(),
    };
  }

  load(): void {
    this.http.get<WordingDocument>('/api/wording').subscribe((document) => {
      this.document.set(document);
    });
  }
}
