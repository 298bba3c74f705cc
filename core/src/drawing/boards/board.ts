/** Boards: a busbar with panels side by side. Panels are added, moved and snapped as one with what stands in them. */
import { newElement } from '../../model/defaults';
import type { Change } from '../../model/changes';
import { kinds, type Element, type ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, withElements, type Network } from '../../model/network';
import type { Panel, PanelType } from '../../model/sheet';
import { drawChain, pitch } from '../feeder/chain';
import { FreeNames } from '../parts/fragment';
import { Obstacles } from '../wires/route';
import { closingCoupler, couplersOf, roomBeyond, wantedBeyond } from './room';
import { boxOf, hull, isDrawn, isPlaced, snapToGrid, type Box } from '../shape/shapes';
import { connectionsAt } from '../wires/splice';
import { tools, type Tool } from '../shape/tools';

export const panelWidth = 80;
/** The upper edge of a panel stands this far above the busbar that runs through it. */
const aboveBar = 20;
const smallestHeight = 130;
/** A panel with a relay beside its run is wider, and the run stands left of its middle. */
const wide = { width: 140, run: 50 };

const toolOf = (key: string): Tool => tools.find((tool) => tool.key === key)!;

/** What stands in a panel of a type, from the busbar outward, by the keys of the tools. */
const contents: Readonly<Record<Exclude<PanelType, 'coupler'>, string>> = {
  incoming: 'kcr',
  outgoing: 'kcr',
  measuring: 'fq',
  motor: 'kcrm',
  transformer: 'kcrt',
};

const prefixes: Readonly<Record<PanelType, string>> = {
  incoming: 'Incoming 1',
  outgoing: 'Outgoing 1',
  coupler: 'Coupler 1',
  measuring: 'Measuring 1',
  motor: 'Motor 1',
  transformer: 'Transformer 1',
};

/** Height of the strip at the foot of a panel in which its title stands. */
export const titleStrip = 18;

/** Where the title of a panel stands along its foot: beside the run that leaves it. */
export function titleSpan({ x, width }: Panel): { left: number; right: number } {
  const left = x - width / 2;
  return { left: left + (width >= wide.width ? wide.run + 5 : 3), right: left + width - 3 };
}

/** The part of a panel below its bar, within its edges: what must not lie on anything. */
export const frontBelow = (panel: Panel, { y }: ElementOf<'bus'>): Box => ({
  x: panel.x - panel.width / 2 + 1,
  y: y + 4,
  width: panel.width - 2,
  height: panel.y + panel.height - y - 4,
});

/** Panels that stand on a busbar, from left to right. */
export const panelsOf = (network: Network, bus: ElementId): Panel[] =>
  ofKind(network, 'panel')
    .filter((panel) => panel.bus === bus)
    .sort((p, q) => p.x - q.x);

/** Panels that stand flush with one another on both sides of a stretch. */
function frontOf(
  network: Network,
  { left, right, y, page }: { left: number; right: number; y: number; page?: ElementId | undefined },
): Panel[] {
  const level = ofKind(network, 'panel').filter((panel) => panel.page === page && panel.y === y);
  const flush = (at: number, side: -1 | 1): Panel[] => {
    const next = level.find((panel) => Math.abs(panel.x - (side * panel.width) / 2 - at) < 1);
    return next ? [next, ...flush(next.x + (side * next.width) / 2, side)] : [];
  };
  return [...flush(left, -1), ...flush(right, 1)];
}

/** The busbars of a board: the one given, and those that couplers in panels join to it, near and far. */
export function sectionsOf(network: Network, bus: ElementId): Set<ElementId> {
  const joined = couplersOf(network).map(({ buses }) => buses);
  const sections = new Set([bus]);
  for (let size = 0; size < sections.size;) {
    size = sections.size;
    for (const buses of joined) if ([...buses].some((id) => sections.has(id))) for (const id of buses) sections.add(id);
  }
  return sections;
}

export interface AddedPanel {
  readonly changes: Change[];
  readonly network: Network;
  /** The busbar on which the next panel goes. */
  readonly bus: ElementId;
  readonly panel: ElementId;
}

/**
 * Adds a panel at the right end of a section; the busbar is lengthened as far as needed, and what stands there, such as the coupler to the
 * next section, makes room. A coupler starts a new section of busbar to its right; where there is one already the answer is null.
 */
