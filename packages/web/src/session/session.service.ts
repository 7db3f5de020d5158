import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { DemoSignIn, Role, Session } from '@relvik/contracts';
import { catchError, map, type Observable, of, tap } from 'rxjs';

/** Who is signed in. */
@Injectable({ providedIn: 'root' })
export class SessionService {
  private readonly http = inject(HttpClient);
  private readonly current = signal<Session | null>(null);
  readonly session = this.current.asReadonly();

  /** The session that the browser's cookie opens, asked once. */
  resume(): Observable<Session | null> {
    const known = this.current();
    if (known !== null) return of(known);
    return this.http.get<Session>('/api/session').pipe(
      tap((session) => {
        this.current.set(session);
      }),
      catchError(() => of(null)),
    );
  }

  signIn(email: string, password: string): Observable<Session> {
    return this.http.post<Session>('/api/session', { email, password }).pipe(
      tap((session) => {
        this.current.set(session);
      }),
    );
  }

  signOut(): Observable<void> {
    return this.http.delete('/api/session').pipe(
      catchError(() => of(null)),
      map(() => {
        this.current.set(null);
      }),
    );
  }

  forget(): void {
    this.current.set(null);
  }

  is(role: Role): boolean {
    return this.current()?.role === role;
  }

  demoSignIns(): Observable<readonly DemoSignIn[]> {
    return this.http.get<readonly DemoSignIn[]>('/api/demo');
  }
}
