import { type Axis, BAY_LABEL, type Charter, type FacetName, type Flow, type Names } from '@relvik/core';

/** A grade taken apart: its bands by place, and its name; null for no grade. */
export interface GradeParts {
  readonly name: string | null;
  readonly fit: number | null;
  readonly fitName: string;
  readonly engagement: number | null;
  readonly engagementName: string;
}

/** The bands of a grade's name in a charter: of the first set that has a grade of that name. */
export function gradeParts(name: string, charter: Charter | null): GradeParts {
  for (const { grid } of charter?.scoreSets ?? [])
    for (const [fit, fitName] of grid.fit.names.entries())
      for (const [engagement, engagementName] of grid.engagement.names.entries())
        if (name === `${fitName} ${engagementName}`) return { name, fit, fitName, engagement, engagementName };
  return { name: null, fit: null, fitName: '', engagement: null, engagementName: '' };
}

/** Flows between grades as flows between the bands of one axis. */
export function bandFlows(flows: readonly Flow[], axis: Axis, before: Charter | null, after: Charter | null): Flow[] {
  const name = axis === 'fit' ? 'fitName' : 'engagementName';
  const sums = new Map<string, Flow>();
  for (const { from, to, count } of flows) {
    const bands = { from: gradeParts(from, before)[name], to: gradeParts(to, after)[name] };
    const key = JSON.stringify(bands);
    sums.set(key, { ...bands, count: (sums.get(key)?.count ?? 0) + count });
  }
  return [...sums.values()];
}

/** A label of a facet as people read it. */
export function labelWords(facet: FacetName | 'place', label: string, names: Names): string {
  if (label === '') return facet === 'place' ? 'not handed over' : 'none';
  switch (facet) {
    case 'grade':
      return label;
    case 'stage':
      return names.stage(label);
    case 'territory':
      return names.territory(label);
    case 'place': {
      if (label === BAY_LABEL) return 'bay';
      const [kind, key = ''] = label.split(':');
      return kind === 'owner' ? names.rep(key) : `queue ${names.queue(key)}`;
    }
  }
}

/** A number of changes, or nothing where there are none. */
export function withChange(count: number): string | null {
  return count === 0 ? null : count.toLocaleString('en');
}

/** A difference with its sign, or nothing where there is none. */
export function difference({ before, after }: { readonly before: number; readonly after: number }): string | null {
  const change = after - before;
  if (change === 0) return null;
  return `${change < 0 ? '−' : '+'}${Math.abs(change).toLocaleString('en')}`;
}
