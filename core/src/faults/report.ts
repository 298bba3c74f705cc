/** Fault levels of many buses as plain rows, for the table on screen, the terminal and files. */
import type { Complex } from '../linear/complex';
import type { Bus } from '../model/switching';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { Problem } from '../model/problem';
import type { FaultCase } from '../sequence/stamp';
import { solidFault, type FaultCondition, type FaultKind } from './kinds';
import { faultAtPlace, terminalPlace, type Fault, type Iec60909Study } from './iec60909/study';

export interface FaultRow {
  readonly bus: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  readonly kind: FaultKind;
  readonly faultCase: FaultCase;
  /** Null when the fault cannot be computed; `problems` then says why. */
  readonly result: FaultFigures | null;
  readonly problems: readonly Problem[];
}

export interface FaultFigures {
  readonly cFactor: number;
  readonly ikA: number;
  readonly phases: { readonly l1: Complex; readonly l2: Complex; readonly l3: Complex; readonly residual: Complex };
  readonly earthA: number;
  readonly ipA: number;
  readonly kappa: number;
  readonly xOverR: number;
  readonly powerVa: number | null;
  readonly z1: Complex;
  readonly z2: Complex;
  readonly z0: Complex | null;
}

export function faultRow(study: Iec60909Study, bus: Bus, condition: FaultCondition): FaultRow {
  const common = {
    bus: bus.id,
    name: bus.name,
    nominalKv: bus.nominalKv,
    kind: condition.kind,
    faultCase: study.faultCase,
  };
  const result = faultAtPlace(study, terminalPlace(bus.id), condition);
  if (!result.ok) return { ...common, result: null, problems: result.problems };
  return { ...common, problems: [], result: figuresOf(result.fault) };
}

export const figuresOf = ({
  cFactor,
  ikA,
  phases,
  earthA,
  ipA,
  kappa,
  rOverX,
  powerVa,
  z1,
  z2,
  z0,
}: Fault): FaultFigures => ({ cFactor, ikA, phases, earthA, ipA, kappa, xOverR: 1 / rOverX, powerVa, z1, z2, z0 });

/** All buses, highest voltage first, then by name. */
export function faultTable(study: Iec60909Study, fault: FaultKind | FaultCondition): FaultRow[] {
  const condition = typeof fault === 'string' ? solidFault(fault) : fault;
  return ofKind(study.assembly.network, 'bus')
    .map((bus) => faultRow(study, bus, condition))
    .sort((p, q) => q.nominalKv - p.nominalKv || p.name.localeCompare(q.name, 'en', { numeric: true }));
}
