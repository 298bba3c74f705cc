/**
 * Rows of a fault table as columns of numbers: what a worker hands over without copying, and what a hundred thousand rows
 * can be kept as. Rows are made from it one by one, where they are looked at.
 */
import type { Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import type { Problem } from '../../model/problem';
import type { FaultCase } from '../../sequence/stamp';
import type { C37Fault } from '../c37/study';
import type { BoltedFault } from '../iec60909/bolted';
import { steadyRules } from '../iec60909/steady';
import type { FaultKind } from '../kinds';
import type { Figures, FaultRow, Method, PlaceQuery } from './query';

export interface PackedRows {
  readonly kind: FaultKind;
  readonly method: Method;
  readonly faultCase: FaultCase;
  readonly count: number;
  readonly elements: string[];
  readonly names: string[];
  /** {@link width} numbers a row; NaN where there is none. */
  readonly numbers: Float64Array;
  /** What few rows have, by index: places other than a bus, problems, duties after IEEE C37. */
  readonly places: Map<number, PlaceQuery>;
  readonly problems: Map<number, readonly Problem[]>;
  readonly c37: Map<number, C37Fault>;
}

/** One after the other, in the order in which {@link write} puts them down. */
class Cursor {
  constructor(
    private readonly numbers: Float64Array,
    private at: number,
  ) {}

  take(): number | null {
    const value = this.numbers[this.at++];
    return Number.isNaN(value) ? null : value;
  }

  takeComplex(): Complex | null {
    const [re, im] = [this.take(), this.take()];
    return re === null || im === null ? null : { re, im };
  }
}

/** Level, whether there is a result, 14 plain figures, four phases, three impedances, three of the steady state. */
const width = 2 + 14 + 8 + 6 + 3;

/** Fills with rows of one table, all of one kind of fault and one method. */
export class RowPacker {
  private readonly packed: PackedRows;
  private used = 0;

  constructor(head: { kind: FaultKind; method: Method; faultCase: FaultCase }, count: number) {
    const numbers = new Float64Array(count * width).fill(Number.NaN);
    const few = { places: new Map(), problems: new Map(), c37: new Map() };
    this.packed = { ...head, count, elements: [], names: [], numbers, ...few };
  }

  add({ place, name, nominalKv, result, problems }: FaultRow): void {
    const { packed } = this;
    const k = this.next(place, name);
    if (problems.length > 0) packed.problems.set(k, problems);
    if (result?.c37) packed.c37.set(k, result.c37);
    write(packed.numbers, k * width, nominalKv, result);
  }

  /** A solid three-phase fault at a terminal. */
  putBolted(place: PlaceQuery & { readonly at: 'terminal' }, name: string, fault: BoltedFault): void {
    const { numbers: to } = this.packed;
    const at = this.next(place, name) * width;
    to[at] = fault.nominalKv;
    to[at + 1] = 1;
    to[at + 2] = fault.ikA;
    to[at + 3] = 0;
    to[at + 4] = fault.sourceV;
    to[at + 5] = fault.ipA;
    to[at + 6] = fault.kappa;
    to[at + 7] = fault.xOverR;
    to[at + 8] = fault.powerVa;
    to[at + 9] = fault.cFactor;
    to[at + 16] = fault.l1Re;
    to[at + 17] = fault.l1Im;
    to[at + 18] = fault.l2Re;
    to[at + 19] = fault.l2Im;
    to[at + 20] = fault.l3Re;
    to[at + 21] = fault.l3Im;
    to[at + 22] = to[at + 23] = 0;
    to[at + 24] = fault.z1Re;
    to[at + 25] = fault.z1Im;
    to[at + 26] = fault.z2Re;
    to[at + 27] = fault.z2Im;
  }

  /** Number of the row that begins at this place. */
  private next(place: PlaceQuery, name: string): number {
    const k = this.used++;
    this.packed.elements.push(place.element);
    this.packed.names.push(name);
    if (place.at !== 'terminal' || place.terminal !== 0) this.packed.places.set(k, place);
    return k;
  }

  done(): PackedRows {
    if (this.used !== this.packed.count) throw new Error(`${this.used} of ${this.packed.count} rows were packed`);
    return this.packed;
  }
}

/** Into places that hold NaN: what there is none of stays so. */
function write(to: Float64Array, at: number, nominalKv: number, result: Figures | null): void {
  to[at] = nominalKv;
  if (!result) return;
  to[at + 1] = 1;
  to[at + 2] = result.ikA;
  to[at + 3] = result.earthA;
  to[at + 4] = result.sourceV;
  put(to, at + 5, result.ipA);
  put(to, at + 6, result.kappa);
  put(to, at + 7, result.xOverR);
  put(to, at + 8, result.powerVa);
  put(to, at + 9, result.cFactor);
  put(to, at + 10, result.ibA);
  put(to, at + 11, result.idcA);
  put(to, at + 12, result.ibAsymmetricalA);
  put(to, at + 13, result.ithA);
  put(to, at + 14, result.jouleIntegral);
  if (result.ibRule) to[at + 15] = steadyRules.indexOf(result.ibRule);
  const { phases, steady } = result;
  if (phases) {
    putComplex(to, at + 16, phases.l1);
    putComplex(to, at + 18, phases.l2);
    putComplex(to, at + 20, phases.l3);
    putComplex(to, at + 22, phases.residual);
  }
  putComplex(to, at + 24, result.z1);
  putComplex(to, at + 26, result.z2);
  putComplex(to, at + 28, result.z0);
  if (steady) {
    to[at + 30] = steady.maxA;
    to[at + 31] = steady.minA;
    to[at + 32] = steadyRules.indexOf(steady.rule);
  }
}

function put(to: Float64Array, at: number, value: number | null): void {
  if (value !== null) to[at] = value;
}

function putComplex(to: Float64Array, at: number, value: Complex | null): void {
  if (value === null) return;
  to[at] = value.re;
  to[at + 1] = value.im;
}

/** One row as it went in. */
export function rowAt(packed: PackedRows, k: number): FaultRow {
  const { kind, method, faultCase } = packed;
  const from = new Cursor(packed.numbers, k * width);
  const nominalKv = from.take()!;
  const element = packed.elements[k] as ElementId;
  return {
    place: packed.places.get(k) ?? { at: 'terminal', element, terminal: 0 },
    name: packed.names[k],
    nominalKv,
    kind,
    method,
    faultCase,
    result: from.take() === null ? null : read(from, packed.c37.get(k) ?? null),
    problems: packed.problems.get(k) ?? [],
  };
}

function read(from: Cursor, c37: C37Fault | null): Figures {
  const [ikA, earthA, sourceV] = [from.take()!, from.take()!, from.take()!];
  const [ipA, kappa, xOverR, powerVa, cFactor] = [from.take(), from.take(), from.take(), from.take(), from.take()];
  const [ibA, idcA, ibAsymmetricalA, ithA, jouleIntegral] = [
    from.take(),
    from.take(),
    from.take(),
    from.take(),
    from.take(),
  ];
  const ibRule = from.take();
  const [l1, l2, l3, residual] = [from.takeComplex(), from.takeComplex(), from.takeComplex(), from.takeComplex()];
  const [z1, z2, z0] = [from.takeComplex(), from.takeComplex(), from.takeComplex()];
  const [maxA, minA, rule] = [from.take(), from.take(), from.take()];
  return {
    ikA,
    earthA,
    sourceV,
    ipA,
    kappa,
    xOverR,
    powerVa,
    cFactor,
    ibA,
    ibRule: ibRule === null ? null : steadyRules[ibRule],
    idcA,
    ibAsymmetricalA,
    ithA,
    jouleIntegral,
    phases: l1 && l2 && l3 && residual ? { l1, l2, l3, residual } : null,
    z1,
    z2,
    z0,
    steady: maxA !== null && minA !== null && rule !== null ? { maxA, minA, rule: steadyRules[rule] } : null,
    c37,
  };
}

export const rowsOf = (packed: PackedRows): FaultRow[] =>
  Array.from({ length: packed.count }, (_, k) => rowAt(packed, k));

/** What can change hands between threads instead of being copied. */
export const buffersOf = (packed: PackedRows): ArrayBuffer[] => [packed.numbers.buffer as ArrayBuffer];
