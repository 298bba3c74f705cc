/** Where a fault current comes from: the share of every element that ends at the faulted node, as phasors. */
import { magnitude, rotate } from '../../linear/complex';
import { nameOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { terminalKey, type TerminalKey } from '../../model/topology';
import { throughCurrents } from '../../assembly/wiring';
import {
  addComponents,
  noCurrents,
  scaleComponents,
  toPhases,
  type PhaseCurrents,
  type SequenceCurrents,
} from '../../sequence/components';
import type { Assembly } from '../../assembly/assemble';
import type { FaultCase } from '../../sequence/stamp';
import type { TerminalCurrents } from './flows';
import type { Place } from './solve';

/** A fault as found by any method: where, in which network, and the current it draws. */
export interface FaultState {
  readonly assembly: Assembly;
  readonly faultCase: FaultCase;
  readonly place: Place;
  readonly node: number;
  /** Terminal at which the fault sits; null inside a line. */
  readonly at: TerminalKey | null;
  readonly components: SequenceCurrents;
}

export const largestPhase = (phases: PhaseCurrents): number =>
  Math.max(magnitude(phases.l1), magnitude(phases.l2), magnitude(phases.l3));

export interface Contribution {
  readonly element: ElementId;
  readonly terminal: number;
  readonly name: string;
  readonly components: SequenceCurrents;
  readonly phases: PhaseCurrents;
  /** Largest phase current in amperes. */
  readonly currentA: number;
  /** Says why an element gives nothing. */
  readonly remark?: string;
}

/** Contributions of branches and sources at the faulted node; they add up, as phasors, to the fault current. Passive elements are listed with nought. */
export function contributionsOf(fault: FaultState, flows: TerminalCurrents): Contribution[] {
  const { topology, network } = fault.assembly;
  if (fault.place.at === 'line') return lineContributions(fault, flows);
  const list: Contribution[] = [];
  for (const key of topology.nodes[fault.node].terminals) {
    const [element, terminal] = splitKey(key);
    const data = network.elements.get(element)!;
    const remark = silent[data.kind];
    const components = flows.get(key);
    if (drawsNothing.has(data.kind)) continue;
    const generator = terminal === 1 ? flows.generators?.get(element) : undefined;
    if (data.kind === 'powerStationUnit' && components && generator) {
      list.push(...unitShares(element, nameOf(data), components, generator));
      continue;
    }
    const phases = toPhases(components ?? noCurrents);
    const currentA = largestPhase(phases);
    const why = components
      ? undefined
      : (remark ?? (fault.faultCase === 'min' ? 'left out of minimum currents' : 'no source behind it'));
    list.push({
      element,
      terminal,
      name: nameOf(data),
      components: components ?? noCurrents,
      phases,
      currentA,
      remark: why,
    });
  }
  return list.sort((p, q) => q.currentA - p.currentA);
}

/** At the terminals of its generator a power-station unit feeds a fault from the generator and, from the network, through its transformer. */
function unitShares(
  element: ElementId,
  name: string,
  whole: SequenceCurrents,
  generator: SequenceCurrents,
): Contribution[] {
  const transformer = addComponents(whole, scaleComponents(generator, -1));
  return [
    { name: `${name}, generator`, components: generator },
    { name: `${name}, transformer`, components: transformer },
  ].map(({ name: share, components }) => {
    const phases = toPhases(components);
    return { element, terminal: 1, name: share, components, phases, currentA: largestPhase(phases) };
  });
}

/** A fault inside a line is fed from its two ends. */
function lineContributions(fault: FaultState, flows: TerminalCurrents): Contribution[] {
  const { topology, network } = fault.assembly;
  const { element } = fault.place;
  const ends = [0, 1].map((terminal): Contribution => {
    const key = terminalKey(element, terminal);
    // What leaves the node into the line runs towards the fault.
    const components = scaleComponents(flows.get(key) ?? noCurrents, -1);
    const phases = toPhases(components);
    const bus = topology.nodes[topology.nodeOf.get(key)!].buses[0];
    return {
      element,
      terminal,
      name: `${nameOf(network.elements.get(element)!)} from ${bus ? bus.name : `end ${terminal + 1}`}`,
      components,
      phases,
      currentA: largestPhase(phases),
    };
  });
  // What the ends do not bring comes out of the line's own capacitance.
  const rest = ends.reduce(
    (left, { components }) => addComponents(left, scaleComponents(components, -1)),
    fault.components,
  );
  const phases = toPhases(rest);
  const currentA = largestPhase(phases);
  if (currentA < 1e-7 * (1 + largestPhase(toPhases(fault.components)))) return ends;
  const name = `capacitance of ${nameOf(network.elements.get(element)!)}`;
  return [...ends, { element, terminal: 0, name, components: rest, phases, currentA }];
}

/** What joins terminals, or only measures. */
const drawsNothing: ReadonlySet<string> = new Set(['bus', 'switch', 'currentTransformer', 'voltageTransformer']);

const silent: Partial<Record<string, string>> = {
  load: 'a passive load gives none',
  shunt: 'left out by the method',
  earthingSwitch: 'open',
  staticDrive: 'cannot feed back',
  earthingTransformer: 'carries earth current only',
};

const splitKey = (key: string): [ElementId, number] => {
  const at = key.lastIndexOf(':');
  return [key.slice(0, at) as ElementId, Number(key.slice(at + 1))];
};

/** What flows through an element during a fault: at a branch out of its terminals, at a switch or CT through it. */
export interface ElementFlow {
  readonly element: ElementId;
  readonly components: SequenceCurrents;
  readonly currentA: number;
  /** The same referred to the voltage of the fault. */
  readonly atFaultA: number;
  readonly earthA: number;
  /** Terminal at which the current leaves the element. */
  readonly leavesAt: number;
}

/** Flows through all branches, sources, closed switches and CTs that carry current. */
export function elementFlowsOf(fault: FaultState, flows: TerminalCurrents): ElementFlow[] {
  const { network, topology, lag, level } = fault.assembly;
  const list: ElementFlow[] = [];
  const note = (element: ElementId, components: SequenceCurrents, node: number, forward: number, backward: number) => {
    const phases = toPhases(components);
    // Seen in the phase position of the fault, a current towards it lies within 90° of the fault current.
    const unturned = rotate(components.positive, lag[node] - lag[fault.node]);
    const { positive } = fault.components;
    const leavesAt = unturned.re * positive.re + unturned.im * positive.im >= 0 ? forward : backward;
    const currentA = largestPhase(phases);
    const atFaultA = (currentA * level[node]) / level[fault.node];
    list.push({ element, components, currentA, atFaultA, earthA: magnitude(phases.residual), leavesAt });
  };
  for (const [key, components] of flows) {
    const [element, terminal] = splitKey(key);
    const kind = network.elements.get(element)!.kind;
    const isBranch = kind === 'line' || kind === 'transformer' || kind === 'seriesReactor';
    if (isBranch && terminal === 1) continue;
    note(element, components, topology.nodeOf.get(key)!, terminal, isBranch ? 1 - terminal : terminal);
  }
  for (const node of topology.nodes) {
    if (!node.wires.length) continue;
    const drawn = drawnAt(fault, node.index);
    if (!drawn && !node.terminals.some((key) => flows.has(key))) continue;
    for (const [element, components] of throughCurrents(node, flows, drawn))
      if (network.elements.get(element)!.kind !== 'connection') note(element, components, node.index, 1, 0);
  }
  return list;
}

/** Current through one switch or CT during a fault, from its terminal 0 to 1; null in a ring of switches or where it is open. */
export function throughElementOf(
  fault: FaultState,
  flows: TerminalCurrents,
  element: ElementId,
): SequenceCurrents | null {
  const { topology } = fault.assembly;
  const index = topology.nodeAt(element, 0);
  if (index === undefined || index !== topology.nodeAt(element, 1)) return null;
  const node = topology.nodes[index];
  const drawn = drawnAt(fault, index);
  return throughCurrents(node, flows, drawn).get(element) ?? null;
}

/** The fault current where it leaves the wiring of a node. */
const drawnAt = (fault: FaultState, node: number) =>
  fault.at !== null && node === fault.node ? { at: fault.at, current: fault.components } : undefined;
