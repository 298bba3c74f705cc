/** What the branches tell of every node: voltage level, phase position, and whether anything feeds its part. */
import { nameOf } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import type { Problem } from '../model/problem';
import type { NetworkSeries } from './sequenceNetwork';

export interface Spread {
  /** True for nodes with a source in their part of the network. */
  readonly supplied: Uint8Array;
  /** Lag in radians of each node's positive-sequence voltage against the first node of its part. */
  readonly lag: Float64Array;
  /** Voltage of each node for one volt at the first node of its part, by rated ratios. */
  readonly level: Float64Array;
  /** Nodes with the same number are joined by branches; `level` and `lag` compare only within a part. */
  readonly part: Int32Array;
}

export interface Supplier {
  readonly element: ElementId;
  readonly node: number;
}

/** Within a full turn around nought. */
export const wrapped = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));
export const isNought = (angle: number): boolean => Math.abs(wrapped(angle)) < 1e-9;

/** Walks each connected part once: phase position and rated voltage of every node, and whether anything feeds the part. */
export function spread(
  network: Network,
  count: number,
  branches: readonly NetworkSeries[],
  suppliers: readonly Supplier[],
  problems: Problem[],
): Spread {
  const { start: begin, branchAt } = branchesByNode(count, branches);
  const supplying = new Uint8Array(count);
  for (const { node } of suppliers) supplying[node] = 1;
  const lag = new Float64Array(count);
  const seen = new Uint8Array(count);
  const level = new Float64Array(count);
  const supplied = new Uint8Array(count);
  const part = new Int32Array(count);
  const blamed = new Set<ElementId>();
  for (let start = 0; start < count; start++) {
    if (seen[start]) continue;
    seen[start] = 1;
    level[start] = 1;
    const members = [start];
    for (let k = 0; k < members.length; k++)
      for (let p = begin[members[k]]; p < begin[members[k] + 1]; p++) {
        const from = members[k];
        const { a, b, lag: turn, ratio, element } = branches[branchAt[p]];
        const to = a === from ? b : a;
        const position = lag[from] + (a === from ? turn : -turn);
        if (!seen[to]) {
          seen[to] = 1;
          lag[to] = wrapped(position);
          level[to] = a === from ? level[from] / ratio : level[from] * ratio;
          members.push(to);
        } else if (isOddTurn(position - lag[to]) && !blamed.has(element)) {
          blamed.add(element);
          problems.push({
            severity: 'error',
            code: 'clock.loop',
            message: `${nameOf(network.elements.get(element)!)} closes a loop with a different phase shift: check the clock numbers of the transformers in it`,
            element,
            field: 'vectorGroup',
          });
        }
      }
    for (const member of members) part[member] = start;
    if (members.some((member) => supplying[member])) for (const member of members) supplied[member] = 1;
  }
  return { lag, level, supplied, part };
}

/** Branches at each node, those with both ends there twice. */
export function branchesByNode(count: number, branches: readonly Pick<NetworkSeries, 'a' | 'b'>[]) {
  const start = new Int32Array(count + 1);
  for (const { a, b } of branches) {
    start[a + 1]++;
    start[b + 1]++;
  }
  for (let k = 0; k < count; k++) start[k + 1] += start[k];
  const next = start.slice(0, count);
  const branchAt = new Int32Array(2 * branches.length);
  branches.forEach(({ a, b }, k) => {
    branchAt[next[a]++] = k;
    branchAt[next[b]++] = k;
  });
  return { start, branchAt };
}

/** A whole step of 30° left over is a wrong clock number; anything else is a phase-shifting transformer at work. */
function isOddTurn(angle: number): boolean {
  if (isNought(angle)) return false;
  return isNought((wrapped(angle) * 12) % (2 * Math.PI));
}
