import { InjectionToken } from '@angular/core';

/** Makes the worker in which the population lives. Alone in this file: tests can't load `import.meta`. */
export const IMPACT_WORKER = new InjectionToken<() => Worker>('impact worker', {
  providedIn: 'root',
  factory: () => () => new Worker(new URL('./impact.worker', import.meta.url), { type: 'module' }),
});
