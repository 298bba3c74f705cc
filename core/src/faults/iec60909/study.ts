/** Initial short-circuit currents Ik″ and peak currents ip by the equivalent voltage source. IEC 60909-0:2016, 5.3, 7 and 8. */
import { add, magnitude, scale, zero, type Complex } from '../../linear/complex';
import { emptyValues } from '../../linear/inverse';
import { once } from '../../linear/once';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import type { Switch } from '../../model/switching';
import { settingsOf } from '../../model/network';
import { nameOf } from '../../model/element';
import type { Problem } from '../../model/problem';
import { terminalKey, type TerminalKey } from '../../model/topology';
import { assemble, type Assembly, type AssemblyOptions, type Charging } from '../../assembly/assemble';
import { addScaled, portResponse } from '../../assembly/ports';
import {
  drivingPoint,
  terminalRow,
  unitInjection,
  valueAt,
  weigh,
  type SequenceNetwork,
} from '../../assembly/sequenceNetwork';
import { revised } from '../../assembly/revise';
import { rewired } from '../../assembly/rewire';
import { withOutage } from '../../assembly/outage';
import { toPhases, type PhaseCurrents, type SequenceCurrents, type SequenceValues } from '../../sequence/components';
import type { FaultCase } from '../../sequence/stamp';
import { largestPhase, type FaultState } from '../solution/contributions';
import { nodeVoltages, terminalCurrents, type TerminalCurrents } from '../solution/flows';
import { faultComponents, needsZeroSequence, solidFault, type FaultCondition, type FaultKind } from '../kinds';
import {
  changesBy,
  gapProblem,
  portAt,
  sequences,
  solveDisturbances,
  type Disturbance,
  type Place,
  type Port,
  type Prefault,
  type Sequence,
  type Solution,
  type Solved,
} from '../solution/solve';
import { convertersOf, type Converters, type Raised } from './converters';
import { nodesInsideUnits } from './insideUnit';
import { kappaOf, peakFrequencyRatio, type PeakMethod } from './peak';
import { voltageFactor } from './voltageFactor';

export interface Iec60909Study {
  readonly assembly: Assembly;
  readonly faultCase: FaultCase;
  readonly options: Required<Omit<StudyOptions, 'motorsSupply'>>;
  readonly c: (nominalKv: number) => number;
  /** Full-size converters; null without any. */
  readonly converters: Converters | null;
  /** Nodes inside power-station units. */
  units(): ReadonlyMap<number, ElementId>;
  /** Studies for faults inside a power-station unit, kept once made. */
  readonly inside: Map<string, Iec60909Study>;
}

export interface StudyOptions {
  /** How κ is found (IEC 60909-0, 8.1.1). */
  readonly peak?: PeakMethod;
  /** Line capacitances in the zero sequence. */
  readonly charging?: Charging;
  /** As in {@link AssemblyOptions}. */
  readonly motorsSupply?: boolean;
}

interface PlaceImpedances extends NodeImpedances {
  /** At the equivalent frequency. */
  zc(): Complex;
}

interface NodeImpedances {
  readonly z1: Complex;
  readonly z2: Complex;
  /** Asked for by earth faults only. */
  z0(): Complex | null;
}

