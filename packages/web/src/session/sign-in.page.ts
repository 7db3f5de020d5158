import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { type DemoSignIn, type ProblemDocument, signInSchema } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { catchError, of } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { problemIn } from '../api/problem-in';
import { SessionService } from './session.service';

/** Sign-in; on a demo its three people stand below, one click each. */
@Component({
  selector: 'rv-sign-in',
  imports: [FormsModule, ButtonModule, InputTextModule, ProblemNote],
  template: `
    <main class="alone">
      <img src="icon.svg" width="44" height="44" alt="" />
      <h1>Relvik</h1>
      <p class="quiet">Which leads deserve a salesperson, and which salesperson.</p>
      <form (ngSubmit)="signIn()" class="fields">
        <label for="email">E-mail</label>
        <input pInputText id="email" name="email" type="email" autocomplete="username" [(ngModel)]="email" />
        <label for="password">Password</label>
        <input
          pInputText
          id="password"
          name="password"
          type="password"
          autocomplete="current-password"
          [(ngModel)]="password"
        />
        <rv-problem-note [problem]="problem()" />
        <button pButton type="submit" [disabled]="busy()">Sign in</button>
      </form>
      @if (demo().length > 0) {
        <section class="demo" aria-label="Demo sign-ins">
          <h2>Demo world of Ostervane</h2>
          @for (one of demo(); track one.email) {
            <button type="button" class="link" (click)="signInAs(one)">
              {{ one.who }} <span class="code">{{ one.email }}</span>
            </button>
          }
        </section>
      }
    </main>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInPage {
  private readonly session = inject(SessionService);
  private readonly router = inject(Router);

  /** Where to go afterwards. */
  readonly then = input<string>();
  protected email = '';
  protected password = '';
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly demo = toSignal(this.session.demoSignIns().pipe(catchError(() => of([]))), { initialValue: [] });

  protected signInAs(one: DemoSignIn): void {
    this.email = one.email;
    this.password = one.password;
    this.signIn();
  }

  protected signIn(): void {
    const wrong = problemIn(signInSchema, { email: this.email, password: this.password });
    this.problem.set(wrong);
    if (wrong !== null || this.busy()) return;
    this.busy.set(true);
    this.session.signIn(this.email, this.password).subscribe({
      next: () => {
        const then = this.then();
        void this.router.navigateByUrl(then?.startsWith('/') && !then.startsWith('//') ? then : '/');
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
