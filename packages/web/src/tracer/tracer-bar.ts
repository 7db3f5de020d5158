import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  type ElementRef,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { FoundRecord } from '@relvik/contracts';
import { RECORD_KINDS } from '@relvik/core';
import { catchError, debounceTime, of, Subject, switchMap } from 'rxjs';
import { tracerSteps } from './tracer-steps';
import { TracerService } from './tracer.service';

/** At the bottom: the record that is carried along, and what each step makes of it. */
@Component({
  selector: 'rv-tracer-bar',
  imports: [FormsModule, RouterLink],
  template: `
    @if (tracer.choosing()) {
      <div class="chooser">
        <input
          #finder
          type="search"
          aria-label="Find a record to carry"
          placeholder="Name, e-mail, telephone or domain"
          (keydown.escape)="tracer.choosing.set(false)"
          [(ngModel)]="find"
          (ngModelChange)="searches.next($event)"
        />
        @for (one of found(); track one.kind + one.id) {
          <button type="button" (click)="tracer.carry(one.kind, one.id)">
            {{ one.name }} <span>{{ one.kind }}{{ one.beside && ', ' + one.beside }}</span>
          </button>
        }
        <button type="button" class="other" (click)="tracer.makeUp()">Make one up</button>
        <button type="button" class="other" (click)="tracer.choosing.set(false)">Cancel</button>
      </div>
    } @else if (tracer.has()) {
      <div class="cell name">
        <span class="what">Tracer</span>
        <b>{{ tracer.name() }}</b>
      </div>
      @for (step of steps(); track step.name) {
        <div class="cell">
          <span class="what">{{ step.name }}</span>
          <span class="value">
            @if (step.inForce !== null) {
              {{ step.inForce }} <span class="then">→ {{ step.draft }}</span>
            } @else {
              {{ step.draft }}
            }
          </span>
        </div>
      }
      <div class="cell ends">
        <a routerLink="/tracer">Why? What if?</a>
        <button type="button" (click)="tracer.choosing.set(true)">Another</button>
      </div>
    } @else {
      <button type="button" class="tab" (click)="tracer.choosing.set(true)">
        {{ tracer.failed() ? 'That record could not be read: choose another' : 'Tracer: choose a record' }}
      </button>
    }
  `,
  host: {
    class: 'tracer',
    role: 'region',
    'aria-label': 'Tracer',
    // With no record carried it is a tab at the edge.
    '[class.folded]': '!tracer.has() && !tracer.choosing()',
  },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TracerBar {
  protected readonly tracer = inject(TracerService);
  protected readonly searches = new Subject<string>();
  protected readonly found = signal<readonly FoundRecord[]>([]);
  protected readonly steps = computed(() => tracerSteps(this.tracer.inForce(), this.tracer.draft()));
  private readonly finder = viewChild<ElementRef<HTMLInputElement>>('finder');
  protected find = '';

  constructor() {
    this.searches
      .pipe(
        debounceTime(200),
        switchMap((find) =>
          find.trim() === '' ? of([]) : this.tracer.find(find.trim()).pipe(catchError(() => of([]))),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((found) => {
        this.found.set(firstOfEach(found));
      });
    effect(() => {
      this.finder()?.nativeElement.focus();
    });
  }
}

/** Of each kind the first few. */
function firstOfEach(found: readonly FoundRecord[]): FoundRecord[] {
  return RECORD_KINDS.flatMap((kind) => found.filter((one) => one.kind === kind).slice(0, 3));
}
