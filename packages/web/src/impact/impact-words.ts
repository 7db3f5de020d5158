import {
  type Axis,
  type Band,
  BAY_LABEL,
  type Charter,
  type FacetName,
  type Flow,
  gradeOfKeys,
  gradeWords,
  type Grid,
  type Names,
} from '@relvik/core';

/** A grade taken apart: its bands by place, key and name; null for no grade. */
export interface GradeParts {
  readonly name: string | null;
  readonly fit: number | null;
  readonly engagement: number | null;
  readonly bands: Readonly<Record<Axis, Band>>;
}

const NO_BAND: Band = { key: '', name: '' };
const NO_GRADE: GradeParts = { name: null, fit: null, engagement: null, bands: { fit: NO_BAND, engagement: NO_BAND } };

/** The grids of a charter's score sets, in their order. */
export function gridsOf(charter: Charter | null): readonly Grid[] {
  return (charter?.scoreSets ?? []).map(({ grid }) => grid);
}

/** A grade by the keys of its bands: in the first grid that has both. */
export function gradeParts(label: string, grids: readonly Grid[]): GradeParts {
  const [fit = '', engagement = ''] = label.split('/');
  for (const grid of grids) {
    const found = gradeOfKeys(grid, { fit, engagement });
    const [fitBand, engagementBand] = [
      grid.fit.bands[found?.fit ?? -1],
      grid.engagement.bands[found?.engagement ?? -1],
    ];
    if (found !== null && fitBand !== undefined && engagementBand !== undefined)
      return { ...found, bands: { fit: fitBand, engagement: engagementBand } };
  }
  return NO_GRADE;
}

/** Flows between grades as flows between the bands of one axis, by key. */
export function bandFlows(flows: readonly Flow[], axis: Axis, before: readonly Grid[], after: readonly Grid[]): Flow[] {
  const bandOf = (grids: readonly Grid[]): ((label: string) => string) => {
    const known = new Map<string, string>();
    return (label) => {
      const band = known.get(label) ?? gradeParts(label, grids).bands[axis].key;
      known.set(label, band);
      return band;
    };
  };
  const [bandBefore, bandAfter] = [bandOf(before), bandOf(after)];
  const sums = new Map<string, Flow>();
  for (const { from, to, count } of flows) {
    const bands = { from: bandBefore(from), to: bandAfter(to) };
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
      return gradeWords(label, names);
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
