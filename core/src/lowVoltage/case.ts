/** Circuits of a network with everything that they are judged by, as bare data: with other values it is another case, as a proposal tries it. */
import { drivingPoint } from '../assembly/sequenceNetwork';
import { faultAtPlace, sourceVoltageAt, terminalPlace, type Iec60909Study } from '../faults/iec60909/study';
import { solidFault } from '../faults/kinds';
import type { FoundCircuit, Way } from '../circuits/find';
import type { Complex } from '../linear/complex';
import type { Condition } from '../model/condition';
import type { Consumer, Installation } from '../model/circuit';
import type { ElementId } from '../model/fields';
import { inState } from '../model/state';
import { find, settingsOf } from '../model/network';
import type { AsynchronousMotor } from '../model/sources';
import type { Switch } from '../model/switching';
import type { Studies } from '../studies/studies';
import { atHeat, cableCase, type CableCase } from './cable';
import { boardsOf, consumerOf, demandSum, heaviest, installationOf, type Demand } from './demand';
import { guardsOf, type Guard } from './guards';

/** What the network gives at a place in one condition: volts to neutral with c, ohms. */
export interface Feeding {
  readonly condition: ElementId;
  readonly faultCase: 'max' | 'min';
  readonly sourceV: number;
  readonly z1: Complex;
  readonly z2: Complex;
  /** Null: no current flows to earth; undefined: not known. */
  readonly z0: Complex | null | undefined;
}

/** A way to one end of a circuit. */
export interface WayCase {
  readonly end: ElementId;
  /** Of the circuit's cables, by their place in the list, from the board on. */
  readonly cables: readonly number[];
  readonly isBoard: boolean;
  readonly consumer: Consumer;
  readonly demand: Demand;
  readonly motor: AsynchronousMotor | null;
  readonly guards: readonly Guard[];
  /** At the end; by condition in which it is supplied. */
  readonly feeding: readonly Feeding[];
}

export interface CableOnWay {
  readonly cable: CableCase;
  /** Amperes in service in the phase that carries most. */
  readonly designA: number;
  readonly cosPhi: number;
  readonly sinPhi: number;
  /** Devices before it, from the board on. */
  readonly guards: readonly Guard[];
}

export interface CircuitCase {
  readonly circuit: FoundCircuit;
  readonly installation: Installation;
  readonly unV: number;
  readonly frequencyHz: number;
  readonly isSinglePhase: boolean;
  readonly hasSockets: boolean;
  readonly demand: Demand;
  readonly cables: readonly CableOnWay[];
  readonly ways: readonly WayCase[];
  readonly guards: readonly Guard[];
  readonly switches: readonly Switch[];
  /** At the board; by condition in which it is supplied. */
  readonly feeding: readonly Feeding[];
  /** Voltage drop from the origin to the board, percent. */
  readonly upstreamPercent: number;
}

/** Nothing in it has corrections or voltages of its own at a place. */
const isOwn = (study: Iec60909Study) => study.converters === null && study.units().size === 0;

function feedingAt(study: Iec60909Study, condition: ElementId, element: ElementId, terminal: number): Feeding | null {
  const { topology, supplied, positive, negative, zero } = study.assembly;
  const node = topology.nodeAt(element, terminal);
  if (node === undefined || !supplied[node] || topology.nodes[node].nominalKv === null) return null;
  const isGap = zero.gapsAt(node).length > 0;
  if (isOwn(study)) {
    const z1 = drivingPoint(positive, node);
    const z2 = negative === positive ? z1 : drivingPoint(negative, node);
    if (!z1 || !z2) return null;
    const z0 = isGap ? undefined : drivingPoint(zero, node);
    return { condition, faultCase: study.faultCase, sourceV: sourceVoltageAt(study, node), z1, z2, z0 };
  }
  // Converters raise the voltage, and power-station units have corrections of their own.
  const place = terminalPlace(element, terminal);
  const found = faultAtPlace(study, place, solidFault('3ph'));
  if (!found.ok) return null;
  const { fault } = found;
  const toEarth = isGap ? null : faultAtPlace(study, place, solidFault('1ph'));
  return {
    condition,
    faultCase: study.faultCase,
    sourceV: fault.sourceV + fault.raisedV,
    z1: fault.z1,
    z2: fault.z2,
    z0: isGap ? undefined : toEarth?.ok ? toEarth.fault.z0 : null,
  };
}

