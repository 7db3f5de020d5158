/**
 * How a value came to stand where it is: a hand set it on this very record; a trusted file or system told it of this very record
 * (`direct`); a way in that the admin trusts said it, or a gate set it; another way in said it, which fills blanks only.
 */
export const ORIGINS = ['hand', 'direct', 'trusted', 'untrusted'] as const;
export type Origin = (typeof ORIGINS)[number];
