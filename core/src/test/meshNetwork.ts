/**
 * Made-up meshed networks of any size for benchmarks: buses scattered in the plane, about 1.14 branches a bus, nearly all between
 * neighbours, a network feeder at every twentieth bus. The same number of buses gives the same network every time.
 */
import { blankElements, newElement } from '../model/defaults';
import type { Element } from '../model/element';
import { elementId } from '../model/fields';

export interface Mesh {
  readonly buses: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly lengthKm: Float64Array;
  /** Buses with a feeder. */
  readonly sources: Int32Array;
}

/** Numbers in [0, 1) from a seed (Marsaglia's xorshift). */
export function randomNumbers(seed: number): () => number {
  let state = seed | 0 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}

/** Branches as a random spanning tree of the plane's neighbours, and more between neighbours; one in a hundred of those reaches far. */
export function mesh(buses: number, seed = 7): Mesh {
  const random = randomNumbers(seed);
  const columns = Math.ceil(Math.sqrt(buses));
  const x = Float64Array.from({ length: buses }, (_, k) => (k % columns) + 0.8 * random());
  const y = Float64Array.from({ length: buses }, (_, k) => Math.floor(k / columns) + 0.8 * random());
  const from: number[] = [];
  const to: number[] = [];
  const join = (a: number, b: number) => {
    from.push(a);
    to.push(b);
  };
  // Kruskal's tree over the grid's edges in random order.
  const edges: [number, number][] = [];
  for (let k = 0; k < buses; k++) {
    if ((k + 1) % columns > 0 && k + 1 < buses) edges.push([k, k + 1]);
    if (k + columns < buses) edges.push([k, k + columns]);
  }
  for (let k = edges.length - 1; k > 0; k--) {
    const other = Math.floor(random() * (k + 1));
    [edges[k], edges[other]] = [edges[other], edges[k]];
  }
  const parent = Int32Array.from({ length: buses }, (_, k) => k);
  const root = (k: number): number => {
    while (parent[k] !== k) k = parent[k] = parent[parent[k]];
    return k;
  };
  const spare: [number, number][] = [];
  for (const [a, b] of edges) {
    const [p, q] = [root(a), root(b)];
    if (p === q) spare.push([a, b]);
    else {
      parent[p] = q;
      join(a, b);
    }
  }
  const more = Math.round(0.14 * buses);
  for (let k = 0; k < more; k++) {
    if (k % 100 === 99) join(Math.floor(random() * buses), Math.floor(random() * buses));
    else if (spare[k]) join(...spare[k]);
  }
  const straight = from.map((a, k) => Math.hypot(x[a] - x[to[k]], y[a] - y[to[k]]));
  return {
    buses,
    x,
    y,
    from: Int32Array.from(from),
    to: Int32Array.from(to),
    lengthKm: Float64Array.from(straight, (d) => Math.max(0.5, Number((3 * d).toFixed(2)))),
    sources: Int32Array.from({ length: Math.ceil(buses / 20) }, (_, k) => k * 20),
  };
}

/** The mesh as a project: 33 kV lines, feeders of 4 to 9 kA. */
export function meshElements({ buses, x, y, from, to, lengthKm, sources }: Mesh): Element[] {
  const id = elementId;
  const elements: Element[] = blankElements();
  const at = (k: number) => ({ x: Math.round(x[k] * 240), y: Math.round(y[k] * 200) });
  const connect = (name: string, element: string, terminal: number, bus: number) =>
    elements.push({
      kind: 'connection',
      id: id(name),
      from: { element: id(element), terminal },
      to: { element: id(`b${bus}`), terminal: 0, at: 40 },
    });
  for (let k = 0; k < buses; k++)
    elements.push(newElement('bus', id(`b${k}`), `B${k}`, { nominalKv: 33, length: 120, ...at(k) }));
  for (let k = 0; k < from.length; k++) {
    const [a, b] = [at(from[k]), at(to[k])];
    elements.push(
      newElement('line', id(`l${k}`), `L${k}`, {
        x: Math.round((a.x + b.x) / 2) + 40,
        y: Math.round((a.y + b.y) / 2) + 60,
        lengthKm: lengthKm[k],
        type: 'overhead',
        r1OhmPerKm: 0.12 + 0.01 * (k % 7),
        x1OhmPerKm: 0.35,
        r0OhmPerKm: 0.3,
        x0OhmPerKm: 1.1,
        b1UsPerKm: 3,
        b0UsPerKm: 1.6,
      }),
    );
    if (from[k] === to[k]) continue;
    connect(`l${k}a`, `l${k}`, 0, from[k]);
    connect(`l${k}b`, `l${k}`, 1, to[k]);
  }
  sources.forEach((bus, k) => {
    const level = {
      given: 'current',
      ikKa: 4 + (k % 6),
      skMva: null,
      rOverX: 0.1,
      x0OverX1: 1,
      r0OverX0: 0.1,
    } as const;
    elements.push(
      newElement('networkFeeder', id(`n${k}`), `N${k}`, { ...at(bus), max: level, min: { ...level, ikKa: 3 } }),
    );
    connect(`n${k}a`, `n${k}`, 0, bus);
  });
  return elements;
}

/** The same with a load of `share` times half a megavolt-ampere at every second bus, and rated currents of the lines. */
export function loadedMesh(given: Mesh, share = 1): Element[] {
  const elements = meshElements(given).map((element, k): Element =>
    element.kind === 'line' ? { ...element, ratedA: 160 + 20 * (k % 5) } : element,
  );
  for (let k = 0; k < given.buses; k += 2) {
    const load = newElement('load', elementId(`d${k}`), `D${k}`, {
      ratedMva: share * (0.3 + 0.1 * (k % 5)),
      powerFactor: 0.93,
    });
    elements.push(load, {
      kind: 'connection',
      id: elementId(`d${k}a`),
      from: { element: load.id, terminal: 0 },
      to: { element: elementId(`b${k}`), terminal: 0, at: 60 },
    });
  }
  return elements;
}