export interface Fault {
  readonly place: Place;
  /** Terminal at which the fault sits; null inside a line. */
  readonly at: TerminalKey | null;
  readonly node: number;
  readonly nominalKv: number;
  readonly kind: FaultKind;
  readonly condition: FaultCondition;
  readonly faultCase: FaultCase;
  readonly cFactor: number;
  /** c·Un/√3 in volts. */
  readonly sourceV: number;
  /** Voltage that the converters add at the place, in volts, in phase with the source. */
  readonly raisedV: number;
  /** What the converters do to this fault; found when first asked for. */
  raised(): Raised | null;
  readonly z1: Complex;
  readonly z2: Complex;
  readonly z0: Complex | null;
  /** Impedance of the network at the equivalent frequency, see {@link peakFrequencyRatio}. */
  readonly zc: Complex;
  readonly components: SequenceCurrents;
  readonly phases: PhaseCurrents;
  /** Largest phase current Ik″ in amperes. */
  readonly ikA: number;
  /** |3·I0| in amperes. */
  readonly earthA: number;
  readonly kappa: number;
  readonly ipA: number;
  /** R/X at rated frequency by the equivalent frequency method; X/R is its inverse. */
  readonly rOverX: number;
  /** √3·Un·Ik″ in VA, for the three-phase fault; otherwise null. */
  readonly powerVa: number | null;
  /** The study in whose network it was found: that of a power-station unit for faults inside it. */
  readonly study: Iec60909Study;
}

export type FaultResult = { ok: true; fault: Fault } | { ok: false; problems: Problem[] };

export function iec60909Study(network: Network, faultCase: FaultCase, options: StudyOptions = {}): Iec60909Study {
  const { charging = 'auto', motorsSupply = false } = options;
  const factor = voltageFactor(settingsOf(network).lowVoltageTolerancePercent);
  return studyOf(assemble(network, { faultCase, voltageFactor: factor, charging, motorsSupply }), options);
}

function studyOf(assembly: Assembly, { peak = 'equivalentFrequency', charging = 'auto' }: StudyOptions): Iec60909Study {
  const { faultCase, options } = assembly;
  return {
    assembly,
    faultCase,
    options: { peak, charging },
    c: (nominalKv) => options.voltageFactor(nominalKv, faultCase),
    converters: convertersOf(assembly, assembly.positive),
    units: once(() => nodesInsideUnits(assembly)),
    inside: new Map(),
  };
}

/** The study after some elements changed their values; null where it has to be made anew. */
export function revisedStudy(
  before: Iec60909Study,
  network: Network,
  changed: readonly ElementId[],
): Iec60909Study | null {
  const assembly = revised(before.assembly, network, changed);
  return assembly && studyOf(assembly, before.options);
}

/** The study with one element out of service, by an update of the factored networks. */
export const outageStudy = (study: Iec60909Study, element: ElementId): Iec60909Study =>
  studyOf(withOutage(study.assembly, element), study.options);

/** The study with some switches in the other position than drawn; null where it has to be made anew. */
export function rewiredStudy(
  study: Iec60909Study,
  network: () => Network,
  toggled: readonly Switch[],
): Iec60909Study | null {
  const assembly = rewired(study.assembly, network, toggled);
  return assembly && studyOf(assembly, study.options);
}

export const terminalPlace = (element: ElementId, terminal = 0): Place => ({ at: 'terminal', element, terminal });

/** A fault at a terminal of an element (terminal 0 of a bus). Problems: no supply, zero-sequence data missing, singular network. */
export const faultAt = (study: Iec60909Study, element: ElementId, terminal: number, kind: FaultKind): FaultResult =>
  faultAtPlace(study, terminalPlace(element, terminal), solidFault(kind));

