/** Two elements joined without a hand on their terminals. */
import { boxOf, endPoint, isDrawn, snapToGrid } from '@mesura/core/drawing/shape/shapes';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import type { Change } from '@mesura/core/model/changes';
import { whyNotConnect } from '@mesura/core/model/connect';
import type { ElementId } from '@mesura/core/model/fields';
import { buildTopology } from '@mesura/core/model/topology';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { report, tell } from '../../desk/report';

/** Joins two elements at their free terminals that lie nearest to each other. */
export function joinThem(store: ProjectStore, from: ElementId, to: ElementId): boolean {
  const { network, commit } = store.getState();
  const topology = buildTopology(network);
  const [a, b] = [network.elements.get(from), network.elements.get(to)];
  if (!a || !b || !isDrawn(a) || !isDrawn(b)) return false;
  let best: { change: Change; away: number } | null = null;
  let why = 'neither has a terminal';
  for (let p = 0; p < terminalsOf(a).length; p++)
    for (let q = 0; q < terminalsOf(b).length; q++) {
      const reason = whyNotConnect(network, topology, { element: from, terminal: p }, { element: to, terminal: q });
      if (reason) {
        why = reason;
        continue;
      }
      const [near, far] = [endAt(a, p, b), endAt(b, q, a)];
      const [m, n] = [endPoint(a, near).at, endPoint(b, far).at];
      const away = Math.hypot(m.x - n.x, m.y - n.y);
      if (!best || away < best.away)
        best = { away, change: { op: 'add', element: { kind: 'connection', id: newId(), from: near, to: far } } };
    }
  if (!best) {
    tell('These cannot be connected', why);
    return false;
  }
  return report(commit([best.change], `Connect ${a.name} and ${b.name}`));
}

/** The end of a connection at a terminal; on a bus as near as possible to the other element. */
function endAt(
  element: Parameters<typeof boxOf>[0] & { id: ElementId },
  terminal: number,
  other: Parameters<typeof boxOf>[0],
) {
  if (element.kind !== 'bus') return { element: element.id, terminal };
  const box = boxOf(other);
  const at = Math.min(Math.max(snapToGrid(box.x + box.width / 2 - element.x), 0), element.length);
  return { element: element.id, terminal, at };
}
