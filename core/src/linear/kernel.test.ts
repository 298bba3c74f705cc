import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { blockMatrix, factorBlocks, solveBlocks } from './blockLu';
import { magnitude, subtract } from './complex';
import { addTo, denseFrom, denseInverse, denseMatrix, denseMultiply, entry, type DenseMatrix } from './dense';
import { graphOf, graphOfMatrix, type Graph } from './graph';
import { emptyValues, ldlInverse, pivotedInverse, updatedInverse, type Inverse } from './inverse';
import { addDiagonal, addPair, factorLdl, ldlFactors, pathsToRoot, symmetricMatrix } from './ldl';
import { factor } from './lu';
import { MatrixBuilder } from './matrix';
import { minimumDegree } from './order';
import { selectedEntry, selectedInverse } from './selectedInverse';
import { analyse, entryOf } from './symbolic';

const value = fc.double({ min: -2, max: 2, noNaN: true });
/** Random graphs from trees to thick meshes, some of them in several parts; admittances with a heavy diagonal. */
const cases = fc.integer({ min: 1, max: 40 }).chain((n) =>
  fc.record({
    n: fc.constant(n),
    edges: fc.array(fc.tuple(fc.nat(n - 1), fc.nat(n - 1), value, value), { maxLength: 3 * n }),
    diagonal: fc.array(fc.tuple(value, value), { minLength: n, maxLength: n }),
  }),
);
type Case = typeof cases extends fc.Arbitrary<infer T> ? T : never;

function build({ n, edges, diagonal }: Case) {
  const graph = graphOf(
    n,
    edges.map(([a]) => a),
    edges.map(([, b]) => b),
  );
  const matrix = symmetricMatrix(analyse(graph));
  const dense = denseMatrix(n);
  const put = (a: number, re: number, im: number) => {
    addDiagonal(matrix, a, re, im);
    addTo(dense, a, a, { re, im });
  };
  diagonal.forEach(([re, im], k) => put(k, 12 + re, -30 + im));
  for (const [a, b, re, im] of edges) {
    if (a === b) continue;
    // As a branch does it: what joins two nodes is heavy on their diagonals too.
    for (const end of [a, b]) put(end, Math.abs(re), -Math.abs(im));
    addPair(matrix, a, b, re, im);
    addTo(dense, a, b, { re, im });
    addTo(dense, b, a, { re, im });
  }
  const factors = ldlFactors(matrix.symbolic);
  return { graph, matrix, dense, factors, broken: factorLdl(matrix, factors) };
}

const close = (p: { re: number; im: number }, q: { re: number; im: number }, tolerance = 1e-12) =>
  expect(magnitude(subtract(p, q))).toBeLessThan(tolerance);

function sameAs(inverse: Inverse, dense: DenseMatrix, tolerance = 1e-12) {
  const n = dense.rows;
  const wanted = denseInverse(dense)!;
  const diagonal = inverse.diagonal();
  for (let j = 0; j < n; j++) {
    close({ re: diagonal.re[j], im: diagonal.im[j] }, entry(wanted, j, j), tolerance);
    const b = emptyValues(n);
    b.re[j] = 1;
    inverse.solve(b);
    for (let i = 0; i < n; i++) close({ re: b.re[i], im: b.im[i] }, entry(wanted, i, j), tolerance);
  }
  const some = [n - 1, 0, n >> 1, 0];
  const part = inverse.between(some);
  some.forEach((p, i) => some.forEach((q, j) => close(entry(part, i, j), entry(wanted, p, q), tolerance)));
}

/** Pattern of L by eliminating node after node in a set of pairs: the second method. */
function filled({ n, start, neighbour }: Graph, order: ArrayLike<number>): number {
  const beside = Array.from({ length: n }, (_, j) => new Set(neighbour.subarray(start[j], start[j + 1])));
  let entries = 0;
  for (let k = 0; k < n; k++) {
    const rest = [...beside[order[k]]];
    entries += rest.length;
    for (const i of rest) {
      beside[i].delete(order[k]);
      for (const j of rest) if (i !== j) beside[i].add(j);
    }
  }
  return entries;
}

