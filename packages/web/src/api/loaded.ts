import type { ProblemDocument } from '@relvik/contracts';
import { catchError, map, type Observable, of, startWith } from 'rxjs';
import { problemOf } from './problem';

/** Data on their way from the server. */
export type Loaded<T> =
  | { readonly state: 'loading' }
  | { readonly state: 'failed'; readonly problem: ProblemDocument }
  | { readonly state: 'ready'; readonly value: T };

export const LOADING: Loaded<never> = { state: 'loading' };

/** Loading first, then the value or what went wrong; never an error. */
export function asLoaded<T>(source: Observable<T>): Observable<Loaded<T>> {
  return source.pipe(
    map((value): Loaded<T> => ({ state: 'ready', value })),
    startWith(LOADING),
    catchError((error: unknown) => of<Loaded<T>>({ state: 'failed', problem: problemOf(error) })),
  );
}

/** The value once it is there, else null. */
export function valueOf<T>(loaded: Loaded<T>): T | null {
  return loaded.state === 'ready' ? loaded.value : null;
}
