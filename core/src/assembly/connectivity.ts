/** Which branches hang together: connected parts, floating ones among them, and groups of coupled lines. */
import { addTo, denseInverse, denseMatrix } from '../linear/dense';
import type { ElementId } from '../model/fields';
import type { CoupledGroup, Gap, NetworkParts, NetworkSeries, Weight } from './parts';

export interface Connectivity {
  /** Number of the connected part that each node belongs to. */
  readonly part: Int32Array;
  /** Number of its floating part, from 0; −1 where there is a path to the reference. */
  readonly floating: Int32Array;
}

/** Parts of the network and which of them float; found once for lists that several networks share. */
export function connectivity(parts: Pick<NetworkParts, 'nodeCount' | 'series' | 'shunts'>): Connectivity {
  const last = known.get(parts.series);
  if (last && last.shunts === parts.shunts && last.found.part.length === parts.nodeCount) return last.found;
  const found = findParts(parts);
  known.set(parts.series, { shunts: parts.shunts, found });
  return found;
}

const known = new WeakMap<NetworkParts['series'], { shunts: NetworkParts['shunts']; found: Connectivity }>();

function findParts({ nodeCount, series, shunts }: Pick<NetworkParts, 'nodeCount' | 'series' | 'shunts'>): Connectivity {
  const part = partsOf(nodeCount, series, []);
  const grounded = new Uint8Array(nodeCount);
  for (const shunt of shunts) grounded[part[shunt.node]] = 1;
  const number = new Map<number, number>();
  const floating = new Int32Array(nodeCount).fill(-1);
  for (let node = 0; node < nodeCount; node++) {
    if (grounded[part[node]]) continue;
    if (!number.has(part[node])) number.set(part[node], number.size);
    floating[node] = number.get(part[node])!;
  }
  return { part, floating };
}

/** Number of the connected part that each node belongs to: the lowest-rooted node in it. */
export function partsOf(nodeCount: number, series: readonly NetworkSeries[], gaps: readonly Gap[]): Int32Array {
  const parent = new Int32Array(nodeCount);
  for (let k = 0; k < nodeCount; k++) parent[k] = k;
  for (let k = 0; k < series.length; k++) parent[rootIn(parent, series[k].a)] = rootIn(parent, series[k].b);
  for (const { nodes } of gaps) for (const node of nodes) parent[rootIn(parent, node)] = rootIn(parent, nodes[0]);
  for (let k = 0; k < nodeCount; k++) parent[k] = rootIn(parent, k);
  return parent;
}

function rootIn(parent: Int32Array, node: number): number {
  let k = node;
  while (parent[k] !== k) k = parent[k] = parent[parent[k]];
  return k;
}

/** Couplings gather branches into groups; each group's impedance matrix is inverted as a whole. */
export function coupledGroups(given: NetworkParts, weight: Weight): { groups: CoupledGroup[]; groupOf: Int32Array } {
  const { series, couplings } = given;
  const groupOf = new Int32Array(series.length).fill(-1);
  if (couplings.length === 0) return { groups: [], groupOf };
  const indexOf = new Map<ElementId, number>();
  series.forEach((branch, k) => indexOf.set(branch.element, k));
  const tied = couplings.filter((c) => indexOf.has(c.first) && indexOf.has(c.second));
  const parent = new Map<number, number>();
  const root = (k: number): number => (parent.get(k) === k ? k : root(parent.get(k)!));
  for (const c of tied) {
    const [p, q] = [indexOf.get(c.first)!, indexOf.get(c.second)!];
    for (const k of [p, q]) if (!parent.has(k)) parent.set(k, k);
    parent.set(root(p), root(q));
  }
  const membersOf = new Map<number, number[]>();
  for (const k of [...parent.keys()].sort((p, q) => p - q))
    membersOf.set(root(k), [...(membersOf.get(root(k)) ?? []), k]);
  const groups: CoupledGroup[] = [];
  for (const members of membersOf.values()) {
    const z = denseMatrix(members.length);
    members.forEach((k, i) => addTo(z, i, i, weight(series[k])));
    for (const c of tied) {
      const [i, j] = [members.indexOf(indexOf.get(c.first)!), members.indexOf(indexOf.get(c.second)!)];
      if (i < 0) continue;
      addTo(z, i, j, c.z);
      addTo(z, j, i, c.z);
    }
    const y = denseInverse(z);
    if (!y) continue;
    for (const k of members) groupOf[k] = groups.length;
    groups.push({ members, z, y });
  }
  return { groups, groupOf };
}
