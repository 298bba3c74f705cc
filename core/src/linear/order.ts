/** Fill-reducing order by minimum degree on the pattern of A + Aᵀ. */
import type { SparseMatrix } from './matrix';

/**
 * Order of elimination: `order[k]` is the column eliminated k-th. Each step takes a vertex of least degree and joins its
 * neighbours into a clique (Tinney's second scheme); vertices wait in buckets by degree, so that the least is at hand.
 */
export function minimumDegree(matrix: SparseMatrix): Int32Array {
  const { n } = matrix;
  const neighbours: Set<number>[] = Array.from({ length: n }, () => new Set());
  for (let j = 0; j < n; j++)
    for (let k = matrix.columnStart[j]; k < matrix.columnStart[j + 1]; k++) {
      const i = matrix.row[k];
      if (i === j) continue;
      neighbours[i].add(j);
      neighbours[j].add(i);
    }
  const buckets: Set<number>[] = Array.from({ length: n }, () => new Set());
  const degree = new Int32Array(n);
  for (let j = 0; j < n; j++) buckets[(degree[j] = neighbours[j].size)].add(j);

  const order = new Int32Array(n);
  let least = 0;
  for (let k = 0; k < n; k++) {
    while (buckets[least].size === 0) least++;
    const pivot = buckets[least].values().next().value!;
    buckets[least].delete(pivot);
    order[k] = pivot;
    const clique = [...neighbours[pivot]];
    for (const i of clique) {
      neighbours[i].delete(pivot);
      for (const j of clique) if (i !== j) neighbours[i].add(j);
    }
    for (const i of clique) {
      buckets[degree[i]].delete(i);
      buckets[(degree[i] = neighbours[i].size)].add(i);
      if (degree[i] < least) least = degree[i];
    }
    neighbours[pivot].clear();
  }
  return order;
}