export function addPanel(
  network: Network,
  busId: ElementId,
  type: PanelType,
  newId: () => ElementId,
): AddedPanel | null {
  const bus = network.elements.get(busId);
  if (bus?.kind !== 'bus') return null;
  const closed = closingCoupler(network, busId);
  if (closed && type === 'coupler') return null;
  const left = closed
    ? closed.x - closed.width / 2
    : Math.max(rightEnd(network, bus), type === 'coupler' ? lastRun(network, bus) : -Infinity);
  const width = widthOf(type);
  // What comes from above may stand over a panel.
  const place = { x: left + 1, y: bus.y - 4, width: width - 2, height: smallestHeight - aboveBar };
  const wanted = wantedBeyond(network, bus, left, [place]);
  if (wanted === 0) return placePanel(network, bus, type, left, newId);
  const room = roomBeyond(network, bus, left, wanted);
  const roomy = withElements(network, room);
  const added = placePanel(roomy, roomy.elements.get(busId) as ElementOf<'bus'>, type, left, newId);
  const settled = new Set(added.changes.flatMap((change) => (change.op === 'update' ? [change.element.id] : [])));
  return {
    ...added,
    changes: [
      ...room.filter(({ id }) => !settled.has(id)).map((element): Change => ({ op: 'update', element })),
      ...added.changes,
    ],
  };
}

const hasRelay = (type: PanelType): boolean => type !== 'coupler' && contents[type].includes('r');
const widthOf = (type: PanelType): number => (hasRelay(type) ? wide.width : panelWidth);

/** Where the next panel of an open section begins: flush with the last, beside the coupler it begins in, else where its busbar begins. */
function rightEnd(network: Network, bus: ElementOf<'bus'>): number {
  const beside = ofKind(network, 'panel').filter(
    (panel) => panel.bus === bus.id || (panel.y === bus.y - aboveBar && Math.abs(panel.x - bus.x) < panel.width / 2),
  );
  return Math.max(bus.x, ...beside.map((panel) => panel.x + panel.width / 2));
}

/** Right of the last run that meets a busbar: a coupler ends a section, nothing of it stands beyond. */
const lastRun = (network: Network, bus: ElementOf<'bus'>): number =>
  Math.max(
    ...(connectionsAt(network).get(bus.id) ?? []).flatMap(({ from, to }) =>
      [from, to].flatMap((end) =>
        end.element === bus.id ? [snapToGrid(bus.x + Math.min(end.at ?? bus.length / 2, bus.length)) + pitch / 2] : [],
      ),
    ),
  );

