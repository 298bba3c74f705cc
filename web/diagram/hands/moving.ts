/** What is moved, turned and put in order on the drawing. Each is one step to undo. */
import { movePanels, pastNeighbour, slid } from '@mesura/core/drawing/boards/slide';
import { movedWith } from '@mesura/core/drawing/boards/together';
import { align, distribute, mirror, turn, type Axis, type Edge } from '@mesura/core/drawing/order/arrange';
import { isPlaced } from '@mesura/core/drawing/shape/shapes';
import type { Change } from '@mesura/core/model/changes';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { ProjectStore } from '../../project/store';
import { report } from '../../desk/report';

const arranged = (
  store: ProjectStore,
  label: string,
  make: (network: Network, ids: readonly ElementId[]) => Change[],
) => {
  const { network, selection, commit } = store.getState();
  const changes = make(network, selection);
  if (changes.length > 0) report(commit(changes, label));
};

export const turnSelected = (store: ProjectStore) => arranged(store, 'Turn', turn);

export const mirrorSelected = (store: ProjectStore, axis: Axis) =>
  arranged(store, 'Mirror', (network, ids) => mirror(network, ids, axis));

export const alignSelected = (store: ProjectStore, edge: Edge) =>
  arranged(store, 'Align', (network, ids) => align(network, ids, edge));

export const distributeSelected = (store: ProjectStore, axis: Axis) =>
  arranged(store, 'Distribute', (network, ids) => distribute(network, ids, axis));

export function pinSelected(store: ProjectStore): void {
  arranged(store, 'Pin', (network, ids) => {
    const elements = ids.flatMap((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) ? [element] : [];
    });
    const pinned = !elements.every((element) => element.pinned);
    return elements.map((element): Change => ({ op: 'update', element: { ...element, pinned: pinned || undefined } }));
  });
}

/** Moves by a step; panels alone slide along their busbar. */
export function moveBy(store: ProjectStore, ids: readonly ElementId[], dx: number, dy: number): void {
  const { network, commit } = store.getState();
  const whole = movedWith(network, ids);
  // Panels whose busbar stays slide along it, with what stands in them; up and down they stay.
  const sliding = ids.filter((id) => {
    const element = network.elements.get(id);
    return element?.kind === 'panel' && !whole.has(element.bus);
  });
  const held = movedWith(network, sliding);
  const moved = [...whole].flatMap((id) => {
    const element = network.elements.get(id);
    return element && isPlaced(element) && !held.has(id) ? [{ ...element, x: element.x + dx, y: element.y + dy }] : [];
  });
  const changes = [...movePanels(network, slid(network, sliding, dx)), ...(dx === 0 && dy === 0 ? [] : moved)].map(
    (element): Change => ({ op: 'update', element }),
  );
  if (changes.length > 0)
    report(
      commit(
        changes,
        ids.length === 1 ? `Move ${nameOf(network.elements.get(ids[0])!)}` : `Move ${ids.length} elements`,
      ),
    );
}

export function nudge(store: ProjectStore, dx: number, dy: number): void {
  const { network, selection } = store.getState();
  const [only] = selection.map((id) => network.elements.get(id));
  // A panel between others changes places with the next.
  const isHeld = only?.kind === 'panel' && [...slid(network, [only.id], dx).values()].every((by) => by === 0);
  const past = isHeld && dx !== 0 && selection.length === 1 ? pastNeighbour(network, only, dx < 0 ? -1 : 1) : null;
  moveBy(store, selection, past ?? dx, dy);
}

export function lengthen(store: ProjectStore, by: number): void {
  arranged(store, 'Lengthen', (network, ids) =>
    ids.flatMap((id): Change[] => {
      const bus = network.elements.get(id);
      if (bus?.kind !== 'bus') return [];
      const length = Math.min(Math.max(bus.length + by, 40), 10000);
      return length === bus.length ? [] : [{ op: 'update', element: { ...bus, length } }];
    }),
  );
}
