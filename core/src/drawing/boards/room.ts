/** Room on a page where there is none: what stands right of a line moves on, so that something new fits between and nothing lies on anything. */
import type { Element, ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import type { Panel } from '../../model/sheet';
import type { ConnectionEnd } from '../../model/switching';
import { Obstacles } from '../wires/route';
import { connectionsAt } from '../wires/splice';
import { boxOf, grid, isDrawn, isPlaced, overlaps, type Box, type Placed } from '../shape/shapes';

type Bus = ElementOf<'bus'>;

/** Where a section of busbar ends for what is added to it: at the panel of the coupler that closes it, else at the end of its bar. */
export function sectionEnd(network: Network, bus: Bus): number {
  const coupler = closingCoupler(network, bus.id);
  return coupler ? coupler.x - coupler.width / 2 : bus.x + bus.length;
}

/** The panel of the coupler at the right end of a section, on whichever of the two its panel is counted. */
export const closingCoupler = (network: Network, bus: ElementId) => couplerAt(network, bus, 1);

/** The panel of the coupler at the left end of a section. */
export const openingCoupler = (network: Network, bus: ElementId) => couplerAt(network, bus, -1);

function couplerAt(network: Network, bus: ElementId, side: -1 | 1): Panel | undefined {
  const section = network.elements.get(bus);
  if (section?.kind !== 'bus') return undefined;
  const middle = section.x + section.length / 2;
  return couplersOf(network).find(({ panel, buses }) => buses.has(bus) && side * (panel.x - middle) > 0)?.panel;
}

/** The panels of couplers, each with the busbars that it joins. */
export const couplersOf = (network: Network): { panel: Panel; buses: ReadonlySet<ElementId> }[] =>
  ofKind(network, 'panel')
    .filter(({ type }) => type === 'coupler')
    .map((panel) => ({
      panel,
      buses: new Set([
        panel.bus,
        ...panel.members.flatMap((member) =>
          (connectionsAt(network).get(member) ?? []).flatMap(({ from, to }) =>
            [from, to].flatMap((end) => (network.elements.get(end.element)?.kind === 'bus' ? [end.element] : [])),
          ),
        ),
      ]),
    }));

/** Whether an element stands right of an upright line: by its middle, a busbar by where it begins. */
export function standsBeyond(element: Placed, x: number): boolean {
  if (element.kind === 'bus') return element.x >= x;
  const box = boxOf(element);
  return box.x + box.width / 2 > x;
}

/** The network without what stands right of a line on a page. */
export function leftOf(network: Network, page: ElementId | undefined, x: number): Network {
  return {
    elements: new Map(
      [...network.elements].filter(
        ([, element]) => !isPlaced(element) || element.page !== page || !standsBeyond(element, x),
      ),
    ),
  };
}

/**
 * What changes when everything right of the line x on the page of `root` moves on by a width, a multiple of the grid: symbols, panels and
 * notes move; `root` grows, and so do other busbars that something meets beyond the line; what meets them there goes along.
 */
export function roomBeyond(network: Network, root: Bus, x: number, width: number): Element[] {
  const moved = new Map<ElementId, Element>();
  for (const element of network.elements.values())
    if (isPlaced(element) && element.page === root.page && element.id !== root.id && standsBeyond(element, x))
      moved.set(element.id, { ...element, x: element.x + width });

  const shifted: ReadonlySet<ElementId> = new Set(moved.keys());
  const grown = new Map<ElementId, Bus>([[root.id, root]]);
  const stays = (end: ConnectionEnd) => {
    const element = network.elements.get(end.element);
    return element?.kind === 'bus' && element.page === root.page && !shifted.has(element.id) ? element : null;
  };
  const goesAlong = (bus: Bus, end: ConnectionEnd, far: ConnectionEnd) =>
    bus.x + placeOn(bus, end) > x || (bus.x + placeOn(bus, end) === x && shifted.has(far.element));
  for (const { from, to } of ofKind(network, 'connection'))
    for (const [end, far] of [
      [from, to],
      [to, from],
    ] as const) {
      const bus = stays(end);
      if (bus && goesAlong(bus, end, far)) grown.set(bus.id, bus);
    }
  for (const bus of grown.values()) moved.set(bus.id, { ...bus, length: bus.length + width });
  for (const connection of ofKind(network, 'connection')) {
    const along = (end: ConnectionEnd, far: ConnectionEnd) => {
      const bus = grown.get(end.element);
      if (!bus) return end;
      const at = placeOn(bus, end) + (goesAlong(bus, end, far) ? width : 0);
      return at === end.at ? end : { ...end, at };
    };
    const [from, to] = [along(connection.from, connection.to), along(connection.to, connection.from)];
    if (from !== connection.from || to !== connection.to) moved.set(connection.id, { ...connection, from, to });
  }
  return [...moved.values()];
}

/** Where an end meets a bar, from its beginning. */
const placeOn = (bus: Bus, end: ConnectionEnd): number => Math.min(end.at ?? bus.length / 2, bus.length);

/** The room, in multiples of the grid, that boxes of what is added to a busbar need beyond the line x, where they lie on something there; 0 when they lie on nothing. */
export function wantedBeyond(network: Network, root: Bus, x: number, boxes: readonly Box[]): number {
  const beyond = [...network.elements.values()].filter(
    (element): element is Placed =>
      isPlaced(element) && element.page === root.page && element.id !== root.id && standsBeyond(element, x),
  );
  const symbols = new Obstacles(beyond.filter(isDrawn));
  const others = beyond.filter((element) => element.kind === 'panel').map(boxOf);
  const inTheWay = (box: Box) => symbols.within(box).length > 0 || others.some((other) => overlaps(other, box));
  if (!boxes.some(inTheWay)) return 0;
  const reach = Math.max(...boxes.map((box) => box.x + box.width)) - x;
  return Math.max(0, Math.ceil(reach / grid) * grid);
}
