function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;
}

/**
 * JSON as it is now, in which every part that equals what stood there before is that same object: whoever
 * shows such a part has nothing to do.
 */
export function keepEqual<T>(before: unknown, now: T): T {
  if (Object.is(before, now)) return now;
  if (Array.isArray(now)) return (Array.isArray(before) ? keepParts(before, now) : now) as T;
  return (isPlain(now) && isPlain(before) ? keepMembers(before, now) : now) as T;
}

function keepParts(before: readonly unknown[], now: readonly unknown[]): readonly unknown[] {
  const kept = now.map((part, i) => keepEqual(before[i], part));
  return haveSameParts(before, kept) ? before : kept;
}

/** Whether two lists have the very same parts. */
export function haveSameParts(one: readonly unknown[], other: readonly unknown[]): boolean {
  return one.length === other.length && one.every((part, i) => Object.is(part, other[i]));
}

function keepMembers(before: Record<string, unknown>, now: Record<string, unknown>): Record<string, unknown> {
  const keys = Object.keys(now);
  let isSame = keys.length === Object.keys(before).length;
  let kept = now;
  for (const key of keys) {
    const [was, is] = [before[key], now[key]];
    const part = keepEqual(was, is);
    if (!Object.is(was, part) || !(key in before)) isSame = false;
    if (Object.is(is, part)) continue;
    if (kept === now) kept = { ...now };
    kept[key] = part;
  }
  return isSame ? before : kept;
}
