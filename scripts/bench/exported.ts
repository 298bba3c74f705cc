/** Writes the matrix of a mesh for another program, and times the kernel on it: for compare.mjs. */
import { writeFileSync } from 'node:fs';
import { graphOf } from '../../core/src/linear/graph';
import { factorLdl, ldlFactors, solveLdl } from '../../core/src/linear/ldl';
import { analyse } from '../../core/src/linear/symbolic';
import { mesh } from '../../core/src/test/meshNetwork';
import { meshMatrix } from './kernel';
import { time } from './measure';

const n = Number(process.argv[2]);
const made = mesh(n);
const graph = graphOf(n, made.from, made.to);
const symbolic = analyse(graph);
const matrix = meshMatrix(made, symbolic);
const factors = ldlFactors(symbolic);

// Both halves by columns, in the order of the nodes.
const columns: [number, number, number][][] = Array.from({ length: n }, () => []);
for (let j = 0; j < n; j++) {
  columns[symbolic.order[j]].push([symbolic.order[j], matrix.diagonal[2 * j], matrix.diagonal[2 * j + 1]]);
  for (let p = symbolic.columnStart[j]; p < symbolic.columnStart[j + 1]; p++) {
    const [re, im] = [matrix.entries[2 * p], matrix.entries[2 * p + 1]];
    if (re === 0 && im === 0) continue;
    const [a, b] = [symbolic.order[j], symbolic.order[symbolic.row[p]]];
    columns[a].push([b, re, im]);
    columns[b].push([a, re, im]);
  }
}
const start = new Int32Array(n + 1);
columns.forEach((column, j) => {
  column.sort((p, q) => p[0] - q[0]);
  start[j + 1] = start[j] + column.length;
});
const entries = columns.flat();
const bytes = (array: Int32Array | Float64Array) => Buffer.from(array.buffer);
writeFileSync(
  process.argv[3],
  Buffer.concat([
    bytes(Int32Array.of(n, entries.length)),
    bytes(start),
    bytes(Int32Array.from(entries, ([row]) => row)),
    bytes(Float64Array.from(entries.flatMap(([, re, im]) => [re, im]))),
  ]),
);

const effort = { warmUp: 5, forMs: 1500, least: 21 };
const once = (work: () => unknown) => time(() => null, work, effort).median;
const b = new Float64Array(2 * n);
const orderAndFactor = once(() => {
  const fresh = analyse(graphOf(n, made.from, made.to));
  factorLdl({ ...matrix, symbolic: fresh }, ldlFactors(fresh));
});
const refactor = once(() => factorLdl(matrix, factors));
const solve = once(() => {
  b.fill(1);
  solveLdl(factors, b);
});
console.log(JSON.stringify({ orderAndFactor, refactor, solve, entriesOfL: symbolic.row.length + n }));
