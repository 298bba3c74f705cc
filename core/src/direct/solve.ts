/**
 * Steady voltages of a direct-current network: Kirchhoff's law with sources that are straight in pieces. Every source gives less the higher its voltage, so that the solution is the one
 * minimum of a convex function: Newton's method with an exact search along each step finds it.
 */
import type { DirectBranch, DirectDraw, DirectFeed } from './network';

/** What holds a node: a short circuit, or an arc of this voltage. */
export interface Held {
  readonly node: number;
  readonly volts: number;
}

export interface DirectSolution {
  readonly volts: Float64Array;
  /** Of each feed, into the network. */
  readonly feedA: readonly number[];
  /** Of each branch, from a to b. */
  readonly branchA: readonly number[];
  /** Into what holds a node; 0 where nothing does. */
  readonly heldA: number;
  /** Loads that no voltage satisfies. */
  readonly collapsed: readonly DirectDraw[];
}

/** So that a node without any feed has a voltage: nought. Siemens. */
const leak = 1e-12;

const feedCurrent = ({ volts, ohm, limitA }: DirectFeed, v: number): number =>
  Math.min(Math.max((volts - v) / ohm, 0), limitA);

interface Given {
  readonly nodes: number;
  readonly branches: readonly DirectBranch[];
  readonly feeds: readonly DirectFeed[];
  readonly draws?: readonly DirectDraw[];
}

/** A load falls out below half of its nominal voltage. */
const fallsOutBelow = 0.5;

export function solveDirect(given: Given, held: Held | null = null): DirectSolution {
  const { nodes, branches, feeds, draws = [] } = given;
  const start = new Float64Array(nodes).fill(feeds.reduce((most, { volts }) => Math.max(most, volts), 0));
  let drawnA = draws.map(({ watts, nominalV }) => watts / nominalV);
  const collapsed = new Set<DirectDraw>();
  let volts: Float64Array = start;
  for (let round = 0; round < 200; round++) {
    const injected = new Float64Array(nodes);
    draws.forEach(({ node }, k) => (injected[node] -= drawnA[k]));
    volts = balanced(nodes, branches, feeds, injected, held, volts);
    let moved = 0;
    drawnA = draws.map((draw, k) => {
      const { node, watts, nominalV, behaves } = draw;
      const v = volts[node];
      // A dead load draws nothing; one that no voltage satisfies neither.
      if (collapsed.has(draw) || v < fallsOutBelow * nominalV) {
        if (drawnA[k] > 0) moved = 1;
        collapsed.add(draw);
        return 0;
      }
      const wanted =
        behaves === 'constantPower'
          ? watts / v
          : behaves === 'constantCurrent'
            ? watts / nominalV
            : (watts * v) / nominalV ** 2;
      moved = Math.max(moved, Math.abs(wanted - drawnA[k]) / Math.max(wanted, 1e-9));
      return wanted;
    });
    if (moved < 1e-12) break;
  }
  const branchA = branches.map(({ a, b, ohm }) => (volts[a] - volts[b]) / ohm);
  const feedA = feeds.map((feed) => feedCurrent(feed, volts[feed.node]));
  let heldA = 0;
  if (held) {
    feeds.forEach(({ node }, k) => (heldA += node === held.node ? feedA[k] : 0));
    branches.forEach(({ a, b }, k) => (heldA += a === held.node ? -branchA[k] : b === held.node ? branchA[k] : 0));
    draws.forEach(({ node }, k) => (heldA -= node === held.node ? drawnA[k] : 0));
  }
  return { volts, feedA, branchA, heldA, collapsed: [...collapsed] };
}

