/** One of the options of a filter. */
export interface Choice {
  readonly label: string;
  readonly value: string | null;
}

export const STATUSES: readonly Choice[] = [
  { label: 'Open', value: 'open' },
  { label: 'Won', value: 'won' },
  { label: 'Lost', value: 'lost' },
  { label: 'Disqualified', value: 'disqualified' },
  { label: 'All, open and closed', value: 'any' },
];
export const PLACES: readonly Choice[] = [
  { label: 'Anywhere', value: null },
  { label: 'With an owner', value: 'owner' },
  { label: 'In a queue', value: 'queue' },
  { label: 'In the bay', value: 'bay' },
  { label: 'Not handed over', value: 'not-handed-over' },
];
export const ORDERS: readonly Choice[] = [
  { label: 'Best rank first', value: 'rank' },
  { label: 'Best fit first', value: 'fit' },
  { label: 'Most engaged first', value: 'engagement' },
  { label: 'Newest first', value: 'newest' },
  { label: 'Oldest first', value: 'oldest' },
];

/** Bands as choices: “Fit A”. */
export function bandsNamed(
  axis: string,
  bands: readonly { readonly key: string; readonly name: string }[],
): { readonly key: string; readonly name: string }[] {
  return bands.map(({ key, name }) => ({ key, name: `${axis} ${name}` }));
}

/** All, or one of what is named. */
export function choices(all: string, named: readonly { readonly key: string; readonly name: string }[]): Choice[] {
  return [{ label: all, value: null }, ...named.map(({ key, name }) => ({ label: name, value: key }))];
}
