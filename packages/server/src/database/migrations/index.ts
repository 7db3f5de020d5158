import { FirstSchema1764000000000 } from './1764000000000-first-schema';

/** In the order in which they run. */
export const MIGRATIONS = [FirstSchema1764000000000];
