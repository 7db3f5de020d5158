import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { WordingDocument } from '@relvik/contracts';
import {
  type Charter,
  type Field,
  kindsFrom,
  namesFrom,
  NO_NAMES,
  type Scope,
  type ScopeAround,
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
      names: namesFrom(document?.names ?? NO_NAMES),
      fields: new Map((document?.fields ?? []).map((field): [string, Field] => [field.key, field])),
      baseCurrency: document?.baseCurrency ?? '',
    };
  });
  /** With the names of a draft's own parts. */
  wordingOf(charter: Charter): Wording {
    const wording = this.wording();
    return { ...wording, names: withNamesOf(charter, wording.names) };
  }

  readonly fields = computed(() => (this.document()?.fields ?? []).filter((field) => !field.retired));
  readonly lists = computed(() => this.document()?.names ?? NO_NAMES);
  readonly kinds = computed(() => (this.document()?.kinds ?? []).filter((kind) => !kind.retired));
  private readonly grids = computed(() => (this.document()?.grids ?? []).filter(({ of }) => of === 'lead'));
  readonly leadSets = computed(() => this.setsFor('lead'));
  readonly companySets = computed(() => this.setsFor('company'));
  /** The bands of all score sets for leads, lowest first. */
  readonly bands = computed(() => {
    const { fitBands, engagementBands } = this.lists();
    return { fit: fitBands, engagement: engagementBands };
  });
  /** How many rising bars the highest engagement band has above the lowest. */
  readonly engagementBands = computed(() => Math.max(1, ...this.grids().map(({ engagement }) => engagement.length)));

  private setsFor(kind: 'lead' | 'company'): WordingDocument['names']['sets'] {
    const keys = new Set((this.document()?.grids ?? []).filter(({ of }) => of === kind).map(({ set }) => set));
    return this.lists().sets.filter(({ key }) => keys.has(key));
  }

  readonly catalogue = computed(() => new Map(this.fields().map((field) => [field.key, field])));

  /** The things outside the charter that conditions may name. */
  readonly around = computed((): ScopeAround => ({
    fields: this.catalogue(),
    kinds: kindsFrom(this.document()?.kinds ?? []),
    reps: new Map(this.lists().reps.map(({ key }) => [key, null])),
    teams: new Map(this.lists().teams.map(({ key }) => [key, null])),
  }));

  /** The scope of conditions over stored leads. */
  readonly listScope = computed((): Scope => {
    const { stages, territories } = this.lists();
    const keys = (list: readonly { readonly key: string }[]): string[] => list.map(({ key }) => key);
    return {
      place: 'list',
      fields: this.catalogue(),
      baseCurrency: this.wording().baseCurrency,
      kinds: this.around().kinds,
      owners: keys(this.lists().reps),
      teams: keys(this.lists().teams),
      sets: this.leadSets().map(({ key }) => key),
      bands: { fit: keys(this.bands().fit), engagement: keys(this.bands().engagement) },
      stages: keys(stages),
      territories: keys(territories),
      // Which lies in which is known where the list is asked for.
      inside: new Map(),
    };
  });

  load(): void {
    this.http.get<WordingDocument>('/api/wording').subscribe((document) => {
      this.document.set(document);
    });
  }
}
