/** What the hand does to the drawing, as changes of the project. Each is one step to undo. */
import { notifications } from '@mantine/notifications';
import { addPanel } from '@mesura/core/drawing/boards/board';
import { movePanels, pastNeighbour, slid } from '@mesura/core/drawing/boards/slide';
import { movedWith } from '@mesura/core/drawing/boards/together';
import { align, distribute, mirror, turn, type Axis, type Edge } from '@mesura/core/drawing/order/arrange';
import { putFragment, takeFragment, type Fragment } from '@mesura/core/drawing/parts/fragment';
import { boxOf, endPoint, hull, isDrawn, isPlaced, snapToGrid } from '@mesura/core/drawing/shape/shapes';
import { connectionsAt, insertInto, removalHealed } from '@mesura/core/drawing/wires/splice';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import { placedBy, type Tool } from '@mesura/core/drawing/shape/tools';
import type { Change } from '@mesura/core/model/changes';
import { whyNotConnect } from '@mesura/core/model/connect';
import { kinds, nameOf, type ElementOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { PanelType } from '@mesura/core/model/sheet';
import { buildTopology } from '@mesura/core/model/topology';
import { useDesk } from '../../desk/deskState';
import { newId } from '../../project/newId';
import type { ProjectStore } from '../../project/store';
import { useDrawing } from '../drawingState';
import { Scene } from '../picture/scene';

type Point = { x: number; y: number };

export function report(result: ReturnType<ReturnType<ProjectStore['getState']>['commit']>): boolean {
  if (!result.ok)
    notifications.show({ color: 'red', title: 'This does not fit the project', message: result.problems[0].message });
  return result.ok;
}

export const tell = (title: string, message: string): void => void notifications.show({ color: 'red', title, message });

/** Selects what has just been drawn, and brings it into view as far as it is out of it. */
export function choose(store: ProjectStore, ids: readonly ElementId[]): void {
  store.getState().select(ids);
  const box = boundsOf(store.getState().network, ids);
  if (box) useDrawing.getState().view?.reveal(box);
}

const pageField = () => {
  const { page } = useDesk.getState();
  return page ? { page } : {};
};

/** Puts a new symbol down; on a connection it goes into it. */
export function placeSymbol(store: ProjectStore, tool: Tool | null, at: Point): ElementId | null {
  const { network, commit, select } = store.getState();
  const [x, y] = [snapToGrid(at.x), snapToGrid(at.y)];
  if (!tool) {
    const id = newId();
    const note: ElementOf<'textNote'> = { kind: 'textNote', id, x, y, text: 'Note', size: 'normal', ...pageField() };
    if (!report(commit([{ op: 'add', element: note }], 'Place note'))) return null;
    select([id]);
    return id;
  }
  const element = { ...placedBy(tool, network, newId(), x, y), ...pageField() };
  const hit = kinds[element.kind].terminals === 2 ? new Scene(network, useDesk.getState().page).runAt(at, 8) : null;
  const inserted = hit && insertInto(network, element, hit, newId);
  const changes: Change[] = inserted?.ok ? inserted.changes : [{ op: 'add', element }];
  const label = `${inserted?.ok ? 'Insert' : 'Place'} ${tool.title.toLowerCase()}`;
  if (!report(commit(changes, label))) return null;
  select([element.id]);
  return element.id;
}

/** A symbol that was dragged onto a connection goes into it when none of its terminals is taken. */
export function insertDropped(store: ProjectStore, id: ElementId): boolean {
  const { network, commit } = store.getState();
  const element = network.elements.get(id);
  if (!element || !isDrawn(element) || kinds[element.kind].terminals !== 2) return false;
  if ((connectionsAt(network).get(id) ?? []).length > 0) return false;
  // Runs as they are without the symbol: it stands on one now, which would otherwise lead around it.
  const without = new Map(network.elements);
  without.delete(id);
  const hit = new Scene({ elements: without }, element.page ?? null).runAt(element, 12);
  const inserted = hit && insertInto(network, element, hit, newId);
  if (!inserted) return false;
  if (!inserted.ok) {
    tell(`${element.name} does not fit there`, inserted.reason);
    return false;
  }
  return report(commit(inserted.changes, `Insert ${element.name}`));
}

export function pasteAt(store: ProjectStore, fragment: Fragment, at: Point, label: string): void {
  const { network, commit } = store.getState();
  const { page } = useDesk.getState();
  const { changes, ids } = putFragment(fragment, { network, newId, at, ...(page ? { page } : {}) });
  if (report(commit(changes, label))) choose(store, ids);
}

export const copied = (store: ProjectStore): string | null => {
  const { network, selection } = store.getState();
  const fragment = takeFragment(network, selection);
  return fragment && JSON.stringify(fragment);
};

export function removeSelected(store: ProjectStore): void {
  const { network, selection, commit } = store.getState();
  // A panel goes with what stands in it.
  const panels = selection.filter((id) => network.elements.get(id)?.kind === 'panel');
  const changes = removalHealed(network, [...new Set([...selection, ...movedWith(network, panels)])], newId);
  if (changes.length > 0)
    report(
      commit(
        changes,
        selection.length === 1
          ? `Delete ${nameOf(network.elements.get(selection[0])!)}`
          : `Delete ${selection.length} elements`,
      ),
    );
}

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

/** Adds a panel to the board of what is selected: a bus, a panel or something in one. */
export function addPanelHere(store: ProjectStore, type: PanelType): void {
  const { network, selection, commit } = store.getState();
  const bus = selection.map((id) => boardOf(network, id)).find((id) => id !== null);
  if (!bus) return tell('A panel needs a board', 'Select the busbar, or a panel of the board, that it goes on.');
  const added = addPanel(network, bus, type, newId);
  if (!added) return tell('This section has its coupler', 'Another goes on the section that it leads to.');
  if (report(commit(added.changes, `Add ${type} panel`))) {
    if (type !== 'coupler') useDrawing.getState().set({ lastPanel: type });
    choose(store, [type === 'coupler' ? added.bus : added.panel]);
  }
}

function boardOf(network: Network, id: ElementId): ElementId | null {
  const element = network.elements.get(id);
  if (element?.kind === 'bus') return id;
  if (element?.kind === 'panel') return element.bus;
  for (const each of network.elements.values()) if (each.kind === 'panel' && each.members.includes(id)) return each.bus;
  return null;
}

/** The nearest symbol in a direction from what is selected: the way through the drawing by keyboard. */
export function neighbour(
  network: Network,
  page: ElementId | null,
  from: ElementId | null,
  way: Point,
  centre: Point,
): ElementId | null {
  const start = from ? network.elements.get(from) : undefined;
  const origin = start && isPlaced(start) ? boxOf(start) : { ...centre, width: 0, height: 0 };
  const at = { x: origin.x + origin.width / 2, y: origin.y + origin.height / 2 };
  let best: ElementId | null = null;
  let least = Infinity;
  for (const element of network.elements.values()) {
    if (!isPlaced(element) || element.id === from || (element.page ?? null) !== page) continue;
    const box = boxOf(element);
    // The nearest point of its box: a long busbar is near along its whole length.
    const p = {
      x: Math.min(Math.max(at.x, box.x), box.x + box.width),
      y: Math.min(Math.max(at.y, box.y), box.y + box.height),
    };
    const [dx, dy] = [p.x - at.x, p.y - at.y];
    const along = dx * way.x + dy * way.y;
    const aside = Math.abs(dx * way.y) + Math.abs(dy * way.x);
    if (start && along <= 1) continue;
    const away = start ? along + 2 * aside : Math.hypot(dx, dy);
    if (away < least) [best, least] = [element.id, away];
  }
  return best;
}

export function selectAll(store: ProjectStore): void {
  const { page } = useDesk.getState();
  const { network, select } = store.getState();
  select(
    [...network.elements.values()]
      .filter((element) => isPlaced(element) && (element.page ?? null) === page)
      .map(({ id }) => id),
  );
}

export const boundsOf = (network: Network, ids: readonly ElementId[]) =>
  hull(
    ids.flatMap((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) ? [boxOf(element)] : [];
    }),
  );
