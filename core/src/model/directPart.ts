/** Which part of a drawing carries direct current, and the network without it, which is all that the studies of alternating current see. */
import { newElement } from './defaults';
import { directKinds } from './direct';
import type { Rectifier } from './direct';
import type { Element, ElementOf } from './element';
import type { ElementId } from './fields';
import { networkOf, ofKind, type Network } from './network';
import type { ConnectionEnd } from './switching';

export interface DirectPart {
  /** Elements on the d.c. side, connections among them; a rectifier stands on both. */
  readonly ids: ReadonlySet<ElementId>;
  /** Connections between d.c. and what only a.c. flows through, which join nothing. */
  readonly crossing: readonly ElementId[];
}

const nothing: DirectPart = { ids: new Set(), crossing: [] };
const parts = new WeakMap<Network, DirectPart>();
const others = new WeakMap<Network, Network>();

/** From boards and sources of direct current through switches, whether open or closed, and over busbars of the same kind. */
export function directPart(network: Network): DirectPart {
  let part = parts.get(network);
  if (!part) parts.set(network, (part = findPart(network)));
  return part;
}

function findPart(network: Network): DirectPart {
  const seeds = [
    ...ofKind(network, 'bus').filter(({ system }) => system === 'dc'),
    ...directKinds.flatMap((kind) => ofKind<(typeof directKinds)[number]>(network, kind)),
  ];
  if (seeds.length === 0) return nothing;
  const at = new Map<ElementId, ElementOf<'connection'>[]>();
  for (const connection of ofKind(network, 'connection'))
    for (const { element } of [connection.from, connection.to])
      at.set(element, [...(at.get(element) ?? []), connection]);
  const ids = new Set<ElementId>(seeds.map(({ id }) => id));
  const crossing = new Set<ElementId>();
  const queue = [...ids];
  for (const id of queue)
    for (const connection of at.get(id) ?? []) {
      const [own, other] =
        connection.from.element === id ? [connection.from, connection.to] : [connection.to, connection.from];
      // The a.c. side of a rectifier.
      if (network.elements.get(id)?.kind === 'rectifier' && own.terminal === 0) continue;
      const beyond = network.elements.get(other.element);
      if (!beyond || ids.has(connection.id) || crossing.has(connection.id)) continue;
      if (!carriesDirect(beyond, other)) {
        crossing.add(connection.id);
        continue;
      }
      ids.add(connection.id);
      if (!ids.has(other.element)) {
        ids.add(other.element);
        queue.push(other.element);
      }
    }
  return { ids, crossing: [...crossing] };
}

const carriesDirect = (element: Element, { terminal }: ConnectionEnd): boolean =>
  element.kind === 'switch' ||
  (element.kind === 'bus' && element.system === 'dc') ||
  (element.kind === 'rectifier' ? terminal === 1 : (directKinds as readonly string[]).includes(element.kind));

/** The network that alternating current flows in: itself where there is no other. A rectifier is a load of it. */
export function alternating(network: Network): Network {
  const { ids, crossing } = directPart(network);
  if (ids.size === 0) return network;
  let rest = others.get(network);
  if (!rest) {
    const gone = new Set(crossing);
    // One whose a.c. side is not drawn stands for itself.
    const fed = new Set(
      ofKind(network, 'connection').flatMap(({ from, to }) =>
        [from, to].flatMap(({ element, terminal }) => (terminal === 0 ? [element] : [])),
      ),
    );
    const elements: Element[] = [];
    for (const element of network.elements.values())
      if (element.kind === 'rectifier') {
        if (fed.has(element.id)) elements.push(asLoad(element));
      } else if (!ids.has(element.id) && !gone.has(element.id)) elements.push(element);
    others.set(network, (rest = networkOf(elements)));
  }
  return rest;
}

/** The part that direct current flows in, with all that has no place in a network. */
export function direct(network: Network): Network {
  const { ids } = directPart(network);
  return networkOf([...network.elements.values()].filter(({ id, kind }) => ids.has(id) || !isElectric(kind)));
}

const isElectric = (kind: Element['kind']): boolean => !['condition', 'projectSettings', 'libraryEntry'].includes(kind);

/** The same load for the same rectifier: what stands on it stays. */
const loads = new WeakMap<Rectifier, ElementOf<'load'>>();

function asLoad(rectifier: Rectifier): ElementOf<'load'> {
  let load = loads.get(rectifier);
  if (!load) {
    const { id, name, x, y, turn, page, ratedA, floatV, acV, type, efficiencyPercent, powerFactor } = rectifier;
    const volts = type === 'limited' ? floatV : 1.35 * acV;
    load = newElement('load', id, name, {
      x,
      y,
      turn,
      ...(page !== undefined && { page }),
      ratedMva: (volts * ratedA) / (efficiencyPercent / 100) / powerFactor / 1e6,
      powerFactor,
    });
    loads.set(rectifier, load);
  }
  return load;
}
