import { sameValue } from '../record/join';
import type { Instant } from '../record/keys';
import type { Origin } from '../record/origin';
import type { Value } from '../record/value';

/** A value that a lead has in a field which feeds one of its contact or company. */
export interface Saying {
  readonly value: Value;
  /** When the lead got it. */
  readonly at: Instant;
  readonly origin: Origin;
}

/** A value of a contact or company, and how it came there. */
export interface Kept {
  readonly value: Value;
  readonly origin: Origin;
}

/** A value that stands on a contact or company since an instant. */
export interface Own extends Kept {
  readonly at: Instant;
}

/** The result of feeding one field of a contact or company. */
export interface Fed {
  /** Its new value; null: it stays as it is. */
  readonly changed: Kept | null;
  /** The newest differing value from an untrusted way in; null: none. */
  readonly beside: Value | null;
}

function isReadable({ value }: Saying): boolean {
  return value.kind !== 'unreadable';
}

/** Of several sayings the newest; of those of one instant the one that stands last. */
function newest(sayings: readonly Saying[]): Saying | undefined {
  return sayings.reduce<Saying | undefined>(
    (best, one) => (best === undefined || one.at >= best.at ? one : best),
    undefined,
  );
}

function oldest(sayings: readonly Saying[]): Saying | undefined {
  return sayings.reduce<Saying | undefined>(
    (best, one) => (best === undefined || one.at < best.at ? one : best),
    undefined,
  );
}

/** Whether two values say the same; a text in other letters, `FJORD` for `Fjord`, is no news. */
function isSame(a: Value | undefined, b: Value | undefined): boolean {
  return sameValue(a, b) || (a?.kind === 'text' && b?.kind === 'text' && a.folded === b.folded);
}

/**
 * Merges the values that leads have for one field of their contact or company.
 *
 * The newest value from a trusted way in wins, and one that can be read over one that can't. Untrusted ways in fill blanks only:
 * without any other the first of them counts. A value set by hand stays until a hand changes it, one told directly until a trusted
 * lead says a newer one, and where no lead says anything all stays as it is.
 *
 * @param own what stands there now; undefined: blank
 * @param said what all its leads say, none of them blank
 * @param since sayings after this instant are new: an untrusted one among them that says otherwise stands beside
 *
 * @example
 * fedValue(undefined, [{ value: brewery, at: 1, origin: 'untrusted' }, { value: mill, at: 2, origin: 'untrusted' }], 0)
 * // { changed: { value: brewery, origin: 'untrusted' }, beside: mill }
 */
export function fedValue(own: Own | undefined, said: readonly Saying[], since: Instant): Fed {
  const sayings = own?.origin === 'direct' ? [...said, own] : said;
  const trusted = sayings.filter(({ origin }) => origin !== 'untrusted');
  const untrusted = sayings.filter(({ origin }) => origin === 'untrusted');
  const heard =
    newest(trusted.filter(isReadable)) ?? oldest(untrusted.filter(isReadable)) ?? newest(trusted) ?? oldest(untrusted);
  const stays = own?.origin === 'hand' || heard === undefined;
  // In the spelling that came first.
  const taken = stays ? undefined : oldest(sayings.filter((one) => isSame(one.value, heard.value)))?.value;
  const value = taken ?? own?.value;
  const changed =
    stays || taken === undefined || isSame(own?.value, taken)
      ? null
      : { value: taken, origin: heard.origin === 'hand' ? ('trusted' as const) : heard.origin };
  const otherwise = newest(untrusted.filter((one) => one.at > since && !isSame(one.value, value)));
  return { changed, beside: otherwise?.value ?? null };
}
