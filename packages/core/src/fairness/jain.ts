/**
 * Jain's index of fairness: (Σx)² / (n Σx²), from 1/n where one has all to 1 where all have the same.
 *
 * Source: R. Jain, D. Chiu, W. Hawe, "A Quantitative Measure of Fairness and Discrimination for Resource Allocation in
 * Shared Computer Systems", DEC Research Report TR-301, 1984.
 *
 * @returns null where there is nothing to compare: nobody, or all have 0
 * @example jainIndex([1, 2, 3, 4, 5]) // 0.8181818…
 */
export function jainIndex(amounts: readonly number[]): number | null {
  const sum = amounts.reduce((all, x) => all + x, 0);
  const squares = amounts.reduce((all, x) => all + x * x, 0);
  return squares === 0 ? null : (sum * sum) / (amounts.length * squares);
}