describe('analysis of a pattern', () => {
  it('orders by a permutation; the pattern of L is that of elimination, by columns and by rows', () => {
    fc.assert(
      fc.property(cases, (given) => {
        const { graph, matrix } = build(given);
        const { n, order, position, parent, columnStart, row, rowStart, rowColumn, rowEntry } = matrix.symbolic;
        expect([...order].sort((p, q) => p - q)).toEqual(Array.from({ length: n }, (_, k) => k));
        expect(row.length).toBe(filled(graph, order));
        for (let j = 0; j < n; j++) {
          expect(order[position[j]]).toBe(j);
          const rows = [...row.subarray(columnStart[j], columnStart[j + 1])];
          expect(rows).toEqual([...new Set(rows)].sort((p, q) => p - q));
          expect(parent[j]).toBe(rows.length > 0 ? rows[0] : -1);
          for (let p = rowStart[j]; p < rowStart[j + 1]; p++) {
            expect(row[rowEntry[p]]).toBe(j);
            expect(rowEntry[p]).toBeGreaterThanOrEqual(columnStart[rowColumn[p]]);
            expect(rowEntry[p]).toBeLessThan(columnStart[rowColumn[p] + 1]);
          }
        }
      }),
      { numRuns: 200 },
    );
  });
  it('fills in little: nothing in trees, no more than plain minimum degree by a tenth in meshes', () => {
    const random = fc.sample(fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true, maxExcluded: true })), {
      numRuns: 1,
      seed: 5,
    })[0];
    const next = () => random.next().value as number;
    for (const side of [5, 12, 20]) {
      const from: number[] = [];
      const to: number[] = [];
      const join = (k: number, other: number) => {
        if (next() > 0.8) return;
        from.push(k);
        to.push(other);
      };
      for (let k = 0; k < side * side; k++) {
        if ((k + 1) % side > 0) join(k, k + 1);
        if (k + side < side * side) join(k, k + side);
      }
      const graph = graphOf(side * side, from, to);
      expect(filled(graph, minimumDegree(graph))).toBeLessThan(1.1 * filled(graph, exactMinimumDegree(graph)) + 5);
    }
    const tree = graphOf(
      300,
      Array.from({ length: 299 }, (_, k) => k + 1),
      Array.from({ length: 299 }, (_, k) => Math.floor(next() * (k + 1))),
    );
    expect(analyse(tree).row.length).toBe(299);
    // A bus with thousands of feeders: the hub goes last.
    const star = graphOf(
      5001,
      Array<number>(5000).fill(0),
      Array.from({ length: 5000 }, (_, k) => k + 1),
    );
    expect(analyse(star).row.length).toBe(5000);
    expect(minimumDegree(star)[5000]).toBe(0);
  });
});

/** Degrees counted anew at every step: slow, and what the approximate one is measured by. */
function exactMinimumDegree({ n, start, neighbour }: Graph): number[] {
  const beside = new Map(Array.from({ length: n }, (_, j) => [j, new Set(neighbour.subarray(start[j], start[j + 1]))]));
  const order: number[] = [];
  while (beside.size > 0) {
    const [pivot, rest] = [...beside].reduce((best, each) => (each[1].size < best[1].size ? each : best));
    order.push(pivot);
    beside.delete(pivot);
    for (const i of rest) {
      beside.get(i)!.delete(pivot);
      for (const j of rest) if (i !== j) beside.get(i)!.add(j);
    }
  }
  return order;
}

describe('L·D·Lᵀ', () => {
  it('solves, gives parts and the diagonal of the inverse as dense elimination does', () => {
    fc.assert(
      fc.property(cases, (given) => {
        const { dense, factors, broken } = build(given);
        expect(broken).toBe(-1);
        sameAs(ldlInverse(factors), dense);
      }),
      { numRuns: 150 },
    );
  });
  it('the selected inverse holds every entry of the pattern, and says where it holds none', () => {
    fc.assert(
      fc.property(cases, (given) => {
        const { dense, factors } = build(given);
        const wanted = denseInverse(dense)!;
        const selected = selectedInverse(factors);
        for (let i = 0; i < given.n; i++)
          for (let j = 0; j < given.n; j++) {
            const found = selectedEntry(selected, i, j);
            if (found) close(found, entry(wanted, i, j));
            else expect(entryOf(factors.symbolic, i, j)).toBe(-1);
          }
        for (const [a, b] of given.edges) expect(selectedEntry(selected, a, b)).not.toBeNull();
      }),
      { numRuns: 150 },
    );
  });
  it('after a change only the paths to the root are factored again, to the last digit as from nothing', () => {
    fc.assert(
      fc.property(cases, fc.nat(), fc.nat(), value, (given, p, q, change) => {
        const { matrix, factors } = build(given);
        const [a, b] = [p % given.n, q % given.n];
        addDiagonal(matrix, a, change, 3);
        if (a !== b && entryOf(matrix.symbolic, a, b) >= 0) addPair(matrix, a, b, -change, 1);
        expect(factorLdl(matrix, factors, pathsToRoot(matrix.symbolic, [a, b]))).toBe(-1);
        const anew = ldlFactors(matrix.symbolic);
        factorLdl(matrix, anew);
        expect(factors.lower).toEqual(anew.lower);
        expect(factors.inverseDiagonal).toEqual(anew.inverseDiagonal);
      }),
      { numRuns: 150 },
    );
  });
  it('says where a pivot is too small, also where pivoting would find a way, or is no number', () => {
    const symbolic = analyse(graphOf(2, [0], [1]));
    const trial = (d0: number, d1: number, off: number) => {
      const matrix = symmetricMatrix(symbolic);
      addDiagonal(matrix, 0, d0, 0);
      addDiagonal(matrix, 1, d1, 0);
      addPair(matrix, 0, 1, off, 0);
      return factorLdl(matrix, ldlFactors(symbolic));
    };
    expect(trial(4, 4, 1)).toBe(-1);
    expect(trial(0, 0, 1)).toBe(0);
    expect(trial(1e-6, 1e-6, 1)).toBe(0);
    expect(trial(1, 1, 1)).toBe(1);
    expect(trial(Number.NaN, 1, 1)).toBeGreaterThanOrEqual(0);
    expect(trial(1, Infinity, 1)).toBeGreaterThanOrEqual(0);
  });
});

