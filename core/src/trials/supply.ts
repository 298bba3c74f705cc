/** Which parts of a network hang together with some switches open, and what feeds them. Whether anything flows is left to the currents. */
import { kinds } from '../model/element';
import type { Phase } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { ElementId } from '../model/fields';
import { find, ofKind, type Network } from '../model/network';
import { terminalKey, type TerminalKey } from '../model/topology';

export const phases: readonly Phase[] = [0, 1, 2];

/** What feeds a place: anything that keeps a network going by itself, motors and converters alone, or nothing. */
export type FedBy = 'source' | 'motors' | 'nothing';

export interface Supplied {
  /** Busbars connected with a network feeder in all phases. */
  readonly buses: readonly ElementId[];
  /** … in some of them. */
  readonly partly: readonly ElementId[];
  /** Loads without a feeder, and their apparent power in VA. */
  readonly lost: readonly ElementId[];
  readonly lostVa: number;
}

const sourceKinds = ['networkFeeder', 'synchronousMachine', 'powerStationUnit'] as const;
export const motorKinds = ['asynchronousMotor', 'staticDrive'] as const;
/** What feeds a fault for a while, and cannot keep a network going. */
const weakKinds = [...motorKinds, 'converterSource', 'doublyFedMachine'] as const;
/** Elements that currents pass through. */
const passed = new Set([
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'powerStationUnit',
  'currentTransformer',
]);

interface Edge {
  readonly id: ElementId;
  readonly a: number;
  readonly b: number;
}

/** One union–find: parts by number. */
type Parts = Int32Array;

export class Supply {
  private readonly vertexOf = new Map<TerminalKey, number>();
  /** Closed switches, between vertices that hang together for good. */
  private readonly edges: readonly Edge[];
  private readonly count: number;
  private readonly sources: readonly number[];
  private readonly feeders: readonly number[];
  private readonly motors: readonly number[];
  private readonly kept = new Map<string, Parts>();
  private readonly supplied = new Map<string, Supplied>();
  private byVertex: ReadonlyMap<number, readonly Edge[]> | null = null;

  constructor(readonly network: Network) {
    const parent: number[] = [];
    const raw = new Map<TerminalKey, number>();
    const at = (key: TerminalKey) => {
      let vertex = raw.get(key);
      if (vertex === undefined) {
        raw.set(key, (vertex = parent.length));
        parent.push(vertex);
      }
      return vertex;
    };
    const switches: { id: ElementId; a: number; b: number }[] = [];
    for (const element of network.elements.values()) {
      if (element.kind === 'connection') {
        const [from, to] = [element.from, element.to].map(({ element: id, terminal }) => at(terminalKey(id, terminal)));
        join(parent, from, to);
        continue;
      }
      const { terminals } = kinds[element.kind];
      const keys = Array.from({ length: terminals }, (_, k) => at(terminalKey(element.id, k)));
      if (passed.has(element.kind)) for (const each of keys.slice(1)) join(parent, keys[0], each);
      if (element.kind === 'switch' && element.closed) switches.push({ id: element.id, a: keys[0], b: keys[1] });
    }
    const number = new Map<number, number>();
    const settled = (vertex: number) => {
      const root = rootOf(parent, vertex);
      let own = number.get(root);
      if (own === undefined) number.set(root, (own = number.size));
      return own;
    };
    for (const [key, vertex] of raw) this.vertexOf.set(key, settled(vertex));
    this.edges = switches.map(({ id, a, b }) => ({ id, a: settled(a), b: settled(b) })).filter(({ a, b }) => a !== b);
    this.count = number.size;
    const of = (list: readonly (typeof sourceKinds)[number][] | typeof weakKinds) =>
      list.flatMap((kind) => ofKind(network, kind).map(({ id }) => this.vertexOf.get(terminalKey(id, 0))!));
    this.sources = of(sourceKinds);
    this.motors = of(weakKinds);
    this.feeders = of(['networkFeeder']);
  }

  /** Whether two places hang together with these switches open. */
  joins(open: ReadonlySet<ElementId>, first: TerminalKey, second: TerminalKey): boolean {
    const parts = this.parts(open);
    const [a, b] = [this.vertexOf.get(first), this.vertexOf.get(second)];
    return a !== undefined && b !== undefined && parts[a] === parts[b];
  }

