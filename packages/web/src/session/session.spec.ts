import { HttpClient, provideHttpClient, withInterceptors } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import { provideRouter, Router, UrlTree } from '@angular/router';
import { firstValueFrom, type Observable } from 'rxjs';
import { onlyFor, signedIn } from './guards';
import { sendBackToSignIn } from './send-back-to-sign-in';
import { SessionService } from './session.service';

let http: HttpTestingController;
beforeEach(() => {
  TestBed.configureTestingModule({
    providers: [
      provideHttpClient(withInterceptors([sendBackToSignIn])),
      provideHttpClientTesting(),
      provideRouter([{ path: '**', children: [] }]),
    ],
  });
  http = TestBed.inject(HttpTestingController);
});

async function guarded(guard: typeof signedIn, url: string, answer: 'rep' | 'admin' | null): Promise<string> {
  const result = TestBed.runInInjectionContext(() => guard({} as never, { url } as never)) as Observable<
    boolean | UrlTree
  >;
  const outcome = firstValueFrom(result);
  for (const asked of http.match('/api/session')) {
    if (answer === null) asked.flush({}, { status: 401, statusText: 'no' });
    else asked.flush({ key: 'x', name: 'X', role: answer });
  }
  const allowed = await outcome;
  return allowed instanceof UrlTree ? allowed.toString() : String(allowed);
}

test('who is not signed in is sent to the sign-in and back to the same page afterwards', async () => {
  expect(await guarded(signedIn, '/leads?stage=qualified', null)).toBe('/sign-in?then=%2Fleads%3Fstage%3Dqualified');
  expect(await guarded(signedIn, '/', null)).toBe('/sign-in');
  expect(await guarded(signedIn, '/leads', 'rep')).toBe('true');
});

test('a page for admins sends others home, and the session is asked for once', async () => {
  expect(await guarded(onlyFor('admin'), '/score', 'rep')).toBe('/');
  expect(await guarded(onlyFor('rep'), '/', null)).toBe('true');
  http.verify();
});

test('a session that has ended is forgotten and leads to the sign-in; other errors do not', () => {
  const sessions = TestBed.inject(SessionService);
  sessions.signIn('a', 'b').subscribe();
  http.expectOne('/api/session').flush({ key: 'x', name: 'X', role: 'admin' });
  expect(sessions.is('admin')).toBe(true);
  const navigate = jest.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  const ask = (status: number) => {
    TestBed.inject(HttpClient)
      .get('/api/leads')
      .subscribe({ error: () => undefined });
    http.expectOne('/api/leads').flush({}, { status, statusText: 'no' });
  };
  ask(500);
  expect(navigate).not.toHaveBeenCalled();
  ask(401);
  expect(navigate).toHaveBeenCalledWith(['/sign-in'], { queryParams: { then: '/' } });
  expect(sessions.session()).toBeNull();
});