describe('inverses', () => {
  it('a small change by an update is the changed matrix inverted: symmetric or not, once or twice', () => {
    fc.assert(
      fc.property(
        cases,
        fc.array(fc.tuple(fc.nat(39), fc.nat(39), value, value), { minLength: 1, maxLength: 4 }),
        (given, changes) => {
          const { dense, factors } = build(given);
          let inverse: Inverse = ldlInverse(factors);
          for (const [p, q, re, im] of changes) {
            const nodes = [...new Set([p % given.n, q % given.n])];
            const change = denseMatrix(nodes.length);
            addTo(change, 0, nodes.length - 1, { re, im });
            addTo(dense, nodes[0], nodes[nodes.length - 1], { re, im });
            inverse = updatedInverse(inverse, nodes, change)!;
          }
          sameAs(inverse, dense, 1e-10);
        },
      ),
      { numRuns: 100 },
    );
  });
  it('a change that makes the matrix singular gives none', () => {
    const { factors, dense } = build({ n: 1, edges: [], diagonal: [[0, 0]] });
    const { re, im } = entry(dense, 0, 0);
    expect(updatedInverse(ldlInverse(factors), [0], denseFrom([[{ re: -re, im: -im }]]))).toBeNull();
  });
  it('a pivoted matrix answers the same questions', () => {
    fc.assert(
      fc.property(cases, ({ n, edges, diagonal }) => {
        const builder = new MatrixBuilder(n);
        const dense = denseMatrix(n);
        const put = (i: number, j: number, re: number, im: number) => {
          builder.add(i, j, re, im);
          addTo(dense, i, j, { re, im });
        };
        // The heavy entries stand beside the diagonal: nothing can be had without pivoting.
        diagonal.forEach(([re, im], k) => put(k, (k + 1) % n, 12 + re, -60 + im));
        for (const [a, b, re, im] of edges.slice(0, n)) put(a, b, re, im);
        const factored = factor(builder.build());
        fc.pre(denseInverse(dense) !== null);
        if (!factored.ok) throw new Error('singular');
        sameAs(pivotedInverse(factored.factors), dense, 1e-9);
      }),
      { numRuns: 50 },
    );
  });
});

describe('matrices of 2 × 2 blocks', () => {
  it('solve as dense elimination does, unsymmetric values on a symmetric pattern', () => {
    const block = fc.array(value, { minLength: 8, maxLength: 8 });
    fc.assert(
      fc.property(cases, fc.array(block, { minLength: 40, maxLength: 40 }), ({ n, edges }, blocks) => {
        const builder = new MatrixBuilder(n);
        for (const [a, b] of edges) builder.add(a, b, 1, 0);
        const { columnStart, row } = builder.build();
        const symbolic = analyse(graphOfMatrix(n, columnStart, row));
        const { position } = symbolic;
        const matrix = blockMatrix(symbolic);
        const dense = denseMatrix(2 * n);
        const put = (i: number, j: number, values: readonly number[]) => {
          const at = 4 * (i === j ? position[i] : entryOf(symbolic, i, j));
          const into = i === j ? matrix.diagonal : position[i] > position[j] ? matrix.lower : matrix.upper;
          values.forEach((each, s) => {
            into[at + s] += each;
            addTo(dense, 2 * i + (s >> 1), 2 * j + (s & 1), { re: each, im: 0 });
          });
        };
        for (let k = 0; k < n; k++)
          put(k, k, [25 * (1 + edges.length), blocks[k][0], blocks[k][1], -25 * (1 + edges.length)]);
        edges.forEach(([a, b], k) => {
          if (a === b) return;
          put(a, b, blocks[k % 40].slice(0, 4));
          put(b, a, blocks[k % 40].slice(4));
        });
        expect(factorBlocks(matrix)).toBe(-1);
        const wanted = denseMultiply(
          denseInverse(dense)!,
          denseFrom(Array.from({ length: 2 * n }, (_, k) => [{ re: k - 3, im: 0 }])),
        );
        const b = new Float64Array(2 * n);
        for (let k = 0; k < 2 * n; k++) b[2 * position[k >> 1] + (k & 1)] = k - 3;
        solveBlocks(matrix, b);
        for (let k = 0; k < 2 * n; k++)
          expect(Math.abs(b[2 * position[k >> 1] + (k & 1)] - entry(wanted, k, 0).re)).toBeLessThan(1e-12);
      }),
      { numRuns: 100 },
    );
  });
  it('say where a block has no inverse', () => {
    const matrix = blockMatrix(analyse(graphOf(1, [], [])));
    matrix.diagonal.set([1, 2, 2, 4]);
    expect(factorBlocks(matrix)).toBe(0);
  });
});
