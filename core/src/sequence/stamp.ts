/** What an element is to the sequence networks: impedances between its terminals, or from a terminal to the reference. */
import type { ElementId } from '../model/fields';
import type { Trace } from '../working/trace';

/** Ohms at rated frequency. `rPeakOhm` takes the place of `rOhm` where the peak factor is found (fictitious resistances, IEC 60909-0, 6.6.1). */
export interface Impedance {
  readonly rOhm: number;
  readonly xOhm: number;
  readonly rPeakOhm: number;
}

/** Between terminals 0 and 1, in ohms of terminal 1's side. */
export interface Series extends Impedance {
  readonly type: 'series';
  /** Voltage of terminal 0 over voltage of terminal 1; negative where the zero sequence is reversed. */
  readonly ratio: number;
  /** Terminal 1 lags terminal 0 by this many times 30° in the positive sequence. */
  readonly clock: number;
}

/** From a terminal to the reference of the sequence. */
export interface Shunt extends Impedance {
  readonly type: 'shunt';
  readonly terminal: number;
  /** Keeps a network supplied by itself: a feeder or a synchronous machine, but not a motor. */
  readonly supplies: boolean;
}

export type Primitive = Series | Shunt;

/** A zero-sequence path that is there but whose data are not known. */
export interface Unknown {
  readonly fields: readonly string[];
  readonly terminals: readonly number[];
}

export interface SequenceModel {
  readonly positive: readonly Primitive[];
  /** Only where it differs from the positive sequence. */
  readonly negative?: readonly Primitive[];
  readonly zero: readonly Primitive[];
  readonly zeroUnknown?: Unknown;
}

export type FaultCase = 'max' | 'min';

/** What an element's model depends on besides its own data. */
export interface SequenceContext {
  readonly faultCase: FaultCase;
  /** Nominal voltage in kV at a terminal. */
  nominalKv(element: ElementId, terminal: number): number;
  /** Voltage factor of this level: of the case in hand, or always the maximum one. */
  cFactor(nominalKv: number, faultCase?: FaultCase): number;
  readonly trace: Trace;
}

export const nothing: SequenceModel = { positive: [], zero: [] };

export const impedance = (rOhm: number, xOhm: number, rPeakOhm = rOhm): Impedance => ({ rOhm, xOhm, rPeakOhm });

export const series = (z: Impedance, ratio = 1, clock = 0): Series => ({ type: 'series', ...z, ratio, clock });

export const shunt = (terminal: number, z: Impedance, supplies = false): Shunt => ({
  type: 'shunt',
  terminal,
  ...z,
  supplies,
});
