/**
 * The difference between a document and the one before it. `same`: the part is unchanged; `is`: a new value in its place. A list is
 * written as runs of the list before, `[from, count]`, and the new or changed parts between them.
 */
export type Delta =
  | { readonly same: true }
  | { readonly is: unknown }
  | { readonly list: readonly (readonly [number, number] | Delta)[] }
  | { readonly members: Readonly<Record<string, Delta>> };

function isMembers(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Computes the difference between two documents. Parts that both share are skipped, so the time grows with the size of the difference. */
export function deltaOf(before: unknown, now: unknown): Delta {
  if (Object.is(before, now)) return { same: true };
  if (Array.isArray(before) && Array.isArray(now)) return { list: listDelta(before, now) };
  if (!isMembers(before) || !isMembers(now)) return { is: now };
  return {
    // As JSON has it, an undefined member is none.
    members: Object.fromEntries(
      Object.entries(now).flatMap(([name, part]) => (part === undefined ? [] : [[name, deltaOf(before[name], part)]])),
    ),
  };
}

function listDelta(before: readonly unknown[], now: readonly unknown[]): (readonly [number, number] | Delta)[] {
  const placeOf = new Map(before.map((part, i) => [part, i]));
  const told: (readonly [number, number] | Delta)[] = [];
  let stretch: [number, number] | null = null;
  now.forEach((part, i) => {
    const place = placeOf.get(part);
    if (place === undefined) {
      stretch = null;
      told.push(deltaOf(before[i], part));
    } else if (stretch !== null && stretch[0] + stretch[1] === place) stretch[1] += 1;
    else {
      stretch = [place, 1];
      told.push(stretch);
    }
  });
  return told;
}

/** The document that follows; it shares the parts that are the same with the one before. */
export function applyDelta(before: unknown, delta: Delta): unknown {
  if ('same' in delta) return before;
  if ('is' in delta) return delta.is;
  if ('members' in delta) {
    const known = isMembers(before) ? before : {};
    return Object.fromEntries(
      Object.entries(delta.members).map(([name, part]) => [name, applyDelta(known[name], part)]),
    );
  }
  const known: readonly unknown[] = Array.isArray(before) ? before : [];
  const now: unknown[] = [];
  for (const part of delta.list)
    if (isStretch(part)) now.push(...known.slice(part[0], part[0] + part[1]));
    else now.push(applyDelta(known[now.length], part));
  return now;
}

function isStretch(part: readonly [number, number] | Delta): part is readonly [number, number] {
  return Array.isArray(part);
}
