/** The pattern of a symmetric matrix as an undirected graph: who stands beside whom, the diagonal left out. */

export interface Graph {
  readonly n: number;
  /** Neighbours of node j: neighbour[start[j]] … neighbour[start[j + 1] − 1]; each once, never j itself. */
  readonly start: Int32Array;
  readonly neighbour: Int32Array;
}

/** The graph of n nodes with an edge between `from[k]` and `to[k]`; loops are dropped, repeated edges count once. */
export function graphOf(n: number, from: ArrayLike<number>, to: ArrayLike<number>): Graph {
  const raw = new Int32Array(n + 1);
  for (let k = 0; k < from.length; k++) {
    if (from[k] === to[k]) continue;
    raw[from[k] + 1]++;
    raw[to[k] + 1]++;
  }
  for (let j = 0; j < n; j++) raw[j + 1] += raw[j];
  const next = raw.slice(0, n);
  const listed = new Int32Array(raw[n]);
  for (let k = 0; k < from.length; k++) {
    if (from[k] === to[k]) continue;
    listed[next[from[k]]++] = to[k];
    listed[next[to[k]]++] = from[k];
  }
  const start = new Int32Array(n + 1);
  const seen = new Int32Array(n).fill(-1);
  let used = 0;
  for (let j = 0; j < n; j++) {
    start[j] = used;
    for (let p = raw[j]; p < raw[j + 1]; p++) {
      const i = listed[p];
      if (seen[i] === j) continue;
      seen[i] = j;
      listed[used++] = i;
    }
  }
  start[n] = used;
  return { n, start, neighbour: listed.subarray(0, used) };
}

/** The graph of A + Aᵀ for a matrix in compressed columns. */
export function graphOfMatrix(n: number, columnStart: Int32Array, row: Int32Array): Graph {
  const column = new Int32Array(row.length);
  for (let j = 0; j < n; j++) column.fill(j, columnStart[j], columnStart[j + 1]);
  return graphOf(n, row, column);
}
