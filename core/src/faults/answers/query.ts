/** What is asked of the engine and what it answers: plain data, the same for screen, terminal and worker. */
import type { Complex } from '../../linear/complex';
import type { State } from '../../model/state';
import type { ElementId } from '../../model/fields';
import type { Problem } from '../../model/problem';
import type { Charging } from '../../assembly/assemble';
import type { PhaseCurrents, SequenceCurrents, SequenceValues } from '../../sequence/components';
import type { FaultCase } from '../../sequence/stamp';
import type { C37Fault, C37Options } from '../c37/study';
import type { Contribution, ElementFlow } from '../solution/contributions';
import type { Working } from '../solution/elementSections';
import type { PeakMethod } from '../iec60909/peak';
import type { SteadyCurrent } from '../iec60909/steady';
import type { FaultCondition, FaultKind } from '../kinds';
import type { DisturbanceResult, Place } from '../solution/solve';

export const methods = ['iec60909', 'c37', 'superposition'] as const;
export type Method = (typeof methods)[number];
export const methodTitles: Readonly<Record<Method, string>> = {
  iec60909: 'IEC 60909-0',
  c37: 'IEEE C37.010',
  superposition: 'superposition on the load flow',
};

/** Which method, in which state of the system. */
export interface StudyQuery extends State, C37Options {
  readonly method: Method;
  readonly peak?: PeakMethod;
  readonly charging?: Charging;
}

export interface FaultQuery extends FaultCondition {
  /** Minimum time delay for the breaking current in seconds; null: not asked for. */
  readonly breakingS?: number | null;
  /** Duration of the fault for the thermal current in seconds; null: not asked for. */
  readonly durationS?: number | null;
  /** Contact parting in cycles and asymmetry of the rating, for IEEE C37.010. */
  readonly breaker?: { readonly partingCycles: number; readonly s: number };
}

export type PlaceQuery =
  | Place
  /** The far end of a line after its breaker there has opened. */
  | { readonly at: 'openEnd'; readonly element: ElementId; readonly terminal: number };

/** What a fault comes to. Not every method gives everything. */
export interface Figures {
  /** Ik″, or the first-cycle symmetrical current; the largest phase. */
  readonly ikA: number;
  readonly phases: PhaseCurrents | null;
  readonly earthA: number;
  readonly ipA: number | null;
  readonly kappa: number | null;
  readonly xOverR: number | null;
  readonly powerVa: number | null;
  readonly z1: Complex | null;
  readonly z2: Complex | null;
  readonly z0: Complex | null;
  readonly cFactor: number | null;
  /** Phase-to-neutral volts that drive the fault. */
  readonly sourceV: number;
  readonly ibA: number | null;
  /** How Ib was found (IEC 60909-0, 9.1). */
  readonly ibRule: SteadyCurrent['rule'] | null;
  readonly idcA: number | null;
  readonly ibAsymmetricalA: number | null;
  readonly steady: SteadyFigures | null;
  readonly ithA: number | null;
  readonly jouleIntegral: number | null;
  readonly c37: C37Fault | null;
}

export interface SteadyFigures {
  readonly maxA: number;
  readonly minA: number;
  readonly rule: SteadyCurrent['rule'];
}

export interface FaultRow {
  readonly place: PlaceQuery;
  /** Name of the bus, or of the place. */
  readonly name: string;
  readonly nominalKv: number;
  readonly kind: FaultKind;
  readonly method: Method;
  readonly faultCase: FaultCase;
  /** Null when the fault cannot be computed; `problems` then says why. */
  readonly result: Figures | null;
  readonly problems: readonly Problem[];
}

/** Current into an element at one of its terminals. */
export interface BranchFigures {
  readonly element: ElementId;
  readonly terminal: number;
  readonly name: string;
  /** Bus at that end, or what stands there. */
  readonly end: string;
  readonly components: SequenceCurrents;
  readonly phases: PhaseCurrents;
}

/** Voltages to earth at a bus. */
export interface BusFigures {
  readonly bus: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  readonly components: SequenceValues;
  readonly phases: PhaseCurrents;
}

export interface FaultDetail {
  readonly row: FaultRow;
  readonly contributions: readonly Contribution[];
  readonly flows: readonly ElementFlow[];
  readonly branches: readonly BranchFigures[];
  readonly buses: readonly BusFigures[];
  readonly working: Working | null;
}

export interface SimultaneousAnswer {
  readonly results: readonly (DisturbanceResult & { readonly voltagePhases: PhaseCurrents })[];
  readonly branches: readonly BranchFigures[];
  readonly buses: readonly BusFigures[];
}
