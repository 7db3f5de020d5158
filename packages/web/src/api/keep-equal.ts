function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && Object.getPrototypeOf(value) === Object.prototype;
}

/**
 * JSON as it is now, in which every part that equals what stood there before is that same object: whoever
 * shows such a part has nothing to do.
 */
export function keepEqual<T>(before: unknown, now: T): T {
  if (Object.is(before, now)) return now;
  if (Array.isArray(now)) {
    const kept = now.map((part: unknown, i): unknown =>
      Array.isArray(before) ? keepEqual(before[i] as unknown, part) : part,
    );
    const same = Array.isArray(before) && before.length === kept.length && kept.every((part, i) => part === before[i]);
    return (same ? before : kept) as T;
  }
  if (!isPlain(now) || !isPlain(before)) return now;
  const entries = Object.entries(now).map(([key, part]) => [key, keepEqual(before[key], part)] as const);
  const same =
    entries.length === Object.keys(before).length &&
    entries.every(([key, part]) => key in before && Object.is(before[key], part));
  return (same ? before : Object.fromEntries(entries)) as T;
}
