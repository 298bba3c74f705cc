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

/** Spans of one kind, listed from the hub station, or from the station that the line begins at. */
export interface EarthStretch {
  readonly spansM: readonly number[];
  readonly soilOhmM: number;
  /** Of the tower at the far end of each span; null: not earthed. The last one of a line stands at its other station and does not count. */
  readonly footings: readonly (Complex | null)[];
  /** Wires that are not joined to the tower at the far end of a span, though they are bonded elsewhere. */
  readonly insulated?: readonly (readonly string[])[];
  readonly conductors: readonly ReturnConductor[];
}

export interface EarthLine {
  readonly name: string;
  /** Station that it begins at; left out: the hub station. */
  readonly from?: string;
  readonly source: string;
  /** Of its phases together, from the source to the station that it begins at. */
  readonly current: Complex;
  /** Of each of its phase conductors, in their order, where they are known: an unsymmetrical fault has current in all of them. Their sum is the current. */
  readonly phases?: readonly Complex[];
  /** Where the fault is on this line: of each phase conductor from the hub station towards it; left out: by their shares. */
  readonly phasesFromHub?: readonly Complex[];
  readonly stretches: readonly EarthStretch[];
  /** Wires that end open at a station: where the line begins, and at its other end. */
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
  /** Wires that are joined to nothing at a position, counted from the hub: open ends, insulated ones on towers. */
  readonly loose: readonly {
    readonly position: number;
    readonly wire: string;
    readonly potential: Complex;
    /** Joined to nothing at its other end either: its potential means nothing. */
    readonly floats: boolean;
  }[];
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
  const isAtHub = ({ from }: EarthLine) => from === undefined || from === hub.name;
  const remote = lines.filter(isAtHub).reduce((sum, { current }) => add(sum, current), zero);
  const total = fault ? add(remote, localCurrent) : remote;
  const names = [hub.name, ...stations.map(({ name }) => name)];
  const places = new Map(names.map((name, k) => [name, k]));
  const placeOf = (name: string): number => {
    const k = places.get(name);
    if (k === undefined) throw new EarthProblem(`a line ends at "${name}", which is no station`);
    return k;
  };
  const g = denseMatrix(names.length);
  const injected = denseMatrix(names.length, 1);
  [hub, ...stations].forEach(({ earthing }, k) => addTo(g, k, k, earthing ? inverse(earthing) : { re: leak, im: 0 }));
  for (const line of lines) {
    addTo(injected, placeOf(line.source), 0, scale(line.current, -1));
    // What goes on in other lines comes out again there.
    if (!isAtHub(line)) addTo(injected, placeOf(line.from!), 0, line.current);
  }
  if (!fault) addTo(injected, 0, 0, total);
  else addTo(injected, 0, 0, scale(localCurrent, -1));
  if (fault && !lines.some((line) => line.name === fault.line && isAtHub(line)))
    throw new EarthProblem(`the faulted line "${fault.line}" does not begin at ${hub.name}`);
  const made = lines.map((line) => {
    const own = new EarthLineSystem(
      system.frequencyHz,
      line,
      method,
      fault?.line === line.name ? fault.tower : null,
      subtract(total, line.current),
      total,
    );
    const at = [line.from === undefined ? 0 : placeOf(line.from), placeOf(line.source)];
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
      let byWires = zero;
      lines.forEach((line, n) => {
        if (line.source === name)
          for (const [wire, current] of Object.entries(results[n].spans.at(-1) ?? {}))
            if (!line.openAtSource.includes(wire)) byWires = add(byWires, current);
        if (line.from === name)
          for (const [wire, current] of Object.entries(results[n].spans[0] ?? {}))
            if (!line.openAtHub.includes(wire)) byWires = subtract(byWires, current);
      });
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

/** Share of the current of the lines that enters the earthing of the hub station, and of the whole fault current. */
export const splitFactors = ({ gridCurrent, remote, total }: EarthAnswer) => ({
  remote: magnitude(gridCurrent) / magnitude(remote),
  total: magnitude(gridCurrent) / magnitude(total),
});

/** What a kilometre of coupled conductors does: admittances between the ends of its wires, and the current that each phase drives in each of them with their ends joined. */
export interface Kilometre {
  readonly wires: readonly ReturnConductor[];
  readonly phases: readonly ReturnConductor[];
  readonly y: DenseMatrix;
  readonly drives: DenseMatrix;
  /** Of each wire, and of all of them, where both ends of all are joined. */
  readonly rows: readonly Complex[];
  readonly whole: Complex;
}

const kilometres = new WeakMap<readonly ReturnConductor[], Map<string, Kilometre | null>>();

export function kilometreOf(
  conductors: readonly ReturnConductor[],
  frequencyHz: number,
  soilOhmM: number,
  method: EarthReturnMethod,
): Kilometre | null {
  let known = kilometres.get(conductors);
  if (!known) kilometres.set(conductors, (known = new Map()));
  const key = `${frequencyHz} ${soilOhmM} ${method}`;
  let found = known.get(key);
  if (found !== undefined) return found;
  const z = returnImpedances(conductors, frequencyHz, soilOhmM, method);
  const wires = conductors.flatMap(({ role }, n) => (role === 'phase' ? [] : [n]));
  const phases = conductors.flatMap(({ role }, n) => (role === 'phase' ? [n] : []));
  const part = (rows: readonly number[], columns: readonly number[]) => {
    const m = denseMatrix(rows.length, columns.length);
    rows.forEach((a, i) => columns.forEach((b, j) => addTo(m, i, j, entry(z, a, b))));
    return m;
  };
  const y = wires.length > 0 ? denseInverse(part(wires, wires)) : denseMatrix(0);
  const sums = y ? wires.map((_, i) => wires.reduce((sum, _each, j) => add(sum, entry(y, i, j)), zero)) : [];
  found = y && {
    rows: sums,
    whole: sums.reduce(add, zero),
    wires: wires.map((n) => conductors[n]),
    phases: phases.map((n) => conductors[n]),
    y,
    drives: denseMultiply(y, part(wires, phases)),
  };
  known.set(key, found);
  return found;
}

interface Span {
  readonly per: Kilometre;
  readonly km: number;
  /** Current that the phases drive in each wire, with its ends joined: from its end to its beginning. */
  readonly driven: DenseMatrix;
  /** Sum of it. */
  readonly drivenWhole: Complex;
  /** All wires lie at one unknown here and at one there. */
  readonly isJoined: boolean;
  /** Place of each wire at both ends: an unknown of the position, or a station. */
  readonly from: Int32Array;
  readonly to: Int32Array;
}

/** Places that are no unknowns: where a line begins, and where it ends. */
const atStart = -1;
const atEnd = -2;

/** Right sides: what is induced and injected, one volt at the beginning, one at the end. */
const sides = 3;

/** A line, eliminated down to the potentials of its two stations. */
class EarthLineSystem {
  /** For beginning and end: own admittances, then the current that flows into the station with both at nought. */
  readonly reduced: Complex[][];
  private readonly spans: Span[] = [];
  private readonly sizes: number[] = [];
  private readonly towerAt: number[] = [];
  private readonly shunts: (Complex | null)[] = [];
  private readonly loose: { position: number; wire: string; place: number }[] = [];
  /** Unknowns of each position, one after the other, for each right side. */
  private readonly xRe: Float64Array;
  private readonly xIm: Float64Array;
  /** Where those of a position begin. */
  private readonly starts: Int32Array;

  constructor(
    frequencyHz: number,
    private readonly line: EarthLine,
    method: EarthReturnMethod,
    private readonly faultTower: number | null,
    /** Phase current from the hub towards a fault on this line. */
    towardsFault: Complex,
    private readonly intoFault: Complex,
  ) {
    const last = line.stretches.reduce((sum, { spansM }) => sum + spansM.length, 0);
    if (last === 0) throw new EarthProblem(`${line.name}: it has no span`);
    if (faultTower !== null && (faultTower < 1 || faultTower >= last))
      throw new EarthProblem(`${line.name}: it has no tower ${faultTower}`);
    const places = this.places(last);
    let k = 0;
    for (const { spansM, footings, conductors, soilOhmM } of line.stretches) {
      const per = kilometreOf(conductors, frequencyHz, soilOhmM, method);
      if (!per) throw new EarthProblem(`${line.name}: the wires of a span cannot be told apart`);
      // Between the hub station and a fault on this line the others feed it; beyond, the line itself does.
      const beyond = this.driven(per, line.phases?.map(opposite) ?? null, opposite(line.current));
      const before =
        faultTower !== null && k < faultTower ? this.driven(per, line.phasesFromHub ?? null, towardsFault) : beyond;
      const [sumBefore, sumBeyond] = [sumOf(before), sumOf(beyond)];
      for (const [n, lengthM] of spansM.entries()) {
        const isBefore = faultTower !== null && k < faultTower;
        const [from, to] = [places(k, per.wires), places(k + 1, per.wires)];
        this.spans.push({
          per,
          km: lengthM / 1000,
          driven: isBefore ? before : beyond,
          drivenWhole: isBefore ? sumBefore : sumBeyond,
          isJoined: isOne(from) && isOne(to),
          from,
          to,
        });
        k++;
        this.shunts.push(k < last ? (footings[n] ?? null) : null);
      }
    }
    this.starts = new Int32Array(this.sizes.length + 1);
    this.sizes.forEach((size, position) => (this.starts[position + 1] = this.starts[position] + size));
    const count = sides * this.starts[this.sizes.length];
    this.xRe = new Float64Array(count);
    this.xIm = new Float64Array(count);
    this.eliminate();
    this.reduced = [0, 1].map((end) => [1, 2, 0].map((side) => this.intoStation(end as 0 | 1, side)));
  }

  private driven(per: Kilometre, phases: readonly Complex[] | null, together: Complex): DenseMatrix {
    const along = denseMatrix(per.phases.length, 1);
    per.phases.forEach(({ share }, n) => addTo(along, n, 0, phases?.[n] ?? scale(together, share)));
    return denseMultiply(per.drives, along);
  }

  /** Gives every wire its place at every position: the station, the tower, or an end of its own. */
  private places(last: number) {
    const { stretches, openAtHub, openAtSource } = this.line;
    // Most towers join all that comes to them, and need no list.
    const maps: (Map<string, number> | null)[] = [];
    const insulated: (readonly string[] | undefined)[] = [undefined];
    const plain = stretches.map(
      ({ conductors, insulated: own }) => !own && conductors.every(({ role, bonded }) => role === 'phase' || bonded),
    );
    stretches.forEach(({ spansM, insulated: own }, s) => {
      const isPlainAt = (n: number) => plain[s] && (n + 1 < spansM.length || plain[s + 1] !== false);
      spansM.forEach((_, n) => {
        insulated.push(own?.[n]);
        if (maps.length === 0) maps.push(new Map());
        maps.push(isPlainAt(n) ? null : new Map());
      });
    });
    maps[last] = new Map();
    const place = (position: number, { name, bonded }: ReturnConductor): number => {
      const open = position === 0 ? openAtHub : position === last ? openAtSource : null;
      if (open && !open.includes(name)) return position === 0 ? atStart : atEnd;
      const map = maps[position];
      if (!map) return 0;
      const apart = open !== null || !bonded || insulated[position]?.includes(name);
      const key = apart ? `wire ${name}` : 'tower';
      let index = map.get(key);
      if (index === undefined) {
        map.set(key, (index = map.size));
        if (apart) this.loose.push({ position, wire: name, place: index });
      }
      return index;
    };
    let at = 0;
    for (const { spansM, conductors } of stretches)
      for (let n = 0; n < spansM.length; n++, at++)
        for (const end of [at, at + 1])
          if (maps[end]) for (const each of conductors) if (each.role !== 'phase') place(end, each);
    maps.forEach((map, position) => {
      if (!map) {
        this.sizes.push(1);
        this.towerAt.push(0);
        return;
      }
      // A tower without a bonded wire stands there all the same: a fault may be at it.
      if (position > 0 && position < last && !map.has('tower')) map.set('tower', map.size);
      this.sizes.push(map.size);
      this.towerAt.push(map.get('tower') ?? -1);
    });
    const joined = new Map<number, Int32Array>();
    return (position: number, wires: readonly ReturnConductor[]) => {
      if (maps[position]) return Int32Array.from(wires, (each) => place(position, each));
      let list = joined.get(wires.length);
      if (!list) joined.set(wires.length, (list = new Int32Array(wires.length)));
      return list;
    };
  }

  /** Block by block from the end to the beginning, and back. */
  private eliminate(): void {
    const { sizes } = this;
    const positions = sizes.length;
    const diagonals = new Blocks(sizes, sizes);
    const uppers = new Blocks(sizes.slice(0, -1), sizes.slice(1));
    const rights = new Blocks(
      sizes,
      sizes.map(() => sides),
    );
    for (let k = 0; k < positions; k++) {
      const tower = this.towerAt[k];
      for (let i = 0; i < sizes[k]; i++) diagonals.add(k, i, i, leak, 0);
      if (tower < 0) continue;
      const footing = k > 0 ? this.shunts[k - 1] : null;
      if (footing) {
        const { re, im } = inverse(footing);
        diagonals.add(k, tower, tower, re, im);
      }
      if (k === this.faultTower) rights.add(k, tower, 0, this.intoFault.re, this.intoFault.im);
    }
    for (let k = 0; k + 1 < positions; k++) this.putSpan(k, diagonals, uppers, rights);
    for (let k = positions - 2; k >= 0; k--) {
      const [here, next] = [sizes[k], sizes[k + 1]];
      if (here === 0 || next === 0) continue;
      if (here === 1 && next === 1) {
        // A tower and nothing else, here and there.
        const [d, below, u] = [diagonals.starts[k], diagonals.starts[k + 1], uppers.starts[k]];
        const [bRe, bIm] = [diagonals.re[below], diagonals.im[below]];
        const [uRe, uIm] = [uppers.re[u], uppers.im[u]];
        const size = bRe * bRe + bIm * bIm;
        if (size === 0) throw this.unsolved(k + 1);
        const re = (uRe * bRe + uIm * bIm) / size;
        const im = (uIm * bRe - uRe * bIm) / size;
        diagonals.re[d] -= re * uRe - im * uIm;
        diagonals.im[d] -= re * uIm + im * uRe;
        const [r, other] = [rights.starts[k], rights.starts[k + 1]];
        for (let side = 0; side < sides; side++) {
          rights.re[r + side] -= re * rights.re[other + side] - im * rights.im[other + side];
          rights.im[r + side] -= re * rights.im[other + side] + im * rights.re[other + side];
        }
        continue;
      }
      const factor = denseSolve(diagonals.at(k + 1), transposed(uppers.at(k)));
      if (!factor) throw this.unsolved(k + 1);
      subtractFrom(diagonals.at(k), denseMultiply(uppers.at(k), factor));
      subtractFrom(rights.at(k), denseMultiply(transposed(factor), rights.at(k + 1)));
    }
    for (let k = 0; k < positions; k++) {
      const [size, before] = [sizes[k], k > 0 ? sizes[k - 1] : 0];
      if (size === 0) continue;
      const r = rights.starts[k];
      if (size === 1 && before < 2) {
        const d = diagonals.starts[k];
        const [dRe, dIm] = [diagonals.re[d], diagonals.im[d]];
        const whole = dRe * dRe + dIm * dIm;
        if (whole === 0) throw this.unsolved(k);
        const [uRe, uIm] = before ? [uppers.re[uppers.starts[k - 1]], uppers.im[uppers.starts[k - 1]]] : [0, 0];
        const known = before ? rights.starts[k - 1] : 0;
        for (let side = 0; side < sides; side++) {
          const [xRe, xIm] = [rights.re[known + side], rights.im[known + side]];
          const re = rights.re[r + side] - (before ? uRe * xRe - uIm * xIm : 0);
          const im = rights.im[r + side] - (before ? uRe * xIm + uIm * xRe : 0);
          rights.re[r + side] = (re * dRe + im * dIm) / whole;
          rights.im[r + side] = (im * dRe - re * dIm) / whole;
        }
        continue;
      }
      const own = rights.at(k);
      if (before > 0) subtractFrom(own, denseMultiply(transposed(uppers.at(k - 1)), rights.at(k - 1)));
      const x = denseSolve(diagonals.at(k), own);
      if (!x) throw this.unsolved(k);
      own.re.set(x.re);
      own.im.set(x.im);
    }
    this.xRe.set(rights.re);
    this.xIm.set(rights.im);
  }

  private unsolved(position: number): EarthProblem {
    return new EarthProblem(`${this.line.name}: position ${position} cannot be solved`);
  }

  private putSpan(k: number, diagonals: Blocks, uppers: Blocks, rights: Blocks): void {
    const { per, km, driven, drivenWhole, isJoined, from, to } = this.spans[k];
    const n = from.length;
    if (isJoined) {
      const [re, im] = [per.whole.re / km, per.whole.im / km];
      diagonals.add(k, from[0], from[0], re, im);
      diagonals.add(k + 1, to[0], to[0], re, im);
      uppers.add(k, from[0], to[0], -re, -im);
      rights.add(k, from[0], 0, drivenWhole.re, drivenWhole.im);
      rights.add(k + 1, to[0], 0, -drivenWhole.re, -drivenWhole.im);
      return;
    }
    for (let i = 0; i < n; i++) {
      const [p, q] = [from[i], to[i]];
      for (let j = 0; j < n; j++) {
        const [re, im] = [per.y.re[i * n + j] / km, per.y.im[i * n + j] / km];
        const [pj, qj] = [from[j], to[j]];
        // Stations stand on the right sides; what lies below the diagonal is as above it.
        if (p >= 0) {
          if (pj >= 0) diagonals.add(k, p, pj, re, im);
          else rights.add(k, p, -pj, -re, -im);
          if (qj >= 0) uppers.add(k, p, qj, -re, -im);
          else rights.add(k, p, -qj, re, im);
        }
        if (q >= 0) {
          if (qj >= 0) diagonals.add(k + 1, q, qj, re, im);
          else rights.add(k + 1, q, -qj, -re, -im);
          if (pj < 0) rights.add(k + 1, q, -pj, re, im);
        }
      }
      // The current of a wire from the beginning on is Y·(ΔV) less what is driven.
      if (p >= 0) rights.add(k, p, 0, driven.re[i], driven.im[i]);
      if (q >= 0) rights.add(k + 1, q, 0, -driven.re[i], -driven.im[i]);
    }
  }

  /** "position wire" of those that are joined to nothing from there to both of their ends. */
  private floating(): ReadonlySet<string> {
    const loose = new Set(this.loose.map(({ position, wire }) => `${position} ${wire}`));
    const found = new Set<string>();
    for (const wire of new Set(this.loose.map((each) => each.wire))) {
      const hasWire = this.spans.map(({ per }) => per.wires.some(({ name }) => name === wire));
      let run: string[] = [];
      let isJoined = false;
      for (let position = 0; position <= this.spans.length; position++) {
        const key = `${position} ${wire}`;
        if (loose.has(key)) run.push(key);
        else if (hasWire[position - 1] || hasWire[position]) isJoined = true;
        const goesOn = hasWire[position] && loose.has(key);
        if (goesOn) continue;
        // What is joined here ends the run behind it, and begins the next one.
        if (!isJoined) for (const each of run) found.add(each);
        run = [];
        isJoined = !loose.has(key) && hasWire[position];
      }
    }
    return found;
  }

  /** Potential of a place of a wire, for a right side. */
  private atPlace(position: number, place: number, side: number): Complex {
    if (place < 0) return { re: -place === side ? 1 : 0, im: 0 };
    const at = sides * (this.starts[position] + place) + side;
    return { re: this.xRe[at], im: this.xIm[at] };
  }

  /** With one end at one volt (1, 2): its share of the admittance; with both at nought (0): what flows into the station. */
  private intoStation(end: 0 | 1, side: number): Complex {
    const k = end === 0 ? 0 : this.spans.length - 1;
    const { per, km, driven, from, to } = this.spans[k];
    const n = from.length;
    let out = zero;
    for (let i = 0; i < n; i++) {
      if ((end === 0 ? from[i] : to[i]) >= 0) continue;
      let current = side === 0 ? scale(entry(driven, i, 0), -1) : zero;
      for (let j = 0; j < n; j++) {
        const drop = subtract(this.atPlace(k, from[j], side), this.atPlace(k + 1, to[j], side));
        current = add(current, scale(multiply(entry(per.y, i, j), drop), 1 / km));
      }
      out = end === 0 ? add(out, current) : subtract(out, current);
    }
    return side === 0 ? scale(out, -1) : out;
  }

  result(start: Complex, end: Complex): LineResult {
    // All unknowns at these potentials of the stations.
    const count = this.starts[this.sizes.length];
    const [re, im] = [new Float64Array(count), new Float64Array(count)];
    for (let k = 0; k < count; k++) {
      const at = sides * k;
      const [a, b] = [at + 1, at + 2];
      re[k] =
        this.xRe[at] + this.xRe[a] * start.re - this.xIm[a] * start.im + this.xRe[b] * end.re - this.xIm[b] * end.im;
      im[k] =
        this.xIm[at] + this.xRe[a] * start.im + this.xIm[a] * start.re + this.xRe[b] * end.im + this.xIm[b] * end.re;
    }
    const potential = (position: number, place: number): Complex => {
      if (place < 0) return place === atStart ? start : end;
      const k = this.starts[position] + place;
      return { re: re[k], im: im[k] };
    };
    const towers: TowerResult[] = [];
    for (let position = 1; position < this.sizes.length - 1; position++) {
      const at = potential(position, this.towerAt[position]);
      const footing = this.shunts[position - 1];
      towers.push({ tower: position, potential: at, current: footing ? divide(at, footing) : zero });
    }
    const spans = this.spans.map(({ per, km, driven, isJoined, from, to }, k) => {
      const n = from.length;
      const currents: Record<string, Complex> = {};
      if (isJoined) {
        const drop = scale(subtract(potential(k, from[0]), potential(k + 1, to[0])), 1 / km);
        for (let i = 0; i < n; i++) {
          const y = per.rows[i];
          currents[per.wires[i].name] = {
            re: y.re * drop.re - y.im * drop.im - driven.re[i],
            im: y.re * drop.im + y.im * drop.re - driven.im[i],
          };
        }
        return currents;
      }
      const drops = Array.from({ length: n }, (_, j) => subtract(potential(k, from[j]), potential(k + 1, to[j])));
      for (let i = 0; i < n; i++) {
        let current: Complex = { re: -driven.re[i], im: -driven.im[i] };
        for (let j = 0; j < n; j++) current = add(current, scale(multiply(entry(per.y, i, j), drops[j]), 1 / km));
        currents[per.wires[i].name] = current;
      }
      return currents;
    });
    const floating = this.floating();
    const loose = this.loose.map(({ position, wire, place }) => ({
      position,
      wire,
      potential: potential(position, place),
      floats: floating.has(`${position} ${wire}`),
    }));
    return { name: this.line.name, towers, spans, loose };
  }
}

const opposite = (value: Complex): Complex => scale(value, -1);

const sumOf = (m: DenseMatrix): Complex => ({
  re: m.re.reduce((sum, each) => sum + each, 0),
  im: m.im.reduce((sum, each) => sum + each, 0),
});

const isOne = (places: Int32Array): boolean =>
  places.length > 0 && places[0] >= 0 && places.every((place) => place === places[0]);

/** Blocks of a banded matrix, one after the other. */
class Blocks {
  readonly starts: Int32Array;
  readonly re: Float64Array;
  readonly im: Float64Array;
  constructor(
    private readonly rows: readonly number[],
    private readonly columns: readonly number[],
  ) {
    this.starts = new Int32Array(rows.length + 1);
    rows.forEach((count, k) => (this.starts[k + 1] = this.starts[k] + count * columns[k]));
    this.re = new Float64Array(this.starts[rows.length]);
    this.im = new Float64Array(this.starts[rows.length]);
  }
  add(k: number, i: number, j: number, re: number, im: number): void {
    const at = this.starts[k] + i * this.columns[k] + j;
    this.re[at] += re;
    this.im[at] += im;
  }
  /** A block, in place. */
  at(k: number): DenseMatrix {
    const [from, to] = [this.starts[k], this.starts[k + 1]];
    return {
      rows: this.rows[k],
      columns: this.columns[k],
      re: this.re.subarray(from, to),
      im: this.im.subarray(from, to),
    };
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
