/** A key that nothing has yet: keys are never reused, so it carries a part of the time. */
export function freshKey(kind: string, taken: readonly string[], now = Date.now()): string {
  const begun = `${kind}-${now.toString(36)}`;
  for (let n = 0; ; n += 1) {
    const key = n === 0 ? begun : `${begun}-${n}`;
    if (!taken.includes(key)) return key;
  }
}
