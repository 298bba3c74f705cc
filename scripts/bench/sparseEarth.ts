/** Currents through earth by the sparse factorisation that the networks use: towers as nodes in fill-reducing order, nothing known of bands. For systems whose wires are joined to every tower. */
import { add, inverse, scale, zero, type Complex } from '../../core/src/linear/complex';
import type { EarthReturnMethod } from '../../core/src/earthReturn/impedance';
import { kilometreOf, type EarthSystem } from '../../core/src/earthReturn/system';
import { graphOf } from '../../core/src/linear/graph';
import { addDiagonal, addPair, factorLdl, ldlFactors, solveLdl, symmetricMatrix } from '../../core/src/linear/ldl';
import { minimumDegree } from '../../core/src/linear/order';
import { analyse } from '../../core/src/linear/symbolic';

/** Potential of the hub station. */
export function sparseEarth({ hub, stations, lines, frequencyHz }: EarthSystem, method: EarthReturnMethod): Complex {
  const at = new Map([hub.name, ...stations.map(({ name }) => name)].map((name, k) => [name, k]));
  let nodes = at.size;
  const branches: { from: number; to: number; y: Complex; driven: Complex }[] = [];
  const shunts: [number, Complex][] = [hub, ...stations].map(({ earthing }, k) => [k, inverse(earthing!)]);
  const injected: [number, Complex][] = [];
  for (const line of lines) {
    injected.push([at.get(line.source)!, scale(line.current, -1)], [0, line.current]);
    let here = 0;
    const last = line.stretches.reduce((sum, { spansM }) => sum + spansM.length, 0);
    let k = 0;
    for (const { conductors, soilOhmM, spansM, footings } of line.stretches) {
      const per = kilometreOf(conductors, frequencyHz, soilOhmM, method)!;
      const drive = per.drives.re.reduce((sum, re, n) => add(sum, { re, im: per.drives.im[n] }), zero);
      for (const [n, lengthM] of spansM.entries()) {
        const next = ++k === last ? at.get(line.source)! : nodes++;
        if (k < last) shunts.push([next, inverse(footings[n]!)]);
        const { re, im } = line.current;
        const driven = { re: -(drive.re * re - drive.im * im), im: -(drive.re * im + drive.im * re) };
        branches.push({ from: here, to: next, y: scale(per.whole, 1000 / lengthM), driven });
        here = next;
      }
    }
  }
  const graph = graphOf(
    nodes,
    branches.map(({ from }) => from),
    branches.map(({ to }) => to),
  );
  const symbolic = analyse(graph, minimumDegree(graph));
  const matrix = symmetricMatrix(symbolic);
  const b = new Float64Array(2 * nodes);
  const put = (node: number, { re, im }: Complex) => {
    b[2 * symbolic.position[node]] += re;
    b[2 * symbolic.position[node] + 1] += im;
  };
  for (const [node, { re, im }] of shunts) addDiagonal(matrix, node, re, im);
  for (const { from, to, y, driven } of branches) {
    addDiagonal(matrix, from, y.re, y.im);
    addDiagonal(matrix, to, y.re, y.im);
    addPair(matrix, from, to, -y.re, -y.im);
    put(from, driven);
    put(to, scale(driven, -1));
  }
  for (const [node, ampere] of injected) put(node, ampere);
  const factors = ldlFactors(symbolic);
  if (factorLdl(matrix, factors) >= 0) throw new Error('a pivot is too small');
  solveLdl(factors, b);
  const k = 2 * symbolic.position[0];
  return { re: b[k], im: b[k + 1] };
}
