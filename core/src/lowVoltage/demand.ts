/** What consumers, circuits and boards of low voltage draw in service: watts and vars of each phase. */
import { usualConsumer, type Consumer } from '../model/circuit';
import type { Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, type Network } from '../model/network';
import { usualInstallation } from '../model/circuit';
import { ratedMvaOf } from '../sequence/asynchronousMotor';
import { circuitsIn, type FoundCircuit } from '../circuits/find';

type Three = readonly [number, number, number];

/** W and var of L1, L2, L3. */
export interface Demand {
  readonly p: Three;
  readonly q: Three;
}

export const noDemand: Demand = { p: [0, 0, 0], q: [0, 0, 0] };

export const demandSum = (list: readonly Demand[], factor = 1): Demand => {
  const sum = (of: (demand: Demand) => Three) =>
    [0, 1, 2].map((k) => factor * list.reduce((total, each) => total + of(each)[k], 0)) as unknown as Three;
  return { p: sum(({ p }) => p), q: sum(({ q }) => q) };
};

/** Amperes in each phase at a voltage to neutral. */
export const phaseAmperes = ({ p, q }: Demand, u0: number): Three =>
  [0, 1, 2].map((k) => Math.hypot(p[k], q[k]) / u0) as unknown as Three;

/** The phase that carries most, with its power factor; 1 where nothing flows. */
export function heaviest(
  demand: Demand,
  u0: number,
): { readonly ampere: number; readonly cosPhi: number; readonly sinPhi: number } {
  const amperes = phaseAmperes(demand, u0);
  const k = amperes.indexOf(Math.max(...amperes));
  const s = Math.hypot(demand.p[k], demand.q[k]);
  return s === 0
    ? { ampere: 0, cosPhi: 1, sinPhi: 0 }
    : { ampere: amperes[k], cosPhi: demand.p[k] / s, sinPhi: demand.q[k] / s };
}

export const consumerOf = (element: Element): Consumer =>
  'circuit' in element && element.circuit ? element.circuit : usualConsumer;

/** W and var at full size, of all phases; null for what is no consumer. */
function power(element: Element): readonly [p: number, q: number] | null {
  const of = (va: number, cosPhi: number, sign = 1) => [va * cosPhi, sign * va * Math.sqrt(1 - cosPhi ** 2)] as const;
  switch (element.kind) {
    case 'load':
      return of(1e6 * element.ratedMva, element.powerFactor, element.reactive === 'leading' ? -1 : 1);
    case 'asynchronousMotor':
      return of(1e6 * ratedMvaOf(element) * element.count, element.powerFactor);
    case 'staticDrive':
      return of(1e6 * element.ratedMva, element.powerFactor);
    case 'rectifier':
      return of(
        ((element.type === 'bridge' ? 1.35 * element.acV : element.floatV) * element.ratedA) /
          ((element.efficiencyPercent / 100) * element.powerFactor),
        element.powerFactor,
      );
    case 'shunt':
      return [0, (element.type === 'capacitor' ? -1e6 : 1e6) * element.ratedMvar];
    default:
      return null;
  }
}

/** What a consumer draws in service: the share of its size that its demand says. */
export function demandOf(element: Element): Demand {
  const size = power(element);
  if (!size) return noDemand;
  const { phases, demandPercent } = consumerOf(element);
  const [p, q] = size.map((each) => (each * demandPercent) / 100);
  if (phases === 'three') return { p: [p / 3, p / 3, p / 3], q: [q / 3, q / 3, q / 3] };
  const k = ['L1', 'L2', 'L3'].indexOf(phases);
  const at = (value: number) => [0, 1, 2].map((each) => (each === k ? value : 0)) as unknown as Three;
  return { p: at(p), q: at(q) };
}

export const installationOf = (network: Network, board: ElementId) =>
  find(network, 'bus', board)?.installation ?? usualInstallation;

export interface Boards {
  readonly circuits: ReadonlyMap<ElementId, readonly FoundCircuit[]>;
  /** The circuit that feeds a board from another one. */
  readonly fedBy: ReadonlyMap<ElementId, FoundCircuit>;
  /** What the circuits of a board draw together, by its coincidence. */
  demandAt(board: ElementId): Demand;
  /** What is behind a way: a consumer, or the board at its end. */
  demandBehind(end: ElementId): Demand;
}

const shares = new WeakMap<Network, ReadonlyMap<ElementId, number>>();

/** How much more than the mean of the three flows in the phase that carries most, at a switch of a circuit: the load flow knows the mean alone. 1 elsewhere. */
export function heaviestShare(network: Network, through: ElementId): number {
  let found = shares.get(network);
  if (!found) {
    const map = new Map<ElementId, number>();
    const { circuits, demandBehind } = boardsOf(network);
    for (const circuit of [...circuits.values()].flat()) {
      const [p, q, r] = phaseAmperes(demandSum(circuit.ends.map(demandBehind)), 1);
      const mean = (p + q + r) / 3;
      if (mean > 0) for (const id of circuit.switches) map.set(id, Math.max(p, q, r) / mean);
    }
    shares.set(network, (found = map));
  }
  return found.get(through) ?? 1;
}

const known = new WeakMap<Network, Boards>();

/** Boards with circuits, and what they draw. */
export function boardsOf(network: Network): Boards {
  let boards = known.get(network);
  if (!boards) known.set(network, (boards = made(network)));
  return boards;
}

function made(network: Network): Boards {
  const circuits = new Map<ElementId, FoundCircuit[]>();
  const fedBy = new Map<ElementId, FoundCircuit>();
  for (const circuit of circuitsIn(network)) {
    const list = circuits.get(circuit.board);
    if (list) list.push(circuit);
    else circuits.set(circuit.board, [circuit]);
    for (const end of circuit.ends) if (find(network, 'bus', end) && !fedBy.has(end)) fedBy.set(end, circuit);
  }
  const demands = new Map<ElementId, Demand>();
  const demandAt = (board: ElementId): Demand => {
    const before = demands.get(board);
    if (before) return before;
    // Boards that feed each other in a ring count once.
    demands.set(board, noDemand);
    const list = (circuits.get(board) ?? []).flatMap(({ ends }) => ends.map(demandBehind));
    const demand = demandSum(list, installationOf(network, board).coincidencePercent / 100);
    demands.set(board, demand);
    return demand;
  };
  const demandBehind = (end: ElementId): Demand => {
    const element = network.elements.get(end)!;
    return element.kind === 'bus' ? demandAt(end) : demandOf(element);
  };
  return { circuits, fedBy, demandAt, demandBehind };
}
