/** The linear algebra alone, on the admittance matrix of a generated mesh. */
import { graphOf } from '../../core/src/linear/graph';
import {
  addDiagonal,
  addPair,
  factorLdl,
  ldlFactors,
  pathsToRoot,
  solveLdl,
  symmetricMatrix,
  type SymmetricMatrix,
} from '../../core/src/linear/ldl';
import { minimumDegree } from '../../core/src/linear/order';
import { selectedInverse } from '../../core/src/linear/selectedInverse';
import { analyse, type Symbolic } from '../../core/src/linear/symbolic';
import { mesh, type Mesh } from '../../core/src/test/meshNetwork';
import { bench, say } from './measure';

/** Lines of 0.15 + j0.35 Ω/km, feeders of 0.3 + j3 Ω. */
export function meshMatrix({ from, to, lengthKm, sources }: Mesh, symbolic: Symbolic): SymmetricMatrix {
  const matrix = symmetricMatrix(symbolic);
  const inverse = (r: number, x: number) => [r / (r * r + x * x), -x / (r * r + x * x)] as const;
  for (let k = 0; k < from.length; k++) {
    if (from[k] === to[k]) continue;
    const [re, im] = inverse(0.15 * lengthKm[k], 0.35 * lengthKm[k]);
    addDiagonal(matrix, from[k], re, im);
    addDiagonal(matrix, to[k], re, im);
    addPair(matrix, from[k], to[k], -re, -im);
  }
  for (const bus of sources) addDiagonal(matrix, bus, ...inverse(0.3, 3));
  return matrix;
}

/** Times of a C sparse LU for circuit matrices on such a matrix of 10,000 and 100,000 buses, in ms: order and factor, one solve. */
const wanted: Readonly<Record<number, { factor: number; solve: number }>> = {
  10_000: { factor: 2.5 * (5.6 + 6.3), solve: 1.2 },
  100_000: { factor: 3 * 120, solve: 3 * 5.2 },
};

export function kernel(): void {
  const totals: [number, number][] = [];
  for (const n of [1000, 3000, 10_000, 30_000, 100_000]) {
    const group = `kernel, ${n} buses`;
    const made = mesh(n);
    const graph = graphOf(n, made.from, made.to);
    const order = minimumDegree(graph);
    const symbolic = analyse(graph, order);
    const matrix = meshMatrix(made, symbolic);
    const factors = ldlFactors(symbolic);
    const whole = bench(
      group,
      'order, analyse and factor',
      () => {
        const fresh = analyse(graph);
        if (factorLdl({ ...matrix, symbolic: fresh }, ldlFactors(fresh)) >= 0) throw new Error('no pivot');
      },
      { reach: wanted[n]?.factor },
    );
    totals.push([n, whole]);
    bench(group, 'of it: order', () => minimumDegree(graph));
    bench(group, 'of it: analyse', () => analyse(graph, order));
    bench(group, 'refactor', () => factorLdl(matrix, factors));
    const path = pathsToRoot(symbolic, [made.from[0], made.to[0]]);
    bench(group, 'refactor after one branch changed', () => factorLdl(matrix, factors, path));
    const b = new Float64Array(2 * n);
    bench(
      group,
      'one solve, dense right side',
      () => {
        b.fill(1);
        solveLdl(factors, b);
      },
      { reach: wanted[n]?.solve },
    );
    bench(group, 'selected inverse', () => selectedInverse(factors));
    const numbers = 2 * symbolic.row.length;
    say({ group, what: 'entries of L below the diagonal, times buses', unit: '', median: numbers / 2 / n, runs: 1 });
    bench(group, 'memory: read L and its rows twice, write the solution twice', () =>
      sweepMemory(factors.lower, symbolic.row, b),
    );
  }
  say({
    group: 'kernel, growth',
    what: 'exponent of order, analyse and factor from 1,000 to 100,000 buses',
    unit: '',
    median: exponent(totals),
    runs: 1,
    reach: 1.25,
  });
}

/** The traffic of one solution without its arithmetic: the bound that memory sets. */
function sweepMemory(lower: Float64Array, row: Int32Array, b: Float64Array): number {
  let sum = 0;
  for (let pass = 0; pass < 2; pass++) {
    for (let p = 0; p < row.length; p++) sum += lower[2 * p] + lower[2 * p + 1] + row[p];
    for (let k = 0; k < b.length; k++) b[k] = sum;
  }
  return sum;
}

/** Slope of the logarithms. */
function exponent(points: readonly [number, number][]): number {
  const [x, y] = [points.map(([n]) => Math.log(n)), points.map(([, t]) => Math.log(t))];
  const mean = (list: number[]) => list.reduce((sum, each) => sum + each, 0) / list.length;
  const [mx, my] = [mean(x), mean(y)];
  return (
    x.reduce((sum, each, k) => sum + (each - mx) * (y[k] - my), 0) / x.reduce((sum, each) => sum + (each - mx) ** 2, 0)
  );
}