/** A panel whose left edge stands at `left`, where there is room for it. */
function placePanel(
  network: Network,
  bus: ElementOf<'bus'>,
  type: PanelType,
  left: number,
  newId: () => ElementId,
): AddedPanel {
  const width = widthOf(type);
  const middle = left + (hasRelay(type) ? wide.run : panelWidth / 2);
  const elements: Element[] = [];
  const updates: Element[] = [];
  let next = bus.id;
  const names = new FreeNames(network.elements.values());
  const page = bus.page ? { page: bus.page } : {};
  if (type === 'coupler') {
    const section = couplerOf(network, bus, middle, newId, names);
    elements.push(...section.elements);
    updates.push(...section.updates);
    next = section.bus;
  } else {
    const steps = [...contents[type]].map(toolOf);
    const ids: ElementId[] = [];
    const chain = drawChain(
      network,
      { element: bus.id, terminal: 0, at: middle - bus.x, heading: 'down' },
      steps,
      (k) => (ids[k] ??= newId()),
    );
    for (const element of chain.elements) if ('name' in element) names.next(element.name);
    elements.push(...chain.elements);
    const length = Math.max(bus.length, snapToGrid(middle + panelWidth / 2 - bus.x));
    if (length !== bus.length) updates.push({ ...bus, length });
  }
  const members = elements.filter((element) => isDrawn(element) && element.kind !== 'bus');
  const inside = hull(
    members
      .filter((element) => element.kind !== 'relay')
      .filter(isPlaced)
      .map(boxOf),
  );
  // What ends a run has its name below it, above the title of the panel.
  const hangs = members.some((element) => element.kind !== 'relay' && kinds[element.kind].terminals === 1);
  const needed = Math.max(
    smallestHeight,
    snapToGrid((inside ? inside.y + inside.height - bus.y : 0) + aboveBar + (hangs ? 60 : 40)),
  );
  // A board is one front: its panels are as high as the highest.
  const row = frontOf(network, { left, right: left + width, y: bus.y - aboveBar, page: bus.page });
  const height = Math.max(needed, ...row.map((panel) => panel.height));
  const obstacles = new Obstacles(network.elements.values());
  for (const each of row) {
    const { x, y, width } = boxOf(each);
    const below = { x, y: y + each.height, width, height: height - each.height };
    // What has been drawn below a panel is not drawn over.
    if (each.height < height && obstacles.within(below).length === 0) updates.push({ ...each, height });
  }
  const panel: Panel = {
    kind: 'panel',
    id: newId(),
    name: names.next(prefixes[type]),
    note: '',
    ...page,
    type,
    bus: bus.id,
    x: left + width / 2,
    y: bus.y - aboveBar,
    width,
    height,
    members: members.map(({ id }) => id),
  };
  const end = left + width;
  const bar = updates.findIndex((element) => element.id === bus.id);
  const reaches = bar < 0 ? bus : (updates[bar] as ElementOf<'bus'>);
  if (type !== 'coupler' && end - bus.x > reaches.length) {
    if (bar >= 0) updates.splice(bar, 1);
    updates.push({ ...bus, length: snapToGrid(end - bus.x) });
  }
  elements.push(panel);
  const changes: Change[] = [
    ...updates.map((element): Change => ({ op: 'update', element })),
    ...elements.map((element): Change => ({ op: 'add', element })),
  ];
  return { changes, network: withElements(network, [...updates, ...elements]), bus: next, panel: panel.id };
}

/** A breaker lying between the end of this busbar and the beginning of a new one. */
function couplerOf(
  network: Network,
  bus: ElementOf<'bus'>,
  middle: number,
  newId: () => ElementId,
  names: FreeNames,
): { elements: Element[]; updates: Element[]; bus: ElementId } {
  const left = middle - panelWidth / 2;
  const length = snapToGrid(left + 20 - bus.x);
  const page = bus.page ? { page: bus.page } : {};
  const breaker = {
    ...(drawChain(
      network,
      { element: bus.id, terminal: 0, at: 0, heading: 'down' },
      [toolOf('k')],
      newId,
    ).elements.find((element) => element.kind === 'switch') as ElementOf<'switch'>),
    x: middle,
    y: bus.y + 40,
    turn: 270 as const,
  };
  names.next(breaker.name);
  const { assumed: _, ...bare } = bus;
  const section: ElementOf<'bus'> = {
    ...bare,
    ...page,
    id: newId(),
    name: names.next(bus.name),
    note: '',
    x: middle + panelWidth / 2 - 20,
    length: panelWidth,
  };
  const join = (element: ElementId, at: number, terminal: number): Element => ({
    kind: 'connection',
    id: newId(),
    from: { element, terminal: 0, at },
    to: { element: breaker.id, terminal },
  });
  return {
    elements: [breaker, section, join(bus.id, length - 10, 0), join(section.id, 10, 1)],
    updates: length === bus.length ? [] : [{ ...bus, length: Math.max(length, 20) }],
    bus: section.id,
  };
}

/** A whole board: busbar and panels, as additions to an otherwise empty place at x, y. */
export function makeBoard(
  network: Network,
  { kv, panels, x, y, page }: { kv: number; panels: readonly PanelType[]; x: number; y: number; page?: ElementId },
  newId: () => ElementId,
): { changes: Change[]; ids: ElementId[] } {
  const bus = newElement('bus', newId(), new FreeNames(network.elements.values()).next('Bus 1'), {
    ...{ x, y, nominalKv: kv, length: 2 * panelWidth },
    ...(page ? { page } : {}),
  });
  let at = withElements(network, [bus]);
  let on = bus.id;
  for (const type of panels) {
    const added = addPanel(at, on, type, newId)!;
    [at, on] = [added.network, added.bus];
  }
  const made = [...at.elements.values()].filter(({ id }) => !network.elements.has(id));
  return {
    changes: made.map((element) => ({ op: 'add', element })),
    ids: made.filter(isPlaced).map(({ id }) => id),
  };
}
