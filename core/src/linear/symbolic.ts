/**
 * What the pattern alone says of the factors of a symmetric matrix: order, elimination tree and pattern of L. Found once, used for every
 * matrix with this pattern. (Davis 2006, Direct Methods for Sparse Linear Systems, chapter 4.)
 */
import type { Graph } from './graph';
import { minimumDegree } from './order';

export interface Symbolic {
  readonly n: number;
  /** Position k eliminates node `order[k]`. */
  readonly order: Int32Array;
  /** Node i is eliminated at `position[i]`. */
  readonly position: Int32Array;
  /** Elimination tree over positions: the first entry below the diagonal of each column of L; −1 at a root. */
  readonly parent: Int32Array;
  /** Columns of L below the diagonal: rows `row[columnStart[j]] …`, ascending. */
  readonly columnStart: Int32Array;
  readonly row: Int32Array;
  /** The same by rows: entries left of the diagonal stand in column `rowColumn[p]` at index `rowEntry[p]` of `row`. */
  readonly rowStart: Int32Array;
  readonly rowColumn: Int32Array;
  readonly rowEntry: Int32Array;
}

/** Orders and analyses a pattern. */
export function analyse(graph: Graph, start: Int32Array = minimumDegree(graph)): Symbolic {
  const { n } = graph;
  const firstTree = eliminationTree(graph, start, inverseOf(start));
  // Postorder keeps the fill and brings together what is used together.
  const post = postorder(firstTree);
  const order = post.map((k) => start[k]);
  const position = inverseOf(order);
  const parent = eliminationTree(graph, order, position);

  const mark = new Int32Array(n);
  const reach = new Int32Array(n);
  const columnStart = new Int32Array(n + 1);
  const rowStart = new Int32Array(n + 1);
  mark.fill(-1);
  for (let k = 0; k < n; k++) {
    const count = rowPattern(graph, order, position, parent, k, mark, reach);
    rowStart[k + 1] = rowStart[k] + count;
    for (let p = 0; p < count; p++) columnStart[reach[p] + 1]++;
  }
  for (let j = 0; j < n; j++) columnStart[j + 1] += columnStart[j];
  const entries = columnStart[n];
  const row = new Int32Array(entries);
  const rowColumn = new Int32Array(entries);
  const rowEntry = new Int32Array(entries);
  const next = columnStart.slice(0, n);
  mark.fill(-1);
  for (let k = 0, p = 0; k < n; k++) {
    const count = rowPattern(graph, order, position, parent, k, mark, reach);
    for (let q = 0; q < count; q++, p++) {
      const j = reach[q];
      rowColumn[p] = j;
      rowEntry[p] = next[j];
      row[next[j]++] = k;
    }
  }
  return { n, order, position, parent, columnStart, row, rowStart, rowColumn, rowEntry };
}

/** Index in `row` of the entry that joins two nodes; −1 where the pattern has none. */
export function entryOf({ position, columnStart, row }: Symbolic, a: number, b: number): number {
  const [p, q] = [position[a], position[b]];
  const [column, wanted] = p < q ? [p, q] : [q, p];
  let [low, high] = [columnStart[column], columnStart[column + 1] - 1];
  while (low <= high) {
    const middle = (low + high) >> 1;
    if (row[middle] === wanted) return middle;
    if (row[middle] < wanted) low = middle + 1;
    else high = middle - 1;
  }
  return -1;
}

function inverseOf(order: Int32Array): Int32Array {
  const position = new Int32Array(order.length);
  for (let k = 0; k < order.length; k++) position[order[k]] = k;
  return position;
}

/** Parent of each position, by paths to the root that are shortened as they are walked (Liu 1990). */
function eliminationTree({ n, start, neighbour }: Graph, order: Int32Array, position: Int32Array): Int32Array {
  const parent = new Int32Array(n).fill(-1);
  const ancestor = new Int32Array(n).fill(-1);
  for (let k = 0; k < n; k++) {
    const node = order[k];
    for (let p = start[node]; p < start[node + 1]; p++) {
      let j = position[neighbour[p]];
      while (j >= 0 && j < k) {
        const up = ancestor[j];
        ancestor[j] = k;
        if (up < 0) parent[j] = k;
        j = up;
      }
    }
  }
  return parent;
}

/** Positions so that every subtree stands together, its root last. */
function postorder(parent: Int32Array): Int32Array {
  const n = parent.length;
  const child = new Int32Array(n).fill(-1);
  const sibling = new Int32Array(n).fill(-1);
  for (let j = n - 1; j >= 0; j--) {
    if (parent[j] < 0) continue;
    sibling[j] = child[parent[j]];
    child[parent[j]] = j;
  }
  const post = new Int32Array(n);
  const stack = new Int32Array(n);
  let used = 0;
  for (let root = 0; root < n; root++) {
    if (parent[root] >= 0) continue;
    let depth = 0;
    stack[0] = root;
    while (depth >= 0) {
      const j = stack[depth];
      if (child[j] >= 0) {
        stack[++depth] = child[j];
        child[j] = sibling[child[j]];
      } else {
        post[used++] = j;
        depth--;
      }
    }
  }
  return post;
}

/** Columns with an entry in row k of L, into `reach`; returns how many. They are what the tree's paths from the row's neighbours to k pass. */
function rowPattern(
  { start, neighbour }: Graph,
  order: Int32Array,
  position: Int32Array,
  parent: Int32Array,
  k: number,
  mark: Int32Array,
  reach: Int32Array,
): number {
  let count = 0;
  mark[k] = k;
  const node = order[k];
  for (let p = start[node]; p < start[node + 1]; p++)
    for (let j = position[neighbour[p]]; j < k && mark[j] !== k; j = parent[j]) {
      mark[j] = k;
      reach[count++] = j;
    }
  return count;
}
