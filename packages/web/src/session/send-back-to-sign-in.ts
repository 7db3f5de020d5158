import { HttpErrorResponse, type HttpInterceptorFn } from '@angular/common/http';
import { inject } from '@angular/core';
import { Router } from '@angular/router';
import { tap } from 'rxjs';
import { SessionService } from './session.service';

/** A session that has ended leads back to the sign-in, and from there to the same page. */
export const sendBackToSignIn: HttpInterceptorFn = (request, next) => {
  const router = inject(Router);
  const session = inject(SessionService);
  return next(request).pipe(
    tap({
      error: (error: unknown) => {
        if (!(error instanceof HttpErrorResponse) || error.status !== 401 || request.url === '/api/session') return;
        session.forget();
        void router.navigate(['/sign-in'], { queryParams: { then: router.url } });
      },
    }),
  );
};
