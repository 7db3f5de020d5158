import type { Watershed } from '@relvik/contracts';
import fc from 'fast-check';
import { layOut, queryOf } from './watershed-layout';

const keys = {
  source: ['source:Fair', 'source:Form'],
  fit: ['fit:', 'fit:0', 'fit:1'],
  stage: ['stage:new', 'stage:won'],
  territory: ['territory:', 'territory:north'],
  people: ['bay', 'team:a', 'queue:q'],
};
const between = (from: string[], to: string[]) =>
  fc.array(
    fc.record({ from: fc.constantFrom(...from), to: fc.constantFrom(...to), count: fc.integer({ min: 1, max: 900 }) }),
    { maxLength: 6 },
  );
const watershed: fc.Arbitrary<Watershed> = fc
  .tuple(
    between(keys.source, keys.fit),
    between(keys.fit, keys.stage),
    between(keys.stage, keys.territory),
    between(keys.territory, keys.people),
  )
  .map((parts) => ({ links: [...new Map(parts.flat().map((link) => [`${link.from} ${link.to}`, link])).values()] }));

test('a lead is as thick everywhere, nothing overlaps or leaves the picture, and ribbons fill their nodes', () => {
  fc.assert(
    fc.property(watershed, (water) => {
      const { nodes, links } = layOut(water, 900, 500, ['stage:new', 'stage:won']);
      expect(links).toHaveLength(water.links.length);
      for (const link of links) {
        expect(link.thick * (nodes[0]?.count ?? 0)).toBeCloseTo(link.count * (nodes[0]?.height ?? 0), 4);
        for (const [node, y] of [
          [link.source, link.from],
          [link.target, link.to],
        ] as const) {
          expect(y - link.thick / 2).toBeGreaterThanOrEqual(node.y - 1e-6);
          expect(y + link.thick / 2).toBeLessThanOrEqual(node.y + node.height + 1e-6);
        }
      }
      for (const node of nodes) {
        expect(node.y + node.height).toBeLessThanOrEqual(500 + 2 * nodes.length);
        for (const other of nodes)
          if (other !== node && other.column === node.column && other.y >= node.y)
            expect(other.y).toBeGreaterThanOrEqual(node.y + node.height);
      }
    }),
  );
});

test.each([
  ['bay', { place: 'bay' }],
  ['territory:', { territory: 'none' }],
  ['fit:2', { fit: '2' }],
  ['source:Trade show', { source: 'Trade show' }],
  ['team:north', { team: 'north' }],
])('%s opens its leads', (key, query) => {
  expect(queryOf(key)).toEqual(query);
});
