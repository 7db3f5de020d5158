import { type Choice, type Choosing, sift } from './method';

/** Chooses anyone who is eligible, each as likely, by the seed alone: the same record gets the same one again. */
export function random(choosing: Choosing): Choice {
  const { eligible, skipped } = sift(choosing);
  const at = eligible.length === 0 ? 0 : hash(choosing.seed) % eligible.length;
  return { chosen: eligible[at] ?? null, skipped, turn: choosing.turn };
}

/** FNV-1a over the characters, then mixed as in the finalizer of MurmurHash3, since FNV's low bits alone follow the last character. */
function hash(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
