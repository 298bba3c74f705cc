/**
 * What an element is to the sequence networks: impedances between its local nodes, or from a local node to the reference. Local nodes
 * are its terminals 0, 1, 2 and, after them, inner ones such as the star point of a three-winding transformer.
 */
import type { Element } from '../model/element';
import type { ElementId } from '../model/fields';
import type { Complex } from '../linear/complex';
import type { Trace } from '../working/trace';

/** Ohms at rated frequency. `rPeakOhm` takes the place of `rOhm` where the peak factor is found (fictitious resistances, IEC 60909-0, 6.6.1). */
export interface Impedance {
  readonly rOhm: number;
  readonly xOhm: number;
  readonly rPeakOhm: number;
}

/** Between two local nodes, in ohms of the side `to`. */
export interface Series extends Impedance {
  readonly type: 'series';
  readonly from: number;
  readonly to: number;
  /** Voltage of `from` over voltage of `to`; negative where the zero sequence is reversed. */
  readonly ratio: number;
  /** `to` lags `from` by this many times 30° in the positive sequence. */
  readonly clock: number;
  /** Further lag in radians, of a phase-shifting transformer. */
  readonly shiftRad: number;
  /** Parallel circuits that the impedance stands for; a fault inside is on one of them. */
  readonly circuits: number;
}

/** From a local node to the reference of the sequence. */
export interface Shunt extends Impedance {
  readonly type: 'shunt';
  readonly terminal: number;
  /** Keeps a network supplied by itself: a feeder or a synchronous machine, but not a motor. */
  readonly supplies: boolean;
  /** `source`: behind it stands a voltage; `passive`: a load, a capacitance; `earth`: a neutral's path; `coil`: through a resonant coil only. */
  readonly role: 'source' | 'passive' | 'earth' | 'coil';
}

export type Primitive = Series | Shunt;

/** A zero-sequence path that is there but whose data are not known. */
export interface Unknown {
  readonly fields: readonly string[];
  readonly terminals: readonly number[];
}

/** A positive-sequence current that a converter drives into the network, in amperes against the voltage at its terminal. */
export interface Injection {
  readonly terminal: number;
  readonly current: Complex;
}

export interface SequenceModel {
  readonly positive: readonly Primitive[];
  /** Only where it differs from the positive sequence. */
  readonly negative?: readonly Primitive[];
  readonly zero: readonly Primitive[];
  readonly zeroUnknown?: Unknown;
  /** Line capacitances; whether they count depends on the method and on the earthing of the network. */
  readonly charging?: { readonly positive: readonly Shunt[]; readonly zero: readonly Shunt[] };
  readonly injection?: Injection;
}

export type FaultCase = 'max' | 'min';

/**
 * What the impedances are for: the equivalent voltage source of IEC 60909-0 with its correction factors; the three networks of IEEE
 * C37.010; or the network as it runs, for load flow and superposition.
 */
export type Basis = 'iec60909' | 'firstCycle' | 'interrupting' | 'thirtyCycle' | 'operating';

/** What an element's model depends on besides its own data. */
export interface SequenceContext {
  readonly faultCase: FaultCase;
  readonly basis: Basis;
  readonly frequencyHz: number;
  /** Nominal voltage in kV at a terminal. */
  nominalKv(element: ElementId, terminal: number): number;
  /** Voltage factor of this level: of the case in hand, or always the maximum one. */
  cFactor(nominalKv: number, faultCase?: FaultCase): number;
  /** Another element that this one refers to. */
  element(id: ElementId): Element | undefined;
  /** The power-station unit between whose generator and transformer, or in whose auxiliaries, the fault lies (IEC 60909-0, 6.7.3). */
  readonly faultInside?: { readonly unit: ElementId; readonly auxiliaries: boolean };
  /** Whether machines and transformers keep their correction factors in the minimum case. */
  readonly minimumFactors: 'one' | 'asMaximum';
  readonly trace: Trace;
}

/** Correction factors are 1 in the minimum case (IEC 60909-0:2016, 7.1.2, as remembered) unless the project keeps those of the maximum. */
export const withoutFactors = ({ faultCase, minimumFactors }: SequenceContext): boolean =>
  faultCase === 'min' && minimumFactors === 'one';

/** The clause that says so, with its mark. */
export const withoutFactorsClause = 'IEC 60909-0:2016, 7.1.2 (as remembered)';

export const nothing: SequenceModel = { positive: [], zero: [] };

export const impedance = (rOhm: number, xOhm: number, rPeakOhm = rOhm): Impedance => ({ rOhm, xOhm, rPeakOhm });

export const scaled = (z: Impedance, factor: number): Impedance =>
  impedance(z.rOhm * factor, z.xOhm * factor, z.rPeakOhm * factor);

// Field by field, here and below: every line of a large network passes, and spreading is several times slower.
export const series = (
  { rOhm, xOhm, rPeakOhm }: Impedance,
  ratio = 1,
  clock = 0,
  {
    from = 0,
    to = 1,
    shiftRad = 0,
    circuits = 1,
  }: { from?: number; to?: number; shiftRad?: number; circuits?: number } = {},
): Series => ({ type: 'series', from, to, rOhm, xOhm, rPeakOhm, ratio, clock, shiftRad, circuits });

export const shunt = (
  terminal: number,
  { rOhm, xOhm, rPeakOhm }: Impedance,
  role: Shunt['role'],
  supplies = role === 'source',
): Shunt => ({
  type: 'shunt',
  terminal,
  rOhm,
  xOhm,
  rPeakOhm,
  role,
  supplies,
});
