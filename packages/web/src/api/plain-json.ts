const plain = new WeakSet<object>();

/**
 * A document as JSON has it: members without a value are left out. Parts that are so already stay the objects that they are, and are
 * not looked through again.
 */
export function plainJson(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || plain.has(value)) return value;
  const made = Array.isArray(value) ? plainParts(value) : plainMembers(value as Record<string, unknown>);
  plain.add(made);
  return made;
}

function plainParts(parts: readonly unknown[]): readonly unknown[] {
  const made = parts.map(plainJson);
  return made.every((part, i) => Object.is(part, parts[i])) ? parts : made;
}

function plainMembers(members: Readonly<Record<string, unknown>>): Readonly<Record<string, unknown>> {
  const given = Object.entries(members);
  const made = given.flatMap(([name, part]) => (part === undefined ? [] : [[name, plainJson(part)] as const]));
  const isSame = made.length === given.length && made.every(([, part], i) => Object.is(part, given[i]?.[1]));
  return isSame ? members : Object.fromEntries(made);
}