/** A fault at any place, of any condition. Problems as in {@link faultAt}. */
export function faultAtPlace(study: Iec60909Study, place: Place, condition: FaultCondition): FaultResult {
  const { topology, supplied } = study.assembly;
  if (place.at === 'line') {
    const inside = place.fraction > 0 && place.fraction < 1;
    if (study.assembly.network.elements.get(place.element)?.kind !== 'line' || !inside)
      return refused(study, place, 'fault.place', (name) => `${name} is not a line, or the place lies not inside it`);
  }
  const port = portAt(study.assembly, place);
  if (!port)
    return refused(
      study,
      place,
      'fault.place',
      (name) => `${name} has no ${place.at === 'terminal' ? `terminal ${place.terminal}` : 'inside'}`,
    );
  if (!supplied[port.node]) return refused(study, place, 'supply.none', (name) => `${name} is connected to no source`);
  const { nominalKv } = topology.nodes[port.node];
  if (nominalKv === null)
    return refused(study, place, 'level.unknown', (name) => `the voltage at ${name} is not known`);
  if (needsZeroSequence(condition.kind)) {
    const gaps = study.assembly.zero.gapsAt(port.node);
    if (gaps.length > 0) return { ok: false, problems: gaps.map((gap) => gapProblem(study.assembly, gap)) };
  }
  const units = study.units();
  const unit = units.size > 0 ? units.get(port.node) : undefined;
  if (unit) {
    const auxiliaries = port.node !== topology.nodeAt(unit, 1);
    const now = study.assembly.options.faultInside;
    if (unit !== now?.unit || auxiliaries !== now.auxiliaries)
      return faultInside(study, { unit, auxiliaries }, place, condition);
  }
  const z = seenFrom(study, place, port);
  if (!z)
    return refused(
      study,
      place,
      'network.singular',
      (name) => `the impedance at ${name} cannot be found: check the data around it for impedances of nought`,
    );
  return { ok: true, fault: computeFault(study, place, port, nominalKv, condition, z) };
}

/** Several kinds of fault are asked at one place after the other: its impedances are found once. */
const lastPlace = new WeakMap<Iec60909Study, { readonly place: Place; readonly z: PlaceImpedances | null }>();

function seenFrom(study: Iec60909Study, place: Place, port: Port): PlaceImpedances | null {
  const last = lastPlace.get(study);
  if (last?.place === place) return last.z;
  const found = impedancesAt(study, place, port);
  const z = found && {
    z1: found.z1,
    z2: found.z2,
    z0: once(() => found.z0()),
    zc: once(() => lowFrequencyImpedance(study, place, port)),
  };
  lastPlace.set(study, { place, z });
  return z;
}

function refused(
  { assembly }: Iec60909Study,
  { element }: Place,
  code: string,
  message: (name: string) => string,
): FaultResult {
  const known = assembly.network.elements.get(element);
  const name = known ? nameOf(known) : element;
  return { ok: false, problems: [{ severity: 'warning', code, message: message(name), element }] };
}

/** Faults between generator and unit transformer, and in the auxiliaries, take corrections of their own (IEC 60909-0, 6.7.3). */
function faultInside(
  study: Iec60909Study,
  where: NonNullable<AssemblyOptions['faultInside']>,
  place: Place,
  condition: FaultCondition,
): FaultResult {
  const key = `${where.unit}${where.auxiliaries ? '/auxiliaries' : ''}`;
  let own = study.inside.get(key);
  if (!own) {
    const { network, options, outages } = study.assembly;
    const whole = assemble(network, { ...options, faultInside: where });
    own = studyOf(outages.reduce(withOutage, whole), study.options);
    study.inside.set(key, own);
  }
  return faultAtPlace(own, place, condition);
}

const nothingRaised = () => null;

function computeFault(
  study: Iec60909Study,
  place: Place,
  port: Port,
  nominalKv: number,
  condition: FaultCondition,
  { z1, z2, z0: homopolar, zc: lowFrequency }: PlaceImpedances,
): Fault {
  const { kind, phaseOhm } = condition;
  const z0 = needsZeroSequence(kind) ? homopolar() : null;
  const cFactor = study.c(nominalKv);
  const sourceV = sourceVoltage(study, nominalKv);
  const raisedV = study.converters?.raisedAt(port.positive.sense) ?? 0;
  const components = faultComponents(condition, { re: sourceV + raisedV, im: 0 }, z1, z2, z0);
  const phases = toPhases(components);
  const ikA = largestPhase(phases);
  const zc = lowFrequency();
  const total = { re: zc.re + phaseOhm.re, im: zc.im + peakFrequencyRatio * phaseOhm.im };
  const rOverX = (total.re / total.im) * peakFrequencyRatio;
  const kappa = kappaOf(study, { z1: add(z1, phaseOhm), rOverX, nominalKv, port: port.positive });
  return {
    place,
    at: place.at === 'terminal' ? terminalKey(place.element, place.terminal) : null,
    node: port.node,
    nominalKv,
    kind,
    condition,
    faultCase: study.faultCase,
    cFactor,
    sourceV,
    raisedV,
    raised: study.converters ? once(() => study.converters!.towards(port.positive.sense)) : nothingRaised,
    z1,
    z2,
    z0,
    zc,
    components,
    phases,
    ikA,
    earthA: magnitude(phases.residual),
    kappa,
    ipA: (Math.SQRT2 * ikA * (kappa * sourceV + raisedV)) / (sourceV + raisedV),
    rOverX,
    powerVa: kind === '3ph' ? Math.sqrt(3) * nominalKv * 1000 * ikA : null,
    study,
  };
}

