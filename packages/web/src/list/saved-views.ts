import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type ListQuery, type ProblemDocument, type SavedView, saveViewSchema } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { SessionService } from '../session/session.service';
import { ViewService } from './view.service';

/** Two lists are the same when their filters are, in whatever order the address has them. */
function isSame(a: ListQuery, b: ListQuery): boolean {
  const text = (query: ListQuery): string => JSON.stringify(Object.entries(query).sort());
  return text(a) === text(b);
}

/** Views by name: opened, saved, shared, taken away. */
@Component({
  selector: 'rv-saved-views',
  imports: [FormsModule, ButtonModule, CheckboxModule, InputTextModule, SelectModule, ProblemNote],
  template: `
    <p-select
      ariaLabel="View"
      [options]="choices()"
      optionLabel="label"
      optionValue="value"
      placeholder="Views"
      emptyMessage="No view is saved yet"
      [ngModel]="current()?.id ?? null"
      (ngModelChange)="open($event)"
    />
    @if (saving()) {
      <form (ngSubmit)="save()" (keydown.escape)="saving.set(false)">
        <input
          pInputText
          name="view-name"
          aria-label="Name of the view"
          placeholder="Name of the view"
          [(ngModel)]="name"
        />
        <span class="sharing"
          ><p-checkbox inputId="view-shared" name="view-shared" [binary]="true" [(ngModel)]="shared" />
          <label for="view-shared">everyone sees it</label></span
        >
        <button pButton type="submit">Save the view</button>
        <button type="button" class="link" (click)="saving.set(false)">Cancel</button>
      </form>
    } @else {
      @if (current(); as view) {
        @if (mayChange(view)) {
          <button
            type="button"
            class="link"
            [attr.aria-label]="'Take away the view ' + view.name"
            (click)="remove(view)"
          >
            Take the view away
          </button>
        }
      } @else {
        <button type="button" class="link" (click)="begin()">Save as a view</button>
      }
    }
    <rv-problem-note [problem]="problem()" />
  `,
  host: { class: 'saved-views' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SavedViews {
  private readonly service = inject(ViewService);
  private readonly admin = computed(() => this.sessions.is('admin'));
  private readonly sessions = inject(SessionService);
  /** The filters that are on, as the address has them. */
  readonly query = input.required<ListQuery>();
  readonly kind = input<RecordKind>('lead');
  readonly opened = output<ListQuery>();
  private readonly views = computed(() => this.service.views().filter((view) => view.kind === this.kind()));

  protected readonly saving = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected name = '';
  protected shared = false;

  protected readonly current = computed(() => this.views().find((view) => isSame(view.query, this.query())) ?? null);
  protected readonly choices = computed(() =>
    this.views().map(({ id, name, own, by, shared }) => ({
      value: id,
      label: own ? (shared ? `${name} · shared` : name) : `${name} · by ${by}`,
    })),
  );

  constructor() {
    this.service.load();
  }

  protected mayChange(view: SavedView): boolean {
    return view.own || this.admin();
  }

  protected open(id: number): void {
    const view = this.service.views().find((one) => one.id === id);
    if (view !== undefined) this.opened.emit(view.query);
  }

  protected begin(): void {
    this.name = '';
    this.shared = false;
    this.problem.set(null);
    this.saving.set(true);
  }

  protected save(): void {
    const view = { name: this.name, shared: this.shared, kind: this.kind(), query: this.query() };
    const wrong = problemIn(saveViewSchema, view);
    this.problem.set(wrong);
    if (wrong !== null) return;
    const own = this.views().find((one) => one.own && one.name === view.name.trim());
    this.run(this.service.save(view, own?.id ?? null));
  }

  protected remove(view: SavedView): void {
    this.run(this.service.remove(view.id));
  }

  private run(work: ReturnType<ViewService['remove']>): void {
    work.subscribe({
      next: () => {
        this.saving.set(false);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
