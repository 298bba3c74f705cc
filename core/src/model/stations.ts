/** Stations: what hangs together without a line in between, whatever its switches stand at. Found from the network, not typed. */
import { nameOf } from './element';
import type { ElementId } from './fields';
import { ofKind, type Network } from './network';

export interface Station {
  /** Of its first bus. */
  readonly id: ElementId;
  /** What the names of its buses begin with. */
  readonly name: string;
  /** Everything in it, also relays that measure there. */
  readonly elements: ReadonlySet<ElementId>;
}

const known = new WeakMap<Network, readonly Station[]>();

/** Stations with a bus, by name. */
export function stationsOf(network: Network): readonly Station[] {
  let stations = known.get(network);
  if (!stations) known.set(network, (stations = foundIn(network)));
  return stations;
}

/** The station that an element lies in; undefined for lines and for what hangs on no bus. */
export const stationOf = (network: Network, id: ElementId): Station | undefined =>
  stationsOf(network).find(({ elements }) => elements.has(id));

/** Each end of a line is a place of its own. */
const keyOf = (network: Network, element: ElementId, terminal: number): string =>
  network.elements.get(element)?.kind === 'line' ? `${element}:${terminal}` : element;

function foundIn(network: Network): readonly Station[] {
  const parent = new Map<string, string>();
  const root = (key: string): string => {
    let at = key;
    for (let up = parent.get(at); up !== undefined; up = parent.get(at)) {
      // Halved on the way, so that long boards stay short paths.
      const above = parent.get(up);
      if (above !== undefined) parent.set(at, above);
      at = up;
    }
    return at;
  };
  const join = (p: string, q: string) => {
    const [a, b] = [root(p), root(q)];
    if (a !== b) parent.set(a, b);
  };
  for (const { from, to } of ofKind(network, 'connection'))
    join(keyOf(network, from.element, from.terminal), keyOf(network, to.element, to.terminal));
  for (const relay of ofKind(network, 'relay'))
    for (const { element } of relay.inputs) if (element !== null) join(relay.id, element);
  const groups = new Map<string, ElementId[]>();
  for (const { id, kind } of network.elements.values()) {
    if (kind === 'line' || kind === 'connection') continue;
    const key = root(id);
    groups.set(key, [...(groups.get(key) ?? []), id]);
  }
  const found = [...groups.values()].flatMap((ids): (Station & { all: string })[] => {
    const buses = ids.filter((id) => network.elements.get(id)!.kind === 'bus').sort();
    if (buses.length === 0) return [];
    const names = buses.map((id) => nameOf(network.elements.get(id)!));
    return [{ id: buses[0], name: commonName(names), all: names.join(', '), elements: new Set(ids) }];
  });
  // "Rural 1" and "Rural 2" are two places: where what names have in common is no name, they keep all of it.
  const count = new Map<string, number>();
  for (const { name } of found) count.set(name, (count.get(name) ?? 0) + 1);
  const stations = found.map(({ all, ...station }) =>
    count.get(station.name)! > 1 ? { ...station, name: all } : station,
  );
  return stations.sort((p, q) => (p.name < q.name ? -1 : p.name > q.name ? 1 : p.id < q.id ? -1 : 1));
}

/** The words that all names begin with; all names where there are none: "BRA 33", "BRA 11 A" are BRA. */
function commonName(names: readonly string[]): string {
  const [first, ...rest] = names.map((name) => name.split(/\s+/));
  let count = 0;
  while (count < first.length && rest.every((words) => words[count] === first[count])) count++;
  if (count === 0) return names.join(', ');
  // Of a single bus what stands before its voltage.
  const words =
    rest.length === 0 && first.length > 1
      ? first.filter((word, k) => k === 0 || !/^[\d.]/.test(word))
      : first.slice(0, count);
  return words.join(' ');
}
