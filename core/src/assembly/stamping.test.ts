import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { magnitude, subtract } from '../linear/complex';
import { addTo, denseInverse, denseMatrix, entry, type DenseMatrix } from '../linear/dense';
import { graphOf } from '../linear/graph';
import type { SparseMatrix } from '../linear/matrix';
import { analyse } from '../linear/symbolic';
import { elementId } from '../model/fields';
import type { NetworkParts, NetworkSeries, NetworkShunt } from './parts';
import { buildSequenceNetwork, type SequenceNetwork } from './sequenceNetwork';

const branch = (
  a: number,
  b: number,
  rOhm: number,
  xOhm: number,
  more: Partial<NetworkSeries> = {},
): NetworkSeries => ({
  element: elementId(`l${a}-${b}`),
  rOhm,
  xOhm,
  rPeakOhm: rOhm,
  from: 0,
  to: 1,
  a,
  b,
  ratio: 1,
  lag: 0,
  shiftRad: 0,
  circuits: 1,
  ...more,
});
const shunt = (node: number, rOhm: number, xOhm: number): NetworkShunt => ({
  element: elementId(`s${node}`),
  rOhm,
  xOhm,
  rPeakOhm: rOhm,
  terminal: 0,
  node,
  role: 'source',
});
const partsOf = (nodeCount: number, series: NetworkSeries[], shunts: NetworkShunt[]): NetworkParts => ({
  nodeCount,
  series,
  shunts,
  couplings: [],
  gaps: [],
});

function dense({ n, columnStart, row, re, im }: SparseMatrix): DenseMatrix {
  const m = denseMatrix(n);
  for (let j = 0; j < n; j++)
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) addTo(m, row[k], j, { re: re[k], im: im[k] });
  return m;
}

/** The inverse against elimination with pivots of the matrix that goes out to others. */
function check(network: SequenceNetwork, tolerance = 1e-9) {
  const inverse = network.inverse()!;
  const wanted = denseInverse(dense(network.matrix()))!;
  const n = network.nodeCount;
  const found = inverse.between(Array.from({ length: n }, (_, k) => k));
  const largest = Math.max(...wanted.re.map(Math.abs), ...wanted.im.map(Math.abs));
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++)
      expect(magnitude(subtract(entry(found, i, j), entry(wanted, i, j))) / largest).toBeLessThan(tolerance);
    expect(magnitude(subtract(inverse.at(i), entry(wanted, i, i))) / largest).toBeLessThan(tolerance);
  }
}

describe('inverses of networks', () => {
  it('with ratios and phase shifts in loops are those of the unsymmetric matrix', () => {
    const ohm = fc.double({ min: 0.1, max: 5, noNaN: true });
    const networks = fc.integer({ min: 2, max: 10 }).chain((n) =>
      fc.record({
        n: fc.constant(n),
        series: fc.array(
          fc.tuple(
            fc.nat(n - 1),
            fc.nat(n - 1),
            ohm,
            ohm,
            fc.double({ min: 0.5, max: 4, noNaN: true }),
            fc.double({ min: -0.5, max: 0.5, noNaN: true }),
            fc.boolean(),
          ),
          { minLength: 1, maxLength: 16 },
        ),
        shunts: fc.array(fc.tuple(fc.nat(n - 1), ohm, ohm), { minLength: 1, maxLength: 4 }),
      }),
    );
    let shifted = 0;
    fc.assert(
      fc.property(networks, ({ n, series, shunts }) => {
        const network = buildSequenceNetwork(
          partsOf(
            n,
            series
              .filter(([a, b]) => a !== b)
              .map(([a, b, r, x, ratio, shiftRad, turns]) =>
                branch(a, b, r, x, { ratio, shiftRad: turns ? shiftRad : 0 }),
              ),
            shunts.map(([node, r, x]) => shunt(node, r, x)),
          ),
        );
        if (network.series.some((each) => each.shiftRad !== 0)) shifted++;
        check(network, 1e-8);
      }),
      { numRuns: 150 },
    );
    expect(shifted).toBeGreaterThan(50);
  });

  it('are found with pivots where a series capacitor leaves a node without a diagonal', () => {
    const others = [0, 1, 2, 3];
    const mesh = others.flatMap((a) => others.slice(a + 1).map((b) => branch(a, b, 0.1, 1 + a + b)));
    const parts = partsOf(
      5,
      [...mesh, branch(0, 4, 0, 2), branch(4, 1, 0, -2)],
      others.map((node) => shunt(node, 0.2, 3)),
    );
    const network = buildSequenceNetwork(parts);
    expect(network.inverse()!.symmetric).toBe(false);
    check(network);
    expect(buildSequenceNetwork({ ...parts, series: mesh.concat(branch(0, 4, 0, 2)) }).inverse()!.symmetric).toBe(true);
  });

  it('tell when there is none', () => {
    const broken = buildSequenceNetwork(partsOf(2, [branch(0, 1, Number.NaN, 1)], [shunt(0, 1, 1)]));
    expect(broken.inverse()).toBeNull();
    expect(buildSequenceNetwork(partsOf(0, [], [])).inverse()).toBeNull();
  });

  it('do not trust an analysis of another pattern', () => {
    const other = analyse(graphOf(3, [0], [1]));
    const parts = partsOf(3, [branch(0, 1, 0.1, 1), branch(1, 2, 0.1, 1)], [shunt(0, 0.1, 1)]);
    check(buildSequenceNetwork({ ...parts, symbolic: other }));
    check(buildSequenceNetwork({ ...parts, symbolic: analyse(graphOf(4, [0, 1, 2], [1, 2, 3])) }));
    // A pattern with places to spare does.
    check(buildSequenceNetwork({ ...parts, symbolic: analyse(graphOf(3, [0, 1, 2], [1, 2, 0])) }));
  });
});
