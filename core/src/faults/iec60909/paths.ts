/** Which way the sources reach a fault: on paths of their own, or through a meshed network. IEC 60909-0:2016, 9.1 and 10.1. */
import type { SourceShare } from './machines';
import type { Fault } from './study';

/** Whether every source reaches the fault by branches that carry no other source's current, and none of these is meshed. */
export function onOwnPaths(fault: Fault, shares: readonly SourceShare[]): boolean {
  if (fault.place.at === 'line') return false;
  const { positive, nodeCount } = fault.study.assembly;
  const neighbours: number[][] = Array.from({ length: nodeCount }, () => []);
  for (const { a, b } of positive.series) {
    neighbours[a].push(b);
    neighbours[b].push(a);
  }
  const sourcesAt = new Map<number, number>();
  const converters = fault.raised()?.injections ?? [];
  for (const { node } of [...shares, ...converters]) sourcesAt.set(node, (sourcesAt.get(node) ?? 0) + 1);
  const seen = new Uint8Array(nodeCount);
  seen[fault.node] = 1;
  for (const start of neighbours[fault.node]) {
    if (seen[start]) return false;
    seen[start] = 1;
    let sources = 0;
    const queue = [{ node: start, from: fault.node }];
    for (const { node, from } of queue) {
      sources += sourcesAt.get(node) ?? 0;
      let back = 0;
      for (const next of neighbours[node]) {
        if (next === from && back++ === 0) continue;
        if (seen[next]) return false;
        seen[next] = 1;
        queue.push({ node: next, from: node });
      }
    }
    if (sources > 1) return false;
  }
  return true;
}
