/**
 * The keys of both lists: the first's order, each newcomer of the second behind the one it stands behind there.
 *
 * @example mergedOrder(['a', 'b'], ['a', 'x', 'b']) // ['a', 'x', 'b']
 */
export function mergedOrder(first: readonly string[], second: readonly string[]): string[] {
  const keys = [...first];
  second.forEach((key, i) => {
    if (keys.includes(key)) return;
    const before = second
      .slice(0, i)
      .reverse()
      .find((one) => keys.includes(one));
    keys.splice(before === undefined ? 0 : keys.indexOf(before) + 1, 0, key);
  });
  return keys;
}
