import { firstOnTheList } from './first-on-the-list';
import { lightestLoad } from './lightest-load';
import { firstFree } from './longest-idle';
import type { Choice, Choosing, Method } from './method';
import { random } from './random';
import { roundRobin } from './round-robin';
import { weighted } from './weighted';

const BY_METHOD: Readonly<Record<Method, (choosing: Choosing) => Choice>> = {
  'round-robin': roundRobin,
  weighted,
  'lightest-load': lightestLoad,
  'first-free': firstFree,
  'first-on-the-list': firstOnTheList,
  random,
};

/** Chooses one of several people. Changes nothing. */
export function chooseByMethod(method: Method, choosing: Choosing): Choice {
  return BY_METHOD[method](choosing);
}

/** Whether a method remembers from one record to the next whose turn it is. */
export function takesTurns(method: Method): boolean {
  return method === 'round-robin' || method === 'weighted';
}
