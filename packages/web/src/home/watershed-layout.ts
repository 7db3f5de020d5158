import type { Watershed, WatershedLink } from '@relvik/contracts';

export interface PlacedNode {
  readonly key: string;
  readonly column: number;
  readonly count: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

export interface PlacedLink {
  readonly source: PlacedNode;
  readonly target: PlacedNode;
  readonly count: number;
  /** Where the middle of the ribbon leaves and arrives, and how thick it is. */
  readonly from: number;
  readonly to: number;
  readonly thick: number;
}

const COLUMN_OF: Readonly<Record<string, number>> = {
  source: 0,
  fit: 1,
  stage: 2,
  territory: 3,
  team: 4,
  rep: 4,
  queue: 4,
  bay: 4,
};
const LAST = 4;
const BOX = 9;
const GAP = 13;

function columnOf(key: string): number {
  return COLUMN_OF[key.split(':')[0] ?? ''] ?? LAST;
}

/** How many leads a node holds: what runs in, or where nothing does, what runs out. */
function countOf(key: string, links: readonly WatershedLink[]): number {
  const sum = (end: 'from' | 'to'): number =>
    links.reduce((all, link) => all + (link[end] === key ? link.count : 0), 0);
  return Math.max(sum('to'), sum('from'));
}

/** The order inside a column: the better fit and the larger above, what is lost at the bottom. */
function rankOf(key: string, count: number, order: readonly string[]): number {
  if (key === 'bay' || key === 'territory:' || key === 'fit:') return 1e12;
  if (key.startsWith('fit:') || key.startsWith('stage:')) return order.indexOf(key);
  if (key.startsWith('queue:') || key.startsWith('rep:')) return 1e9 - count;
  return -count;
}

/**
 * Lays the watershed out: nodes in five columns, one thickness for a lead throughout, ribbons in the order of their ends.
 *
 * @param order nodes of fit bands and stages from top to bottom
 */
export function layOut(
  { links }: Watershed,
  width: number,
  height: number,
  order: readonly string[],
): { readonly nodes: readonly PlacedNode[]; readonly links: readonly PlacedLink[] } {
  const keys = [...new Set(links.flatMap(({ from, to }) => [from, to]))];
  const columns = Array.from({ length: LAST + 1 }, (_, column) =>
    keys
      .filter((key) => columnOf(key) === column)
      .map((key) => ({ key, count: countOf(key, links) }))
      .sort((a, b) => rankOf(a.key, a.count, order) - rankOf(b.key, b.count, order)),
  );
  const perLead = Math.min(
    ...columns
      .filter((column) => column.length > 0)
      .map(
        (column) =>
          (height - GAP * (column.length - 1)) /
          Math.max(
            1,
            column.reduce((sum, { count }) => sum + count, 0),
          ),
      ),
  );
  const nodes = new Map<string, PlacedNode>();
  columns.forEach((column, c) => {
    let y = 0;
    for (const { key, count } of column) {
      const tall = count * perLead;
      nodes.set(key, { key, column: c, count, x: (c * (width - BOX)) / LAST, y, width: BOX, height: tall });
      y += Math.max(tall, 2) + GAP;
    }
  });

  const used = { from: new Map<string, number>(), to: new Map<string, number>() };
  const take = (end: 'from' | 'to', node: PlacedNode, thick: number): number => {
    const begun = used[end].get(node.key) ?? 0;
    used[end].set(node.key, begun + thick);
    return node.y + begun + thick / 2;
  };
  const placed = links
    .flatMap(({ from, to, count }) => {
      const [source, target] = [nodes.get(from), nodes.get(to)];
      return source && target ? [{ source, target, count, thick: count * perLead }] : [];
    })
    .sort((a, b) => a.source.y - b.source.y || a.target.y - b.target.y)
    .map((link) => ({ ...link, from: take('from', link.source, link.thick) }));
  const arriving = [...placed].sort((a, b) => a.target.y - b.target.y || a.source.y - b.source.y);
  const to = new Map(arriving.map((link) => [link, take('to', link.target, link.thick)]));
  return { nodes: [...nodes.values()], links: placed.map((link) => ({ ...link, to: to.get(link) ?? link.target.y })) };
}

/** The filter of the lead list behind a node. */
export function queryOf(key: string): Record<string, string> {
  const at = key.indexOf(':');
  if (key === 'bay') return { place: 'bay' };
  const [kind, of] = [key.slice(0, at), key.slice(at + 1)];
  switch (kind) {
    case 'source':
      return { source: of };
    case 'fit':
      return { fit: of === '' ? 'none' : of };
    case 'stage':
      return { stage: of };
    case 'territory':
      return { territory: of === '' ? 'none' : of };
    case 'team':
      return { team: of };
    case 'rep':
      return { owner: of };
    default:
      return { queue: of };
  }
}
