import { ChangeDetectionStrategy, Component, computed, type ElementRef, inject, input, viewChild } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import type { FoundRecord } from '@relvik/contracts';
import { RECORD_KINDS, type RecordKind } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { debounceTime, of, Subject, switchMap } from 'rxjs';
import { asLoaded, type Loaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { headingOf, pathOf } from '../wording/kind-words';
import { RecordService } from './record.service';

const SOON = 200;
const NOTHING: Loaded<readonly FoundRecord[]> = { state: 'ready', value: [] };

/** Finds leads, contacts, companies and deals by name, e-mail, telephone or domain. */
@Component({
  selector: 'rv-find',
  imports: [RouterLink, InputTextModule, Waiting],
  template: `
    <section class="page find">
      <h1>Find</h1>
      <input
        pInputText
        #finder
        type="search"
        class="finder"
        aria-label="Name, e-mail, telephone or domain"
        placeholder="Name, e-mail, telephone or domain"
        [value]="text() ?? ''"
        (input)="typed.next(finder.value)"
      />
      @if (found(); as all) {
        @for (group of all; track group.kind) {
          <h2>{{ group.heading }}</h2>
          <ul class="found">
            @for (one of group.records; track one.id) {
              <li>
                <a [routerLink]="linkOf(one)">{{ one.name || 'No name yet' }}</a>
                @if (one.beside) {
                  <span class="quiet">{{ one.beside }}</span>
                }
              </li>
            }
          </ul>
        } @empty {
          @if (text()) {
            <p class="quiet">Nothing is called that, as far as you may see.</p>
          }
        }
      } @else {
        <rv-waiting [of]="loaded()" />
      }
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FindPage {
  private readonly records = inject(RecordService);
  private readonly router = inject(Router);
  /** From the address. */
  readonly text = input<string>();
  private readonly finder = viewChild<ElementRef<HTMLInputElement>>('finder');
  protected readonly typed = new Subject<string>();

  protected readonly loaded = toSignal(
    toObservable(this.text).pipe(
      switchMap((text) =>
        (text ?? '').trim() === '' ? of(NOTHING) : asLoaded(this.records.find((text ?? '').trim())),
      ),
    ),
    { initialValue: LOADING },
  );
  protected readonly found = computed(() => {
    const all = valueOf(this.loaded());
    return (
      all &&
      RECORD_KINDS.map((kind) => ({
        kind,
        heading: headingOf(kind),
        records: all.filter((one) => one.kind === kind),
      })).filter(({ records }) => records.length > 0)
    );
  });

  constructor() {
    toObservable(this.finder).subscribe((finder) => finder?.nativeElement.focus());
    this.typed.pipe(debounceTime(SOON)).subscribe((text) => {
      void this.router.navigate([], { queryParams: { text: text || null }, replaceUrl: true });
    });
  }

  protected linkOf({ kind, id }: { readonly kind: RecordKind; readonly id: number }): unknown[] {
    return [pathOf(kind), id];
  }
}
