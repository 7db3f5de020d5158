import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { type IntakeState, newKeySchema, type ProblemDocument, type WayInSettings } from '@relvik/contracts';
import { type Handling, RECORD_KINDS } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { MultiSelectModule } from 'primeng/multiselect';
import type { Observable } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { ActivityFile } from './activity-file';
import { HandlingChoice } from '../record/handling-choice';
import { IntakeService, type WayInName } from './intake.service';
import { WayInPipeline } from './way-in-pipeline';
import { RecordFile } from './record-file';

const WAYS: Readonly<Record<string, string>> = {
  form: 'Hosted form',
  api: 'Other systems',
  hand: 'Typed in by hand',
  csv: 'CSV files',
};

/** Requests of another system, as examples to copy. */
function examplesAt(origin: string): readonly { readonly what: string; readonly text: string }[] {
  const call = (path: string, body: object): string =>
    [
      `curl ${origin}${path} \\`,
      `  -H 'Authorization: Bearer KEY' -H 'Content-Type: application/json' \\`,
      `  -d '${JSON.stringify(body)}'`,
    ].join('\n');
  const visit = { event: 'e-17', email: 'ann@firm.example', kind: 'page_visited', properties: { page: '/pricing' } };
  return [
    {
      what: 'A lead. Only fields chosen for the key are taken. A “pipeline” beside the values names another than the first.',
      text: call('/api/intake/leads', { values: { email: 'ann@firm.example', name: 'Ann Firth' } }),
    },
    {
      what: 'A contact; likewise companies and deals. A company that nobody knows is made.',
      text: call('/api/intake/contacts', {
        values: { 'contact.email': 'ann@firm.example', 'contact.name': 'Ann Firth' },
        company: 'Firth Works',
      }),
    },
    {
      what: 'What someone did, up to 1,000 at a time. The same event again counts once.',
      text: call('/api/intake/activities', { activities: [visit] }),
    },
  ];
}

/** Intake: the ways in, and what came by each. */
@Component({
  selector: 'rv-intake',
  imports: [
    FormsModule,
    ButtonModule,
    CheckboxModule,
    InputTextModule,
    MultiSelectModule,
    AgoPipe,
    ProblemNote,
    Waiting,
    ActivityFile,
    RecordFile,
    RouterLink,
    WayInPipeline,
    HandlingChoice,
  ],
  templateUrl: './intake.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class IntakePage {
  private readonly service = inject(IntakeService);
  protected readonly words = inject(WordingService);
  protected readonly loaded = signal<Loaded<IntakeState>>(LOADING);
  protected readonly state = computed(() => valueOf(this.loaded()));
  protected readonly ways = computed(() =>
    (this.state()?.ways ?? []).map((one) => ({ ...one, name: WAYS[one.way] ?? one.way })),
  );
  protected readonly fieldChoices = computed(() =>
    RECORD_KINDS.flatMap((kind) =>
      this.words.fieldsOf(kind).map(({ key, name }) => ({
        label: kind === 'lead' ? name : `${singularHeadingOf(kind)}: ${name}`,
        value: key,
      })),
    ),
  );
  protected readonly origin = location.origin;
  protected readonly examples = examplesAt(location.origin);
  /** The example that was copied last. */
  protected readonly copied = signal<string | null>(null);

  protected readonly secret = signal<string | null>(null);
  protected readonly keyProblem = signal<ProblemDocument | null>(null);
  protected keyName = '';
  protected keyFields: string[] = [];
  protected keyTrusted = true;

  constructor() {
    this.load();
  }

  protected load(): void {
    asLoaded(this.service.state()).subscribe((state) => {
      if (state.state !== 'loading' || this.state() === null) this.loaded.set(state);
    });
  }

  protected fieldNames(keys: readonly string[]): string {
    return keys.map((key) => this.words.wording().names.field(key)).join(', ');
  }

  protected async copy(text: string): Promise<void> {
    await navigator.clipboard.writeText(text);
    this.copied.set(text);
  }

  protected makeKey(): void {
    const key = { name: this.keyName, fields: this.keyFields, trusted: this.keyTrusted };
    const wrong = problemIn(newKeySchema, key);
    this.keyProblem.set(wrong);
    if (wrong !== null) return;
    this.act(this.service.makeKey(key), this.keyProblem, ({ secret }) => {
      this.secret.set(secret);
      this.keyName = '';
      this.keyFields = [];
    });
  }

  protected change(way: WayInName, settings: WayInSettings): void {
    this.act(this.service.change(way, settings), this.keyProblem, () => undefined);
  }

  protected changeByHand(handling: Handling): void {
    this.act(this.service.changeByHand(handling), this.keyProblem, () => {
      this.words.load();
    });
  }

  protected revoke(id: number): void {
    this.act(this.service.revokeKey(id), this.keyProblem, () => undefined);
  }

  private act<T>(work: Observable<T>, problem: typeof this.keyProblem, done: (value: T) => void): void {
    work.subscribe({
      next: (value) => {
        problem.set(null);
        done(value);
        this.load();
      },
      error: (error: unknown) => {
        problem.set(problemOf(error));
      },
    });
  }
}
