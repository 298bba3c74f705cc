import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { bridgesOf } from './bridges';

const element = elementId('s');
const graphs = fc.integer({ min: 1, max: 14 }).chain((n) =>
  fc.record({
    n: fc.constant(n),
    branches: fc.array(fc.record({ a: fc.nat(n - 1), b: fc.nat(n - 1) }), { maxLength: 20 }),
    sources: fc.array(fc.nat(n - 1), { maxLength: 4 }),
  }),
);

/** Nodes that can be reached, the plain way. */
function reached(from: number, branches: readonly { a: number; b: number }[]): Set<number> {
  const nodes = new Set([from]);
  for (const at of nodes)
    for (const { a, b } of branches) {
      if (a === at) nodes.add(b);
      if (b === at) nodes.add(a);
    }
  return nodes;
}

describe('bridges', () => {
  it('are the branches whose removal parts their ends; sources are those that can still be reached', () => {
    fc.assert(
      fc.property(graphs, ({ n, branches, sources }) => {
        const bridges = bridgesOf(
          n,
          branches,
          sources.map((node) => ({ element, node })),
        );
        branches.forEach(({ a, b }, k) => {
          const rest = branches.filter((_, other) => other !== k);
          expect(bridges.isBridge(k)).toBe(!reached(a, rest).has(b));
          for (let node = 0; node < n; node++) {
            const part = reached(node, rest);
            expect(bridges.suppliedWithout(k, node)).toBe(sources.some((source) => part.has(source)));
            // One of the two ends lies beyond a bridge, and whatever hangs together with it.
            if (bridges.isBridge(k)) {
              const beyond = reached(bridges.isBeyond(k, a) ? a : b, rest);
              expect(bridges.isBeyond(k, node)).toBe(beyond.has(node));
            }
          }
        });
      }),
      { numRuns: 300 },
    );
  });
});
