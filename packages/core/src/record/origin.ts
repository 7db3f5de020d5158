/**
 * How a value came to stand where it is: a hand set it on this very record; a way in that the admin trusts said it; another way
 * in said it, which fills blanks only.
 */
export const ORIGINS = ['hand', 'trusted', 'untrusted'] as const;
export type Origin = (typeof ORIGINS)[number];
