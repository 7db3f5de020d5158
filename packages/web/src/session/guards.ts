import { inject } from '@angular/core';
import { type CanActivateFn, Router } from '@angular/router';
import type { Role } from '@relvik/contracts';
import { map } from 'rxjs';
import { SessionService } from './session.service';

/** Lets in who is signed in; sends others to the sign-in, and back afterwards. */
export const signedIn: CanActivateFn = (_route, state) => {
  const router = inject(Router);
  return inject(SessionService)
    .resume()
    .pipe(
      map(
        (session) =>
          session !== null ||
          router.createUrlTree(['/sign-in'], { queryParams: state.url === '/' ? {} : { then: state.url } }),
      ),
    );
};

/** Lets in these roles; sends others home. */
export function onlyFor(...roles: readonly Role[]): CanActivateFn {
  return () => {
    const router = inject(Router);
    return inject(SessionService)
      .resume()
      .pipe(map((session) => (session !== null && roles.includes(session.role)) || router.createUrlTree(['/'])));
  };
}
