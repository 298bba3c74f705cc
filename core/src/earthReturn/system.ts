/**
 * Currents that return through earth, shield wires and sheaths: a station with lines to others, spans as coupled conductors, towers as shunts, the phase currents as the driving ones. Each line
 * is a banded system of its positions, eliminated down to its two stations; the stations are solved together. Volts, amperes, ohms; potentials against remote earth.
 */
import { add, divide, inverse, magnitude, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { addTo, denseInverse, denseMatrix, denseMultiply, denseSolve, entry, type DenseMatrix } from '../linear/dense';
import { returnImpedances, type EarthReturnMethod, type ReturnConductor } from './impedance';

export interface EarthStation {
  readonly name: string;
  /** Of its earthing; null: none. */
  readonly earthing: Complex | null;
}

/** Spans of one kind, listed from the hub station. */
export interface EarthStretch {
  readonly spansM: readonly number[];
  readonly soilOhmM: number;
  /** Of the tower at the far end of each span; null: not earthed. The last one of a line stands at the source station and does not count. */
  readonly footings: readonly (Complex | null)[];
  readonly conductors: readonly ReturnConductor[];
}

export interface EarthLine {
  readonly name: string;
  readonly source: string;
  /** Of its phases together, from the source to the hub station. */
  readonly current: Complex;
  /** Of each of its phase conductors, in their order, where they are known: an unsymmetrical fault has current in all of them. Their sum is the current. */
  readonly phases?: readonly Complex[];
  readonly stretches: readonly EarthStretch[];
  /** Wires that end open at a station. */
  readonly openAtHub: readonly string[];
  readonly openAtSource: readonly string[];
}

export interface EarthSystem {
  readonly frequencyHz: number;
  readonly hub: EarthStation;
  /** What the hub station itself gives to a fault on a line, taken from its earthing. */
  readonly localCurrent: Complex;
  readonly stations: readonly EarthStation[];
  readonly lines: readonly EarthLine[];
  /** Tower of a line, counted from the hub station; null: the fault is in the hub station. */
  readonly fault: { readonly line: string; readonly tower: number } | null;
}

export interface TowerResult {
  readonly tower: number;
  readonly potential: Complex;
  /** Down into earth. */
  readonly current: Complex;
}

export interface LineResult {
  readonly name: string;
  readonly towers: readonly TowerResult[];
  /** Of each span, by wire, from the hub to the source. */
  readonly spans: readonly Readonly<Record<string, Complex>>[];
}

export interface EarthAnswer {
  /** What flows into the fault: of all lines, and of the hub station where the fault is on a line. */
  readonly total: Complex;
  /** Of the lines alone. */
  readonly remote: Complex;
  /** Into the earthing of the hub station. */
  readonly gridCurrent: Complex;
  readonly potentials: Readonly<Record<string, Complex>>;
  /** Of each source station: what its earthing picks up, and what comes back in wires. */
  readonly returned: Readonly<Record<string, { readonly fromEarth: Complex; readonly byWires: Complex }>>;
  readonly lines: readonly LineResult[];
}

/** So that what floats has a potential. Siemens. */
const leak = 1e-13;

/** Thrown where a system cannot be solved. */
export class EarthProblem extends Error {}

export function solveEarth(system: EarthSystem, method: EarthReturnMethod): EarthAnswer {
  const { hub, stations, lines, fault, localCurrent } = system;
  const remote = lines.reduce((sum, { current }) => add(sum, current), zero);
  const total = fault ? add(remote, localCurrent) : remote;
  const names = [hub.name, ...stations.map(({ name }) => name)];
  const count = names.length;
  const g = denseMatrix(count);
  const injected = denseMatrix(count, 1);
  [hub, ...stations].forEach(({ earthing }, k) => addTo(g, k, k, earthing ? inverse(earthing) : { re: leak, im: 0 }));
  for (const { source, current } of lines) addTo(injected, stationIndex(names, source), 0, scale(current, -1));
  if (!fault) addTo(injected, 0, 0, total);
  else addTo(injected, 0, 0, scale(localCurrent, -1));
  const made = lines.map((line) => {
    const isFaulted = fault?.line === line.name;
    const own = new EarthLineSystem(
      system.frequencyHz,
      line,
      method,
      isFaulted ? fault.tower : null,
      subtract(total, line.current),
      total,
    );
    const at = [0, stationIndex(names, line.source)];
    own.reduced.forEach((row, p) =>
      row.forEach((value, q) => (q < 2 ? addTo(g, at[p], at[q], value) : addTo(injected, at[p], 0, value))),
    );
    return { own, at };
  });
  const solved = denseSolve(g, injected);
  if (!solved)
    throw new EarthProblem('the earthing of the stations cannot be solved: nothing joins one of them to earth');
  const potential = names.map((_, k) => entry(solved, k, 0));
  const results = made.map(({ own, at }) => own.result(potential[at[0]], potential[at[1]]));
  const gridCurrent = hub.earthing ? divide(potential[0], hub.earthing) : zero;
  const returned = Object.fromEntries(
    stations.map(({ name, earthing }, k) => {
      const fromEarth = earthing ? scale(divide(potential[k + 1], earthing), -1) : zero;
      const byWires = lines.reduce((sum, line, n) => {
        if (line.source !== name) return sum;
        return Object.entries(results[n].spans.at(-1)!).reduce(
          (all, [wire, current]) => (line.openAtSource.includes(wire) ? all : add(all, current)),
          sum,
        );
      }, zero);
      return [name, { fromEarth, byWires }];
    }),
  );
  return {
    total,
    remote,
    gridCurrent,
    potentials: Object.fromEntries(names.map((name, k) => [name, potential[k]])),
    returned,
    lines: results,
  };
}

function stationIndex(names: readonly string[], name: string): number {
  const k = names.indexOf(name);
  if (k < 0) throw new EarthProblem(`a line ends at "${name}", which is no station`);
  return k;
}

/** Share of the current of the lines that enters the earthing of the hub station, and of the whole fault current. */
export const splitFactors = ({ gridCurrent, remote, total }: EarthAnswer) => ({
  remote: magnitude(gridCurrent) / magnitude(remote),
  total: magnitude(gridCurrent) / magnitude(total),
});

interface Span {
  readonly wires: readonly string[];
  /** Admittances between the ends of the wires. */
  readonly y: DenseMatrix;
  /** Voltage that the phases induce along each wire, from the hub to the source. */
  readonly induced: DenseMatrix;
  /** Places of each wire at both ends: among the unknowns of the position, or a station. */
  readonly from: readonly Place[];
  readonly to: readonly Place[];
}

type Place = { readonly station: 0 | 1 } | { readonly position: number; readonly index: number };

/** A line, eliminated down to the potentials of its two stations. */
class EarthLineSystem {
  /** For hub and source: own admittances, then the current that flows into the station with both at nought. */
  readonly reduced: Complex[][];
  private readonly spans: Span[] = [];
  private readonly sizes: number[] = [];
  private readonly towerAt: (number | null)[] = [];
  private readonly shunts: (Complex | null)[] = [];
  /** Unknowns of each position for: what is injected and induced, hub at 1 V, source at 1 V. */
  private readonly solutions: DenseMatrix[];

  constructor(
    frequencyHz: number,
    private readonly line: EarthLine,
    method: EarthReturnMethod,
    faultTower: number | null,
    /** Phase current from the hub towards a fault on this line. */
    towardsFault: Complex,
    intoFault: Complex,
  ) {
    const list = line.stretches.flatMap(({ spansM, footings, ...rest }) =>
      spansM.map((lengthM, k) => ({ ...rest, lengthM, footing: footings[k] ?? null })),
    );
    const last = list.length;
    const placeOf = this.places(
      list.map(({ conductors }) => conductors),
      last,
    );
    const known = new Map<object, DenseMatrix>();
    list.forEach(({ conductors, soilOhmM, lengthM }, k) => {
      let z = known.get(conductors);
      if (!z) known.set(conductors, (z = returnImpedances(conductors, frequencyHz, soilOhmM, method)));
      const wires = conductors.flatMap(({ role }, n) => (role === 'phase' ? [] : [n]));
      const phases = conductors.flatMap(({ role }, n) => (role === 'phase' ? [n] : []));
      // Between the hub station and a fault on this line the others feed it; beyond, the line itself does.
      const before = faultTower !== null && k < faultTower;
      const along = before ? towardsFault : scale(line.current, -1);
      const km = lengthM / 1000;
      const zww = denseMatrix(wires.length);
      const induced = denseMatrix(wires.length, 1);
      wires.forEach((a, i) => {
        wires.forEach((b, j) => addTo(zww, i, j, scale(entry(z, a, b), km)));
        phases.forEach((b, phase) => {
          const own = before ? null : line.phases?.[phase];
          const drives = own ? scale(own, -1) : scale(along, conductors[b].share);
          addTo(induced, i, 0, multiply(scale(entry(z, a, b), km), drives));
        });
      });
      const y = wires.length > 0 ? denseInverse(zww) : zww;
      if (!y) throw new EarthProblem(`${line.name}: the wires of a span cannot be told apart`);
      const names = wires.map((n) => conductors[n].name);
      this.spans.push({
        wires: names,
        y,
        induced,
        from: wires.map((n) => placeOf(k, conductors[n])),
        to: wires.map((n) => placeOf(k + 1, conductors[n])),
      });
      this.shunts.push(k + 1 < last ? list[k].footing : null);
    });
    this.solutions = this.eliminated(faultTower, intoFault);
    this.reduced = [0, 1].map((end) => [0, 1, 2].map((column) => this.intoStation(end as 0 | 1, column)));
  }

  /** Gives every wire its place at every position: the station, the tower, or an end of its own. */
  private places(conductors: readonly (readonly ReturnConductor[])[], last: number) {
    const { openAtHub, openAtSource } = this.line;
    const own = Array.from({ length: last + 1 }, () => new Map<string, number>());
    const place = (position: number, { name, bonded }: ReturnConductor): Place => {
      const open = position === 0 ? openAtHub : position === last ? openAtSource : null;
      if (open && !open.includes(name)) return { station: position === 0 ? 0 : 1 };
      const key = open || !bonded ? `wire ${name}` : 'tower';
      const map = own[position];
      if (!map.has(key)) map.set(key, map.size);
      return { position, index: map.get(key)! };
    };
    conductors.forEach((list, k) =>
      list.forEach((each) => {
        if (each.role === 'phase') return;
        place(k, each);
        place(k + 1, each);
      }),
    );
    // A tower without a bonded wire stands there all the same: a fault may be at it.
    own.forEach((map, position) => {
      if (position > 0 && position < last && !map.has('tower')) map.set('tower', map.size);
      this.sizes.push(map.size);
      this.towerAt.push(map.get('tower') ?? null);
    });
    return place;
  }

  private eliminated(faultTower: number | null, intoFault: Complex): DenseMatrix[] {
    const positions = this.sizes.length;
    const diagonal = this.sizes.map((size) => denseMatrix(size));
    const upper = this.sizes.slice(0, -1).map((size, k) => denseMatrix(size, this.sizes[k + 1]));
    const right = this.sizes.map((size) => denseMatrix(size, 3));
    for (const [k, tower] of this.towerAt.entries()) {
      for (let i = 0; i < this.sizes[k]; i++) addTo(diagonal[k], i, i, { re: leak, im: 0 });
      if (tower === null) continue;
      const footing = this.shunts[k - 1];
      if (footing) addTo(diagonal[k], tower, tower, inverse(footing));
      if (k === faultTower) addTo(right[k], tower, 0, intoFault);
    }
    const isOwn = (place: Place): place is { position: number; index: number } => 'position' in place;
    const put = (p: Place, q: Place, value: Complex) => {
      if (!isOwn(p)) return;
      if ('station' in q) addTo(right[p.position], p.index, q.station + 1, scale(value, -1));
      else if (q.position === p.position) addTo(diagonal[p.position], p.index, q.index, value);
      else if (q.position > p.position) addTo(upper[p.position], p.index, q.index, value);
    };
    for (const { y, induced, from, to } of this.spans) {
      const driven = denseMultiply(y, induced);
      from.forEach((p, i) => {
        from.forEach((q, j) => {
          const value = entry(y, i, j);
          const opposite = scale(value, -1);
          put(p, q, value);
          put(p, to[j], opposite);
          put(to[i], to[j], value);
          put(to[i], q, opposite);
        });
        // The wire current from the hub on is Y·(ΔV − E).
        const current = entry(driven, i, 0);
        if (isOwn(p)) addTo(right[p.position], p.index, 0, current);
        const other = to[i];
        if (isOwn(other)) addTo(right[other.position], other.index, 0, scale(current, -1));
      });
    }
    // Block by block from the source to the hub, and back.
    for (let k = positions - 2; k >= 0; k--) {
      if (this.sizes[k + 1] === 0 || this.sizes[k] === 0) continue;
      const factor = denseSolve(diagonal[k + 1], transposed(upper[k]));
      if (!factor) throw new EarthProblem(`${this.line.name}: position ${k + 1} cannot be solved`);
      const back = transposed(factor);
      subtractFrom(diagonal[k], denseMultiply(upper[k], factor));
      subtractFrom(right[k], denseMultiply(back, right[k + 1]));
    }
    const found: DenseMatrix[] = [];
    for (let k = 0; k < positions; k++) {
      if (this.sizes[k] === 0) {
        found.push(denseMatrix(0, 3));
        continue;
      }
      if (k > 0 && this.sizes[k - 1] > 0) subtractFrom(right[k], denseMultiply(transposed(upper[k - 1]), found[k - 1]));
      const x = denseSolve(diagonal[k], right[k]);
      if (!x) throw new EarthProblem(`${this.line.name}: position ${k} cannot be solved`);
      found.push(x);
    }
    return found;
  }

  private potentialAt(place: Place, column: number): Complex {
    if ('position' in place) return entry(this.solutions[place.position], place.index, column);
    return { re: place.station + 1 === column ? 1 : 0, im: 0 };
  }

  /** Currents of the wires of a span, from the hub to the source. */
  private currents({ y, induced, from, to, wires }: Span, column: number): Complex[] {
    const drop = wires.map((_, i) => {
      const across = subtract(this.potentialAt(from[i], column), this.potentialAt(to[i], column));
      return column === 0 ? subtract(across, entry(induced, i, 0)) : across;
    });
    return wires.map((_, i) => drop.reduce((sum, each, j) => add(sum, multiply(entry(y, i, j), each)), zero));
  }

  /** With the hub (1) or the source (2) at one volt: its share of the admittance; with both at nought (0): what flows into the station. */
  private intoStation(end: 0 | 1, order: number): Complex {
    const column = order === 2 ? 0 : order + 1;
    const span = end === 0 ? this.spans[0] : this.spans.at(-1)!;
    const places = end === 0 ? span.from : span.to;
    const out = this.currents(span, column).reduce(
      (sum, each, i) => ('station' in places[i] ? add(sum, end === 0 ? each : scale(each, -1)) : sum),
      zero,
    );
    return order === 2 ? scale(out, -1) : out;
  }

  result(hub: Complex, source: Complex): LineResult {
    const by = (of: (column: number) => Complex): Complex =>
      add(of(0), add(multiply(of(1), hub), multiply(of(2), source)));
    const towers = this.towerAt.flatMap((index, position): TowerResult[] => {
      if (index === null || position === 0 || position === this.towerAt.length - 1) return [];
      const potential = by((column) => entry(this.solutions[position], index, column));
      const footing = this.shunts[position - 1];
      return [{ tower: position, potential, current: footing ? divide(potential, footing) : zero }];
    });
    const spans = this.spans.map((span) => {
      const columns = [0, 1, 2].map((column) => this.currents(span, column));
      return Object.fromEntries(span.wires.map((wire, i) => [wire, by((column) => columns[column][i])]));
    });
    return { name: this.line.name, towers, spans };
  }
}

function transposed(m: DenseMatrix): DenseMatrix {
  const t = denseMatrix(m.columns, m.rows);
  for (let i = 0; i < m.rows; i++) for (let j = 0; j < m.columns; j++) addTo(t, j, i, entry(m, i, j));
  return t;
}

function subtractFrom(a: DenseMatrix, b: DenseMatrix): void {
  for (let k = 0; k < a.re.length; k++) {
    a.re[k] -= b.re[k];
    a.im[k] -= b.im[k];
  }
}
