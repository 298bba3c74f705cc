/**
 * A feeder drawn in one gesture: from a busbar or a free terminal symbol after symbol, each joined to the one before. The steps are tools;
 * the whole is one batch of changes.
 */
import type { Change } from '../../model/changes';
import { directPart } from '../../model/directPart';
import { kinds, type Element, type ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { currentInput, tripCircuit } from '../../model/protection';
import { buildTopology } from '../../model/topology';
import type { ConnectionEnd } from '../../model/switching';
import { connectionsAt } from '../wires/splice';
import { FreeNames } from '../parts/fragment';
import { leftOf, roomBeyond, sectionEnd, standsBeyond, wantedBeyond } from '../boards/room';
import { Obstacles } from '../wires/route';
import { boxOf, endPoint, grid, isDrawn, overlaps, snapToGrid, type Box, type Drawn } from '../shape/shapes';
import { terminalsOf, type Point } from '../shape/terminals';
import { isDirectTool, made, type Tool } from '../shape/tools';
import { levelAbove, nominalFor, stepDown } from '../shape/typical';

export type Heading = 'down' | 'up';

export interface ChainStart {
  readonly element: ElementId;
  readonly terminal: number;
  /** On a bus: how far along. */
  readonly at?: number;
  /** Nobody chose the place along the bus: it moves on until the whole feeder stands clear. */
  readonly free?: boolean;
  readonly heading: Heading;
}

export interface Chain {
  /** New elements in the order they were drawn, connections between them included. */
  readonly elements: readonly Element[];
  /** What had to be changed, such as a busbar that was lengthened. */
  readonly updates: readonly Element[];
  /** The steps that could be drawn, and why the next could not. */
  readonly drawn: number;
  readonly reason: string | null;
  /** How far along its bus it begins. */
  readonly at?: number;
}

const gap = 10;
const barLength = 160;

/** Where a feeder may begin: a bus, or the one free terminal of a symbol; null when there is none. */
export function startAt(network: Network, id: ElementId, wantedAt?: number): ChainStart | null {
  const element = network.elements.get(id);
  if (!element || !isDrawn(element)) return null;
  if (element.kind === 'bus')
    return {
      element: id,
      terminal: 0,
      at: freeSlot(network, element, wantedAt),
      free: wantedAt === undefined,
      heading: 'down',
    };
  const taken = new Set(
    (connectionsAt(network).get(id) ?? []).flatMap(({ from, to }) =>
      [from, to].flatMap((end) => (end.element === id ? [end.terminal] : [])),
    ),
  );
  // The far side first: a run is drawn away from the supply.
  const terminals = terminalsOf(element);
  for (let k = terminals.length - 1; k >= 0; k--)
    if (!taken.has(k)) return { element: id, terminal: k, heading: terminals[k].y < 0 ? 'up' : 'down' };
  return null;
}

/** Room that a feeder takes beside the next, and the place below the busbar that must be free for it. */
export const pitch = 60;
const roomBelow = 60;

/** A place along a busbar for another feeder: the wanted one, else the first free from the left; beyond the end of the section when all is taken. */
export function freeSlot(network: Network, bus: ElementOf<'bus'>, wantedAt?: number): number {
  if (wantedAt !== undefined) return Math.max(0, snapToGrid(wantedAt));
  // What stands beyond the end will make room.
  const end = sectionEnd(network, bus);
  const obstacles = new Obstacles(leftOf(network, bus.page, end).elements.values());
  const taken = (connectionsAt(network).get(bus.id) ?? []).flatMap(({ from, to }) =>
    [from, to].flatMap((each) => {
      const at = each.at ?? bus.length / 2;
      return each.element === bus.id && bus.x + at <= end ? [at] : [];
    }),
  );
  const panels = ofKind(network, 'panel').filter((panel) => panel.page === bus.page && !standsBeyond(panel, end));
  for (let at = pitch / 2 - 10; ; at += 10) {
    const column = {
      x: bus.x + at - pitch / 2,
      y: bus.y + 6,
      width: pitch,
      height: roomBelow,
    };
    const isFree =
      taken.every((other) => Math.abs(other - at) >= pitch) &&
      obstacles.within(column).length === 0 &&
      !panels.some((panel) => overlaps(boxOf(panel), column));
    if (isFree || at > 9900) return at;
  }
}

/** The voltage at a place of the network in kV; null when nothing tells. */
export function levelAt(network: Network, element: ElementId, terminal: number): number | null {
  const topology = buildTopology(network);
  const node = topology.nodeAt(element, terminal);
  return node === undefined ? null : topology.nodes[node].nominalKv;
}

/**
 * Draws the steps one after the other. `idOf(k)` gives the id of the k-th new thing, the same each time, so that a preview and the stored
 * feeder are alike. A relay stands beside the last current transformer and trips the last breaker. What ends a feeder (a motor, a load)
 * takes no further step.
 */
export function drawChain(
  network: Network,
  start: ChainStart,
  steps: readonly Tool[],
  idOf: (k: number) => ElementId,
): Chain {
  const chain = chainAt(network, start, steps, idOf);
  const bus = network.elements.get(start.element);
  if (bus?.kind !== 'bus') return chain;
  const beside = leftOf(network, bus.page, sectionEnd(network, bus));
  const on = start.free ? firstClear(beside, boxesOf(chain).map(around), 0) : 0;
  const at = (start.at ?? bus.length / 2) + on;
  const settled = on === 0 ? chain : chainAt(network, { ...start, at }, steps, idOf);
  return { ...settled, at, updates: reaching(network, bus, at, boxesOf(settled).map(around)) };
}

const boxesOf = ({ elements }: Chain): Box[] => elements.filter(isDrawn).map(boxOf);

function chainAt(network: Network, start: ChainStart, steps: readonly Tool[], idOf: (k: number) => ElementId): Chain {
  const origin = network.elements.get(start.element);
  if (!origin || !isDrawn(origin)) return { elements: [], updates: [], drawn: 0, reason: 'the feeder begins nowhere' };
  const down = start.heading === 'down';
  const page = origin.page ? { page: origin.page } : {};
  const names = new FreeNames(network.elements.values());
  const elements: Element[] = [];
  const updates: readonly Element[] = [];
  let count = 0;
  let end: ConnectionEnd = { element: start.element, terminal: start.terminal };
  let at: Point;
  if (origin.kind === 'bus') {
    const along = start.at ?? origin.length / 2;
    end = { ...end, at: along };
    at = { x: origin.x + along, y: origin.y };
  } else {
    at = endPoint(origin, end).at;
    // A run that leaves a panel goes on below it.
    const panel = down ? ofKind(network, 'panel').find(({ members }) => members.includes(origin.id)) : undefined;
    if (panel) at = { x: at.x, y: Math.max(at.y, panel.y + panel.height) };
  }
  const here = levelAt(network, start.element, start.terminal);
  let kv = here === null || origin.kind === 'bus' ? here : nominalFor(here);
  let system: 'ac' | 'dc' = isDirectAt(network, start) ? 'dc' : 'ac';
  let ct: ElementOf<'currentTransformer'> | null = null;
  let breaker: ElementId | null = null;
  let closedBy: string | null = null;

  const join = (from: ConnectionEnd, to: ConnectionEnd) =>
    elements.push({ kind: 'connection', id: idOf(count++), from, to });

  for (let k = 0; k < steps.length; k++) {
    const tool = steps[k];
    if (tool.kind === 'relay') {
      const beside: { x: number; y: number } = ct ? { x: ct.x + 50, y: ct.y } : { x: at.x + 50, y: at.y };
      elements.push(
        made(tool, idOf(count++), names, kv, {
          ...beside,
          ...page,
          inputs: [currentInput(ct?.id ?? null)],
          circuits: [tripCircuit(breaker ? [breaker] : [])],
        }),
      );
      continue;
    }
    if (closedBy) return { elements, updates, drawn: k, reason: `${closedBy} ends this feeder` };
    const next = systemBeyond(tool, system, down);
    if (next === null)
      return {
        elements,
        updates,
        drawn: k,
        reason:
          system === 'ac'
            ? 'direct current begins behind a charger or rectifier'
            : `no ${tool.title.toLowerCase()} stands in direct current`,
      };
    const goesUp = !down && tool.kind === 'transformer' && kv !== null ? stepDown(levelAbove(kv), kv) : {};
    const asBus = tool.kind === 'bus' ? { system: next } : {};
    const symbol = made(tool, idOf(count++), names, kv, { ...goesUp, ...asBus, ...page });
    system = next;
    const placed = placeNext(symbol, at, down);
    elements.push(placed.symbol);
    join(end, placed.near);
    if (!placed.far) closedBy = placed.symbol.name;
    else [end, at] = [placed.far, placed.farPoint];
    kv = levelBeyond(placed.symbol, down, kv);
    if (placed.symbol.kind === 'currentTransformer') ct = placed.symbol;
    if (placed.symbol.kind === 'switch' && placed.symbol.type === 'breaker') breaker = placed.symbol.id;
    if (placed.symbol.kind === 'bus') [ct, breaker] = [null, null];
  }
  return { elements, updates, drawn: steps.length, reason: null };
}

/**
 * What changes for a busbar to reach a feeder at this place along it: it grows, and what would stand in the way of it or of the feeder's
 * boxes beyond the end of the section moves on.
 */
export function reaching(network: Network, bus: ElementOf<'bus'>, along: number, feeder: readonly Box[]): Element[] {
  const end = sectionEnd(network, bus);
  const column = { x: end, y: bus.y - 4, width: bus.x + along + pitch / 2 - end, height: roomBelow + 4 };
  const width = wantedBeyond(network, bus, end, bus.x + along > end ? [column, ...feeder] : feeder);
  const room = width > 0 ? roomBeyond(network, bus, end, width) : [];
  const grown = (room.find(({ id }) => id === bus.id) ?? bus) as ElementOf<'bus'>;
  if (along <= grown.length) return room;
  return [...room.filter(({ id }) => id !== bus.id), { ...grown, length: snapToGrid(along + 20) }];
}

/** A symbol in the run after the point reached, turned so that the right terminal meets it. */
function placeNext(symbol: Drawn, at: Point, down: boolean) {
  const way = down ? 1 : -1;
  if (symbol.kind === 'bus') {
    const y = at.y + way * 4 * gap;
    const bar = { ...symbol, x: snapToGrid(at.x - barLength / 2), y, length: barLength } as Drawn;
    const middle = { element: symbol.id, terminal: 0, at: at.x - bar.x };
    return { symbol: bar, near: middle, far: middle, farPoint: { x: at.x, y } };
  }
  const count = kinds[symbol.kind].terminals;
  const [near, far] = count === 1 ? [0, null] : down ? [0, 1] : [1, 0];
  const facing = terminalsOf(symbol)[near].y;
  const turn = count === 1 && Math.sign(facing) === way ? 180 : 0;
  const oriented = { ...symbol, turn, x: 0, y: 0 } as Drawn;
  const own = terminalsOf(oriented);
  const first = { x: at.x - own[near].x, y: at.y + way * gap - own[near].y };
  const standing = { ...oriented, ...first } as Drawn;
  return {
    symbol: standing,
    near: { element: symbol.id, terminal: near },
    far: far === null ? null : { element: symbol.id, terminal: far },
    farPoint: far === null ? at : { x: first.x + own[far].x, y: first.y + own[far].y },
  };
}

/** Whether a run that goes on here carries direct current. */
const isDirectAt = (network: Network, { element, terminal }: ConnectionEnd): boolean =>
  directPart(network).ids.has(element) && !(network.elements.get(element)?.kind === 'rectifier' && terminal === 0);

/** What the run carries behind a symbol; null where the symbol has no place in it. */
function systemBeyond(tool: Tool, system: 'ac' | 'dc', down: boolean): 'ac' | 'dc' | null {
  if (tool.kind === 'switch') return system;
  if (tool.kind === 'bus') return system === 'dc' || !isDirectTool(tool) ? system : null;
  // Its d.c. side is below.
  if (tool.kind === 'rectifier') return down ? (system === 'ac' ? 'dc' : null) : system === 'dc' ? 'ac' : null;
  return isDirectTool(tool) === (system === 'dc') ? system : null;
}

function levelBeyond(symbol: Drawn, down: boolean, kv: number | null): number | null {
  switch (symbol.kind) {
    case 'transformer':
      // A bus behind a 420 V winding is a 400 V bus.
      return nominalFor(down ? symbol.lvKv : symbol.hvKv);
    case 'threeWindingTransformer':
      return nominalFor(down ? symbol.mvKv : symbol.hvKv);
    case 'bus':
      return symbol.nominalKv;
    // To direct current and back.
    case 'rectifier':
      return down ? 0.11 : 0.4;
    default:
      return kv;
  }
}

/** The batch that stores a chain. */
export const chainChanges = ({ elements, updates }: Chain): Change[] => [
  ...updates.map((element): Change => ({ op: 'update', element })),
  ...elements.map((element): Change => ({ op: 'add', element })),
];

/** Whatever hangs on one busbar through a symbol: the symbols up to the next busbars, and those busbars with all behind them that have no other tie. */
export function feederOf(network: Network, id: ElementId): { root: ElementOf<'bus'>; ids: ElementId[] } | null {
  const inside = reached(network, id, (element) => element.kind === 'bus');
  const bars = [...borders(network, inside)].map((bar) => network.elements.get(bar) as ElementOf<'bus'>);
  const root = bars.sort((p, q) => p.y - q.y || p.x - q.x)[0];
  if (!root) return null;
  const behind = reached(network, id, (element) => element.id === root.id);
  const starts = (connectionsAt(network).get(root.id) ?? []).filter(({ from, to }) =>
    behind.has(from.element === root.id ? to.element : from.element),
  );
  const hasSource = [...behind].some((each) => network.elements.get(each)?.kind === 'networkFeeder');
  const ids = starts.length > 1 || (hasSource && !inside.has(id)) || behind.size > 400 ? inside : behind;
  for (const element of network.elements.values())
    if (element.kind === 'relay' && element.inputs.some(({ element: at }) => at !== null && ids.has(at)))
      ids.add(element.id);
  return { root, ids: [...ids] };
}

function reached(network: Network, from: ElementId, stops: (element: Element) => boolean): Set<ElementId> {
  const seen = new Set([from]);
  const open = [from];
  while (open.length > 0) {
    const id = open.pop()!;
    for (const connection of connectionsAt(network).get(id) ?? []) {
      const other = connection.from.element === id ? connection.to.element : connection.from.element;
      const element = network.elements.get(other);
      if (!element || seen.has(other) || stops(element)) continue;
      seen.add(other);
      open.push(other);
    }
  }
  return seen;
}

function borders(network: Network, inside: ReadonlySet<ElementId>): Set<ElementId> {
  const found = new Set<ElementId>();
  for (const id of inside)
    for (const { from, to } of connectionsAt(network).get(id) ?? [])
      for (const end of [from.element, to.element])
        if (!inside.has(end) && network.elements.get(end)?.kind === 'bus') found.add(end);
  return found;
}

/** Free room on both sides of a feeder, in drawing units. */
const aside = 14;
/** A symbol of a feeder with the room that it wants. */
export const around = ({ x, y, width, height }: Box): Box => ({
  x: x - aside,
  y: y - 4,
  width: width + 2 * aside,
  height: height + 8,
});

/** How far to the right boxes have to go until they lie on nothing of the network, in drawing units: `least` at least, in steps of the grid. */
export function firstClear(network: Network, boxes: readonly Box[], least: number): number {
  const obstacles = new Obstacles(network.elements.values());
  for (let shift = least; shift < least + 9000; shift += grid)
    if (boxes.every((box) => obstacles.within({ ...box, x: box.x + shift }).length === 0)) return shift;
  return least;
}
