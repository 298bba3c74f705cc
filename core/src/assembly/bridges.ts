/** Branches that alone join two parts of the network, and who still has a source when one of them is out. (Tarjan 1974) */
import type { NetworkSeries } from './parts';
import { branchesByNode, type Supplier } from './spread';

export interface Bridges {
  isBridge(branch: number): boolean;
  /** Whether the branch is a bridge and the node lies beyond it, as the walk came. */
  isBeyond(branch: number, node: number): boolean;
  /** Whether a node's part holds a source when the branch is out of service. */
  suppliedWithout(branch: number, node: number): boolean;
}

export function bridgesOf(
  count: number,
  branches: readonly Pick<NetworkSeries, 'a' | 'b'>[],
  suppliers: readonly Pick<Supplier, 'node'>[],
): Bridges {
  const { start, branchAt } = branchesByNode(count, branches);
  const entered = new Int32Array(count).fill(-1);
  const left = new Int32Array(count);
  const lowest = new Int32Array(count);
  /** Node on the far side of a bridge as the walk came to it; −1 for other branches. */
  const beyond = new Int32Array(branches.length).fill(-1);
  const root = new Int32Array(count);
  /** Sources in the subtree of the walk. */
  const sources = new Int32Array(count);
  for (const { node } of suppliers) sources[node]++;
  const next = start.slice(0, count);
  const stack: number[] = [];
  const arrivedBy = new Int32Array(count).fill(-1);
  let time = 0;
  for (let first = 0; first < count; first++) {
    if (entered[first] >= 0) continue;
    stack.push(first);
    entered[first] = lowest[first] = time++;
    while (stack.length > 0) {
      const node = stack[stack.length - 1];
      root[node] = first;
      if (next[node] < start[node + 1]) {
        const branch = branchAt[next[node]++];
        if (branch === arrivedBy[node]) continue;
        const { a, b } = branches[branch];
        const to = a === node ? b : a;
        if (entered[to] >= 0) lowest[node] = Math.min(lowest[node], entered[to]);
        else {
          arrivedBy[to] = branch;
          entered[to] = lowest[to] = time++;
          stack.push(to);
        }
        continue;
      }
      stack.pop();
      left[node] = time;
      const from = stack[stack.length - 1];
      if (from === undefined) continue;
      lowest[from] = Math.min(lowest[from], lowest[node]);
      sources[from] += sources[node];
      if (lowest[node] > entered[from]) beyond[arrivedBy[node]] = node;
    }
  }
  const isBeyond = (branch: number, node: number): boolean => {
    const top = beyond[branch];
    return top >= 0 && entered[node] >= entered[top] && entered[node] < left[top];
  };
  return {
    isBridge: (branch) => beyond[branch] >= 0,
    isBeyond,
    suppliedWithout(branch, node) {
      const whole = sources[root[node]];
      const top = beyond[branch];
      if (top < 0 || root[top] !== root[node]) return whole > 0;
      return (isBeyond(branch, node) ? sources[top] : whole - sources[top]) > 0;
    },
  };
}