  /**
   * The switches that part a place from all sources, the nearest ones: of those that may open, the ones between the place and the rest. Empty where nothing feeds it;
   * null where something feeds it past all of them.
   */
  around(place: Place, mayOpen: ReadonlySet<ElementId>): readonly ElementId[] | null {
    const start = this.vertexOf.get(terminalKey(place.element, place.at === 'line' ? 0 : place.terminal));
    if (start === undefined) return [];
    const reached = new Set([start]);
    const edge = new Set<Edge>();
    for (const vertex of reached)
      for (const each of this.edgesAt(vertex))
        if (mayOpen.has(each.id)) edge.add(each);
        else reached.add(each.a === vertex ? each.b : each.a);
    if (this.sources.some((each) => reached.has(each))) return null;
    // What lies between two of its own parts opens nothing.
    const ways = [...edge].filter(({ a, b }) => !(reached.has(a) && reached.has(b)));
    const parts = this.parts(new Set(ways.map(({ id }) => id)));
    const fed = new Set(this.sources.map((each) => parts[each]));
    return ways.filter(({ a, b }) => fed.has(parts[reached.has(a) ? b : a])).map(({ id }) => id);
  }

  private edgesAt(vertex: number): readonly Edge[] {
    if (!this.byVertex) {
      const found = new Map<number, Edge[]>();
      for (const each of this.edges)
        for (const end of [each.a, each.b]) {
          const list = found.get(end);
          if (list) list.push(each);
          else found.set(end, [each]);
        }
      this.byVertex = found;
    }
    return this.byVertex.get(vertex) ?? [];
  }

  /** What feeds a place with these switches open. */
  at(open: ReadonlySet<ElementId>, place: Place): FedBy {
    const vertex = this.vertexOf.get(terminalKey(place.element, place.at === 'line' ? 0 : place.terminal));
    if (vertex === undefined) return 'nothing';
    const parts = this.parts(open);
    const is = (list: readonly number[]) => list.some((each) => parts[each] === parts[vertex]);
    return is(this.sources) ? 'source' : is(this.motors) ? 'motors' : 'nothing';
  }

  of(open: ReadonlySet<ElementId>, partly: ReadonlyMap<ElementId, readonly Phase[]> = new Map()): Supplied {
    if (partly.size > 0) return this.found(open, partly);
    const key = keyOf(open);
    let known = this.supplied.get(key);
    if (!known) {
      if (this.supplied.size > mostKept) this.supplied.clear();
      this.supplied.set(key, (known = this.found(open, partly)));
    }
    return known;
  }

  private found(open: ReadonlySet<ElementId>, partly: ReadonlyMap<ElementId, readonly Phase[]>): Supplied {
    const partings =
      partly.size === 0
        ? [this.parts(open)]
        : phases.map((phase) => {
            const gone = [...partly].filter(([, list]) => list.includes(phase)).map(([id]) => id);
            return this.parts(new Set([...open, ...gone]));
          });
    const fed = partings.map((parts) => ({ parts, by: new Set(this.feeders.map((each) => parts[each])) }));
    const times = (id: ElementId) => {
      const vertex = this.vertexOf.get(terminalKey(id, 0))!;
      return fed.filter(({ parts, by }) => by.has(parts[vertex])).length;
    };
    const buses = ofKind(this.network, 'bus').map(({ id }) => ({ id, times: times(id) }));
    const loads = ofKind(this.network, 'load').filter(({ id }) => times(id) < fed.length);
    return {
      buses: buses.filter((each) => each.times === fed.length).map(({ id }) => id),
      partly: buses.filter((each) => each.times > 0 && each.times < fed.length).map(({ id }) => id),
      lost: loads.map(({ id }) => id),
      lostVa: this.powerOf(loads.map(({ id }) => id)),
    };
  }

  /** Apparent power of loads, in VA. */
  powerOf(loads: readonly ElementId[]): number {
    return loads.reduce((sum, id) => sum + (find(this.network, 'load', id)?.ratedMva ?? 0) * 1e6, 0);
  }

  private parts(open: ReadonlySet<ElementId>): Parts {
    const key = keyOf(open);
    let parts = this.kept.get(key);
    if (!parts) {
      if (this.kept.size > mostKept) this.kept.clear();
      const parent = Array.from({ length: this.count }, (_, k) => k);
      for (const { id, a, b } of this.edges) if (!open.has(id)) join(parent, a, b);
      this.kept.set(key, (parts = Int32Array.from(parent, (_, k) => rootOf(parent, k))));
    }
    return parts;
  }
}

/** Sets of open switches that are remembered. */
const mostKept = 400;
const keyOf = (ids: ReadonlySet<ElementId>): string => (ids.size === 0 ? '' : [...ids].sort().join(' '));

function rootOf(parent: number[], vertex: number): number {
  let root = vertex;
  while (parent[root] !== root) root = parent[root] = parent[parent[root]];
  return root;
}

const join = (parent: number[], a: number, b: number): void => {
  parent[rootOf(parent, a)] = rootOf(parent, b);
};