/** The equivalent source's voltage at a node whose nominal voltage is known, in volts. */
export const sourceVoltageAt = (study: Iec60909Study, node: number): number =>
  sourceVoltage(study, study.assembly.topology.nodes[node].nominalKv!);

/** c·Un/√3 in volts. */
const sourceVoltage = (study: Iec60909Study, nominalKv: number) =>
  (study.c(nominalKv) * nominalKv * 1000) / Math.sqrt(3);

function impedancesAt(study: Iec60909Study, place: Place, port: Port): NodeImpedances | null {
  const { assembly } = study;
  const { positive, negative } = assembly;
  if (place.at === 'line') {
    const [z1, z2] = [positive, negative].map((network, k) => selfImpedance(network, port, sequences[k]));
    const z0 = () => selfImpedance(assembly.zero, port, 'zero');
    return z1 && z2 && magnitude(z1) > 0 ? { z1, z2, z0 } : null;
  }
  const z1 = drivingPoint(positive, port.node);
  const z2 = negative === positive ? z1 : drivingPoint(negative, port.node);
  const z0 = () => drivingPoint(assembly.zero, port.node);
  return z1 && z2 && magnitude(z1) > 0 ? { z1, z2, z0 } : null;
}

function selfImpedance(network: SequenceNetwork, port: Port, sequence: Sequence): Complex | null {
  if (network.floating[port.node] >= 0 || !network.inverse()) return null;
  return portResponse(network, [port[sequence]])[0][0];
}

/** Impedance at the equivalent frequency. */
function lowFrequencyImpedance(study: Iec60909Study, place: Place, port: Port): Complex {
  return impedanceAtFrequency(study, place, port, peakFrequencyRatio);
}

export function impedanceAtFrequency(
  study: Iec60909Study,
  place: Place,
  port: Port,
  ratio: number,
  resistances: 'fictitious' | 'own' = 'fictitious',
): Complex {
  const network = study.assembly.atFrequency(ratio, resistances);
  if (place.at === 'terminal') return drivingPoint(network, port.node)!;
  const own = portAt({ ...study.assembly, positive: network }, place)!;
  return selfImpedance(network, own, 'positive')!;
}

/** What the converters do to faults of which the first is at this node. */
const raisedTowards = (study: Iec60909Study, node: number): Raised | null =>
  study.converters?.towards(unitInjection(node)) ?? null;

/** The same where the first is at this port; for a broken conductor what counts is its node. */
export const raisedBy = (study: Iec60909Study, { node, positive }: Port): Raised | null =>
  positive.broken ? raisedTowards(study, node) : (study.converters?.towards(positive.sense) ?? null);

/**
 * Before the fault the equivalent source's voltage at a node stands everywhere, by rated ratios, and what the converters raise; only their currents
 * flow. The node's nominal voltage must be known.
 */