/** Makes the case of a circuit in some conditions; what boards have in common is found once. */
export function caseMaker(studies: Studies, conditions: readonly Condition[]): (circuit: FoundCircuit) => CircuitCase {
  const { network } = studies;
  const inAll = conditions.map((condition) => ({
    condition: condition.id,
    study: studies.iec60909(inState(condition)),
  }));
  const feeding = (element: ElementId): Feeding[] =>
    inAll.flatMap(({ condition, study }) => feedingAt(study, condition, element, 0) ?? []);
  const atBoards = new Map<ElementId, Feeding[]>();
  const boards = boardsOf(network);
  const drops = new Map<ElementId, number>();
  const { frequencyHz } = settingsOf(network);

  const upstreamOf = (board: ElementId): number => {
    const known = drops.get(board);
    if (known !== undefined) return known;
    drops.set(board, 0);
    const feeder = boards.fedBy.get(board);
    const way = feeder?.ways.find(({ end }) => end === board);
    let drop = 0;
    if (feeder && way) {
      const u0 = (1000 * find(network, 'bus', board)!.nominalKv) / Math.sqrt(3);
      const list = cablesOf(feeder, u0);
      drop =
        upstreamOf(feeder.board) +
        list
          .filter(({ cable }) => way.cables.includes(cable.element))
          .reduce((sum, each) => sum + dropOver(each, u0, false), 0);
    }
    drops.set(board, drop);
    return drop;
  };

  const cablesOf = (circuit: FoundCircuit, u0: number): CableOnWay[] =>
    circuit.cables.flatMap((id): CableOnWay[] => {
      const line = find(network, 'line', id);
      if (!line) return [];
      const behind = circuit.ways.filter(({ cables }) => cables.includes(id));
      const demand = demandSum(behind.map(({ end }) => boards.demandBehind(end)));
      const { ampere, cosPhi, sinPhi } = heaviest(demand, u0);
      const guards = guardsOf(network, before(behind[0], id));
      return [{ cable: cableCase(line), designA: ampere, cosPhi, sinPhi, guards }];
    });

  return (circuit) => {
    const bus = find(network, 'bus', circuit.board)!;
    const unV = 1000 * bus.nominalKv;
    const u0 = unV / Math.sqrt(3);
    const consumers = circuit.ends.flatMap((id) => {
      const element = network.elements.get(id)!;
      return element.kind === 'bus' ? [] : [consumerOf(element)];
    });
    const isSinglePhase = consumers.length > 0 && !circuit.isFeeder && isOnePhase(consumers);
    const cables = cablesOf(circuit, u0);
    let atBoard = atBoards.get(circuit.board);
    if (!atBoard) atBoards.set(circuit.board, (atBoard = feeding(circuit.board)));
    return {
      circuit,
      installation: installationOf(network, circuit.board),
      unV,
      frequencyHz,
      isSinglePhase,
      hasSockets: consumers.some(({ use }) => use === 'sockets'),
      demand: demandSum(circuit.ends.map((end) => boards.demandBehind(end))),
      cables,
      ways: circuit.ways.map(({ end, cables: own, run }) => {
        const element = network.elements.get(end)!;
        return {
          end,
          cables: own.map((id) => cables.findIndex(({ cable }) => cable.element === id)),
          isBoard: element.kind === 'bus',
          consumer: consumerOf(element),
          demand: boards.demandBehind(end),
          motor: element.kind === 'asynchronousMotor' ? element : null,
          guards: guardsOf(network, run),
          feeding: feeding(end),
        };
      }),
      guards: guardsOf(network, circuit.switches),
      switches: circuit.switches.flatMap((id) => find(network, 'switch', id) ?? []),
      feeding: atBoard,
      upstreamPercent: upstreamOf(circuit.board),
    };
  };
}

const isOnePhase = (consumers: readonly Consumer[]): boolean =>
  consumers.every(({ phases }) => phases !== 'three') && new Set(consumers.map(({ phases }) => phases)).size === 1;

/** What comes on a way before one of its cables: a guard behind a cable does not end a fault in it. */
const before = ({ run }: Way, cable: ElementId): readonly ElementId[] => run.slice(0, run.indexOf(cable));

/** Percent of the voltage to neutral over one cable in service: I·(R·cos φ + X·sin φ), twice for one phase and neutral. */
export function dropOver({ cable, designA, cosPhi, sinPhi }: CableOnWay, u0: number, isSinglePhase: boolean): number {
  const { re, im } = atHeat(cable.phase, cable, 'service');
  return (100 * (isSinglePhase ? 2 : 1) * designA * (re * cosPhi + im * sinPhi)) / u0;
}

/** Index of the main cable, the longest; −1 without any. */
export const mainOf = ({ cables }: Pick<CircuitCase, 'cables'>): number =>
  cables.reduce((p, { cable }, k) => (p < 0 || cable.lengthM > cables[p].cable.lengthM ? k : p), -1);
