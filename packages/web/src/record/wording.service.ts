import { HttpClient } from '@angular/common/http';
import { computed, inject, Injectable, signal } from '@angular/core';
import type { WordingDocument } from '@relvik/contracts';
import { type Field, namesFrom, type Wording } from '@relvik/core';

const NO_NAMES = {
  fields: [],
  stages: [],
  gates: [],
  signals: [],
  verdicts: [],
  territories: [],
  routes: [],
  reps: [],
  teams: [],
  queues: [],
  groups: [],
};

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
  readonly fields = computed(() => (this.document()?.fields ?? []).filter((field) => !field.retired));
  readonly lists = computed(() => this.document()?.names ?? NO_NAMES);
  /** How many rising bars the highest engagement band has above the lowest. */
  readonly engagementBands = computed(() => this.document()?.engagementBands ?? 4);

  load(): void {
    this.http.get<WordingDocument>('/api/wording').subscribe((document) => {
      this.document.set(document);
    });
  }
}
