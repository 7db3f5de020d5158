import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { ProblemDocument, PublicForm } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { switchMap } from 'rxjs';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { messageAt, problemOf } from '../api/problem';
import { Waiting } from '../api/waiting';
import { ValueField } from '../record/value-field';
import { IntakeService } from './intake.service';

/** A hosted form, open to anyone. What can't be read is asked for again once; then it is sent as it is. */
@Component({
  selector: 'rv-form',
  imports: [ButtonModule, ValueField, Waiting],
  template: `
    <main class="alone wide">
      @if (form(); as shown) {
        @if (sent()) {
          <h1>{{ shown.title }}</h1>
          <p role="status">{{ shown.thanks }}</p>
        } @else {
          <h1>{{ shown.title }}</h1>
          <p class="quiet">{{ shown.intro }}</p>
          <form (submit)="send($event)" class="fields two" novalidate>
            @for (field of shown.fields; track field.key) {
              <label [for]="'f-' + field.key"
                >{{ field.name }}
                @if (field.required) {
                  <span class="quiet"> needed</span>
                }
              </label>
              <div>
                <rv-value-field
                  [id]="'f-' + field.key"
                  [field]="field"
                  [value]="values()[field.key] ?? ''"
                  [country]="values()[countryKey()] ?? ''"
                  (changed)="set(field.key, $event)"
                />
                @if (message(field.key); as wrong) {
                  <small class="wrong">{{ wrong }}</small>
                }
              </div>
            }
            <div class="trap" aria-hidden="true">
              <label for="website">Leave this empty</label
              ><input id="website" #website tabindex="-1" autocomplete="off" />
            </div>
            @if (problem(); as wrong) {
              <p class="problem" role="alert">
                <strong>{{ wrong.title }}</strong> {{ wrong.detail }}
                @if (unreadable()) {
                  <button type="button" class="link" (click)="deliver(website.value, true)">Send it as it is</button>
                }
              </p>
            }
            <button pButton type="submit" [disabled]="busy()">Send</button>
          </form>
        }
      } @else {
        <rv-waiting [of]="loaded()" />
      }
    </main>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FormPage {
  private readonly intake = inject(IntakeService);
  readonly slug = input.required<string>();
  protected readonly loaded = signal<Loaded<PublicForm>>(LOADING);
  protected readonly countryKey = computed(
    () => valueOf(this.loaded())?.fields.find(({ type }) => type === 'country')?.key ?? '',
  );
  protected readonly form = computed(() => valueOf(this.loaded()));
  protected readonly values = signal<Readonly<Record<string, string>>>({});
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  protected readonly sent = signal(false);

  /** All that is left is what can't be read, not what is missing. */
  protected readonly unreadable = computed(() => {
    const errors = this.problem()?.errors ?? [];
    return (
      errors.length > 0 &&
      errors.every(({ message }) => message !== 'please fill this in' && !message.startsWith('nothing tells'))
    );
  });

  constructor() {
    toObservable(this.slug)
      .pipe(switchMap((slug) => asLoaded(this.intake.form(slug))))
      .subscribe((form) => {
        this.loaded.set(form);
      });
  }

  protected set(key: string, value: string): void {
    this.values.update((values) => ({ ...values, [key]: value }));
  }

  protected message(key: string): string | null {
    return messageAt(this.problem(), `/values/${key}`);
  }

  protected send(event: Event): void {
    event.preventDefault();
    const trap = (event.target as HTMLFormElement).elements.namedItem('website');
    this.deliver(trap instanceof HTMLInputElement ? trap.value : '', false);
  }

  protected deliver(website: string, anyway: boolean): void {
    const form = this.form();
    if (form === null || this.busy()) return;
    this.busy.set(true);
    const values = Object.fromEntries(Object.entries(this.values()).filter(([, value]) => value !== ''));
    this.intake
      .sendForm(form.slug, {
        token: form.token,
        values,
        ...(website ? { website } : {}),
        ...(anyway ? { anyway } : {}),
      })
      .subscribe({
        next: () => {
          this.sent.set(true);
        },
        error: (error: unknown) => {
          this.busy.set(false);
          this.problem.set(problemOf(error));
        },
      });
  }
}
