import { InjectionToken } from '@angular/core';

/** What tests have in place of the worker; each gives its own. */
export const IMPACT_WORKER = new InjectionToken<() => Worker>('impact worker', {
  providedIn: 'root',
  factory: () => () => {
    throw new Error('This test gave no worker');
  },
});