function balanced(
  nodes: number,
  branches: readonly DirectBranch[],
  feeds: readonly DirectFeed[],
  injected: Float64Array,
  held: Held | null,
  from: Float64Array,
): Float64Array {
  const v = Float64Array.from(from);
  if (held) v[held.node] = held.volts;
  /** Current that is left over at each node, out of it. */
  const excess = (at: Float64Array): Float64Array => {
    const out = new Float64Array(nodes);
    for (let k = 0; k < nodes; k++) out[k] = leak * at[k] - injected[k];
    for (const { a, b, ohm } of branches) {
      const amperes = (at[a] - at[b]) / ohm;
      out[a] += amperes;
      out[b] -= amperes;
    }
    for (const feed of feeds) out[feed.node] -= feedCurrent(feed, at[feed.node]);
    if (held) out[held.node] = 0;
    return out;
  };
  const scale = 1e-9 * (1 + feeds.reduce((sum, { volts, ohm, limitA }) => sum + Math.min(volts / ohm, limitA), 0));
  for (let k = 0; k < 200; k++) {
    const out = excess(v);
    if (out.every((each) => Math.abs(each) <= scale * 1e-3)) break;
    const g = new Float64Array(nodes * nodes);
    for (let n = 0; n < nodes; n++) g[n * nodes + n] = leak;
    for (const { a, b, ohm } of branches) {
      g[a * nodes + a] += 1 / ohm;
      g[b * nodes + b] += 1 / ohm;
      g[a * nodes + b] -= 1 / ohm;
      g[b * nodes + a] -= 1 / ohm;
    }
    for (const { node, volts, ohm, limitA } of feeds) {
      const amperes = (volts - v[node]) / ohm;
      if (amperes >= 0 && amperes <= limitA) g[node * nodes + node] += 1 / ohm;
    }
    if (held)
      for (let n = 0; n < nodes; n++) {
        g[held.node * nodes + n] = g[n * nodes + held.node] = 0;
        g[held.node * nodes + held.node] = 1;
      }
    const step = solved(g, out, nodes);
    const moved = (t: number) => v.map((each, n) => each - t * step[n]);
    const slope = (t: number) => excess(moved(t)).reduce((sum, each, n) => sum + each * step[n], 0);
    // Whole steps where the pieces stay; else as far as the slope falls.
    let t = 1;
    if (slope(1) < -1e-12 * Math.abs(slope(0))) {
      let [low, high] = [0, 1];
      for (let j = 0; j < 60; j++) {
        t = (low + high) / 2;
        if (slope(t) >= 0) low = t;
        else high = t;
      }
      t = low > 0 ? low : high;
    }
    const next = moved(t);
    const change = next.reduce((most, each, n) => Math.max(most, Math.abs(each - v[n])), 0);
    v.set(next);
    if (change < 1e-13) break;
  }
  return v;
}

/** x of G·x = b for a symmetric matrix whose diagonal dominates: elimination without a change of order. G and b are overwritten. */
function solved(g: Float64Array, b: Float64Array, n: number): Float64Array {
  for (let k = 0; k < n; k++) {
    const pivot = g[k * n + k];
    for (let i = k + 1; i < n; i++) {
      const factor = g[i * n + k] / pivot;
      if (factor === 0) continue;
      for (let j = k; j < n; j++) g[i * n + j] -= factor * g[k * n + j];
      b[i] -= factor * b[k];
    }
  }
  for (let k = n - 1; k >= 0; k--) {
    for (let j = k + 1; j < n; j++) b[k] -= g[k * n + j] * b[j];
    b[k] /= g[k * n + k];
  }
  return b;
}

/** Resistance and inductance from one node to another with every source open: what 1 A from the one to the other meets; null where nothing joins them. Inductances count by the square of their share. */
export function pathBetween(
  { nodes, branches }: Pick<Given, 'nodes' | 'branches'>,
  from: number,
  to: number,
): { readonly ohm: number; readonly henry: number } | null {
  if (from === to) return { ohm: 0, henry: 0 };
  const joined = new Set([from]);
  for (let size = 0; size < joined.size;) {
    size = joined.size;
    for (const { a, b } of branches) {
      if (joined.has(a)) joined.add(b);
      if (joined.has(b)) joined.add(a);
    }
  }
  if (!joined.has(to)) return null;
  const injected = new Float64Array(nodes);
  injected[from] = 1;
  const volts = balanced(nodes, branches, [], injected, { node: to, volts: 0 }, new Float64Array(nodes));
  const henry = branches.reduce((sum, each) => sum + each.henry * ((volts[each.a] - volts[each.b]) / each.ohm) ** 2, 0);
  return { ohm: volts[from], henry };
}
