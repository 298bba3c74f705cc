/**
 * Fill-reducing order by approximate minimum degree (Amestoy, Davis and Duff 1996): eliminated nodes live on as "elements", cliques of
 * their neighbours, in a quotient graph; degrees are bounded from above, nodes that cannot be told apart are eliminated together.
 */
import type { Graph } from './graph';

/** Order of elimination: `order[k]` is the node eliminated k-th. */
export function minimumDegree(graph: Graph): Int32Array {
  const { n } = graph;
  /**
   * Lists of the quotient graph, one after the other. A node's own list from `at`: first the `elements` it touches, then other nodes, `length` in
   * all. An element's list: the nodes of its clique. New cliques go to the end.
   */
  let lists = new Int32Array(Math.max(2 * graph.neighbour.length + n, 16));
  lists.set(graph.neighbour);
  let end = graph.neighbour.length;
  const at = graph.start.slice(0, n);
  const length = new Int32Array(n);
  const elements = new Int32Array(n);
  /** Nodes merged into this one, itself included; 0 once it is eliminated or merged; negative while in the clique at hand. */
  const weight = new Int32Array(n).fill(1);
  const degree = new Int32Array(n);
  /** |Lₑ \ Lₚ| of elements beside the clique at hand, counted from `stamp`; 0: absorbed. */
  const outside = new Int32Array(n).fill(1);
  let stamp = 2;
  // Buckets of nodes with the same degree, and of nodes with the same hash while twins are looked for.
  const head = new Int32Array(n + 1).fill(-1);
  const next = new Int32Array(n).fill(-1);
  const previous = new Int32Array(n).fill(-1);
  const hashHead = new Int32Array(n + 1).fill(-1);
  const hash = new Int32Array(n);
  const mark = new Int32Array(n);
  let twin = 0;
  // Members of a merged node as a chain.
  const follower = new Int32Array(n).fill(-1);
  const lastOf = Int32Array.from({ length: n }, (_, k) => k);

  const enqueue = (i: number) => {
    const d = degree[i];
    next[i] = head[d];
    previous[i] = -1;
    if (head[d] >= 0) previous[head[d]] = i;
    head[d] = i;
  };
  const dequeue = (i: number) => {
    if (next[i] >= 0) previous[next[i]] = previous[i];
    if (previous[i] >= 0) next[previous[i]] = next[i];
    else head[degree[i]] = next[i];
  };
  /** Whether all of a node's list but the pivot at its head is marked. */
  const isMarked = (j: number): boolean => {
    for (let p = at[j] + 1; p < at[j] + length[j]; p++) if (mark[lists[p]] !== twin) return false;
    return true;
  };
  /** Node j goes wherever i goes. */
  const merge = (i: number, j: number) => {
    follower[lastOf[i]] = j;
    lastOf[i] = lastOf[j];
  };

  // A busbar that hundreds of feeders leave would be looked at for each of them: such nodes go last, unasked.
  const crowded = Math.max(16, 10 * Math.sqrt(n));
  const order = new Int32Array(n);
  let last = n;
  for (let i = 0; i < n; i++) {
    length[i] = graph.start[i + 1] - graph.start[i];
    degree[i] = length[i];
    if (length[i] <= crowded) enqueue(i);
    else {
      weight[i] = 0;
      order[--last] = i;
    }
  }

  let placed = 0;
  let least = 0;
  while (placed < last) {
    while (head[least] < 0) least++;
    const pivot = head[least];
    dequeue(pivot);
    let pivotWeight = weight[pivot];

    // The clique Lp: nodes beside the pivot and those of the elements it touches, which are absorbed.
    weight[pivot] = -pivotWeight;
    let need = end;
    for (let q = 0; q < length[pivot]; q++) need += q < elements[pivot] ? length[lists[at[pivot] + q]] : 1;
    if (need > lists.length) {
      const grown = new Int32Array(Math.max(need, 2 * lists.length));
      grown.set(lists);
      lists = grown;
    }
    const first = end;
    let size = 0;
    for (let q = 0; q < length[pivot]; q++) {
      const each = lists[at[pivot] + q];
      const isClique = q < elements[pivot];
      const from = isClique ? at[each] : at[pivot] + q;
      const to = isClique ? from + length[each] : from + 1;
      for (let p = from; p < to; p++) {
        const i = lists[p];
        if (weight[i] <= 0) continue;
        size += weight[i];
        weight[i] = -weight[i];
        lists[end++] = i;
        dequeue(i);
      }
      if (isClique) outside[each] = 0;
    }
    at[pivot] = first;
    length[pivot] = end - first;

    // How much of each element beside the clique lies outside it.
    for (let q = first; q < end; q++) {
      const i = lists[q];
      const own = -weight[i];
      for (let p = at[i]; p < at[i] + elements[i]; p++) {
        const e = lists[p];
        if (outside[e] >= stamp) outside[e] -= own;
        else if (outside[e] !== 0) outside[e] = degree[e] + stamp - own;
      }
    }

    // New lists, degrees and hashes of the clique's nodes.
    let kept = first;
    for (let q = first; q < end; q++) {
      const i = lists[q];
      const own = -weight[i];
      const begin = at[i];
      let write = begin;
      let bound = 0;
      let sum = 0;
      for (let p = begin; p < begin + elements[i]; p++) {
        const e = lists[p];
        if (outside[e] === 0) continue;
        const rest = outside[e] - stamp;
        if (rest === 0) {
          // The whole of it lies in the clique at hand: absorbed.
          outside[e] = 0;
          continue;
        }
        bound += rest;
        sum = (sum + e) | 0;
        lists[write++] = e;
      }
      const elementEnd = write;
      for (let p = begin + elements[i]; p < begin + length[i]; p++) {
        const j = lists[p];
        if (weight[j] <= 0) continue;
        bound += weight[j];
        sum = (sum + j) | 0;
        lists[write++] = j;
      }
      if (bound === 0) {
        // Nothing beside it but the clique: eliminated along with the pivot.
        size -= own;
        pivotWeight += own;
        merge(pivot, i);
        weight[i] = 0;
        length[i] = 0;
        continue;
      }
      // The pivot goes first among its elements; one place is free, for the pivot or an absorbed element has left the list.
      lists[write++] = lists[elementEnd];
      lists[elementEnd] = lists[begin];
      lists[begin] = pivot;
      elements[i] = elementEnd - begin + 1;
      length[i] = write - begin;
      degree[i] = Math.min(degree[i], bound);
      hash[i] = (sum & 0x7fffffff) % n;
      next[i] = hashHead[hash[i]];
      hashHead[hash[i]] = i;
      lists[kept++] = i;
    }
    length[pivot] = kept - first;
    end = kept;
    degree[pivot] = size;
    stamp += n + 1;
    if (stamp > 0x7fffffff - 2 * n - 2) {
      for (let e = 0; e < n; e++) if (outside[e] !== 0) outside[e] = 1;
      stamp = 2;
    }

    // Twins: nodes of the clique with the same lists.
    for (let q = first; q < end; q++) {
      const bucket = hash[lists[q]];
      let i = hashHead[bucket];
      hashHead[bucket] = -1;
      for (; i >= 0 && next[i] >= 0; i = next[i]) {
        twin++;
        for (let p = at[i] + 1; p < at[i] + length[i]; p++) mark[lists[p]] = twin;
        let before = i;
        for (let j = next[i]; j >= 0; j = next[j]) {
          if (length[j] === length[i] && elements[j] === elements[i] && isMarked(j)) {
            weight[i] += weight[j];
            weight[j] = 0;
            merge(i, j);
            next[before] = next[j];
          } else before = j;
        }
      }
    }

    // Back to the buckets with what the clique adds to each degree.
    let write = first;
    const left = last - placed - pivotWeight;
    for (let q = first; q < end; q++) {
      const i = lists[q];
      if (weight[i] === 0) continue;
      weight[i] = -weight[i];
      const bound = Math.min(degree[i] + size - weight[i], left - weight[i]);
      degree[i] = bound < 0 ? 0 : bound;
      enqueue(i);
      if (degree[i] < least) least = degree[i];
      lists[write++] = i;
    }
    length[pivot] = write - first;
    end = write;
    weight[pivot] = 0;
    for (let i = pivot; i >= 0; i = follower[i]) order[placed++] = i;
  }
  return order;
}