export function prefaultOf(study: Iec60909Study, node: number, raised = raisedTowards(study, node)): Prefault {
  const { level } = study.assembly;
  const sourceV = sourceVoltageAt(study, node);
  return {
    voltageAt: (k) => add({ re: (sourceV * level[k]) / level[node], im: 0 }, raised ? valueAt(raised.values, k) : zero),
    currentInto: (element, terminal) =>
      raised ? weigh(terminalRow(study.assembly.positive, element, terminal).sense, raised.values) : zero,
  };
}

/** Several faults at once, broken conductors among them; the voltage factor is that of the first place. */
export function simultaneousFaults(study: Iec60909Study, disturbances: readonly Disturbance[]): Solved {
  const first = disturbances[0];
  const place = first.type === 'shunt' ? first.place : terminalPlace(first.element, first.terminal);
  const port = portAt(study.assembly, place);
  const nominalKv = port && study.assembly.topology.nodes[port.node].nominalKv;
  if (!port || !nominalKv)
    return {
      ok: false,
      problems: [{ severity: 'warning', code: 'fault.place', message: 'the first place is unknown' }],
    };
  const raised = first.type === 'shunt' ? raisedBy(study, port) : raisedTowards(study, port.node);
  return solveDisturbances(study.assembly, prefaultOf(study, port.node, raised), disturbances);
}

/** The fault as a solution of the whole network: what it changes at every node. */
export function solutionOf(fault: Fault): Solution {
  const { assembly } = fault.study;
  if (needsZeroSequence(fault.kind) && !fault.z0) {
    // No current flows to earth, but the common voltage of a network without any path to earth moves.
    const disturbance: Disturbance = { type: 'shunt', place: fault.place, ...fault.condition };
    const solved = solveDisturbances(assembly, prefaultOf(fault.study, fault.node, fault.raised()), [disturbance]);
    if (solved.ok) return solved.solution;
  }
  const port = portAt(assembly, fault.place)!;
  const { positive, negative, zero: homopolar } = fault.components;
  const excitation: SequenceValues = {
    positive: scale(positive, -1),
    negative: scale(negative, -1),
    zero: scale(homopolar, -1),
  };
  const change = once(() => changesBy(assembly, [port], [excitation]));
  return {
    reference: fault.node,
    ports: [port],
    excitations: [excitation],
    get change() {
      return change();
    },
  };
}

const injectedBy = (raised: Raised | null) =>
  raised?.injections.map(({ element, terminal, node, current }) => ({
    key: terminalKey(element, terminal),
    node,
    current,
  })) ?? [];

/** Partial short-circuit currents out of every element during a fault. */
export function faultFlows(fault: Fault, solution = solutionOf(fault)): TerminalCurrents {
  const raised = fault.raised();
  return terminalCurrents(fault.study.assembly, withRaised(solution, raised), injectedBy(raised));
}

/** Partial currents of several faults solved together. */
export function solvedFlows(study: Iec60909Study, solution: Solution): TerminalCurrents {
  const raised = raisedBy(study, solution.ports[0]);
  return terminalCurrents(study.assembly, withRaised(solution, raised), injectedBy(raised));
}

/** A solution whose positive sequence holds what the converters' currents raise as well. */
export function withRaised(solution: Solution, raised: Raised | null): Solution {
  if (!raised) return solution;
  const total = emptyValues(raised.values.re.length);
  addScaled(total, solution.change.positive, { re: 1, im: 0 });
  addScaled(total, raised.values, { re: 1, im: 0 });
  return { ...solution, change: { ...solution.change, positive: total } };
}

/** Voltages to earth at a node during the fault, in its own phase position. */
export function voltagesDuring(fault: Fault, node: number, solution = solutionOf(fault)): SequenceValues {
  const { study } = fault;
  return nodeVoltages(study.assembly, solution, node, prefaultOf(study, fault.node, fault.raised()).voltageAt(node));
}

/** The fault as the parts common to all methods take it. */
export const stateOf = (fault: Fault): FaultState => ({ ...fault, assembly: fault.study.assembly });
