/**
 * A motor that starts: the network with feeders and machines as constant voltages behind their impedances (machines by their transient reactance, which
 * holds through the first half second, before voltage regulators act), loads as they answer to their voltage, the motor as its impedance with the rotor locked.
 */
import type { NetworkShunt } from '../assembly/sequenceNetwork';
import { add, magnitude, multiply, scale, zero, type Complex } from '../linear/complex';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { find, ofKind, settingsOf, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { demandsOf, type Demand } from './demands';
import { flowOf, loadFlow, type LoadFlow, type LoadFlowOptions } from './loadFlow';
import { impedanceAt, runUp, startingMotor, type RunUp, type StartingMotor } from './motor';
import { solveFlow } from './solving';
import { powerSystem, type InnerVoltage } from './system';

export interface StartOptions extends LoadFlowOptions {
  /** Line current over that of direct starting at the same voltage: 1/3 star–delta, the square of the ratio of a starting transformer. Torque falls alike. */
  readonly reduction?: number;
}

export interface BusDip {
  readonly bus: ElementId;
  readonly name: string;
  readonly nominalKv: number;
  readonly beforePercent: number;
  readonly startPercent: number;
  readonly dipPercent: number;
}

export interface Start {
  readonly motor: StartingMotor;
  readonly before: LoadFlow;
  readonly buses: readonly BusDip[];
  /** Of its rated voltage, with the rotor locked. */
  readonly terminalPercent: number;
  /** From the network, at that voltage. */
  readonly startingA: number;
  /** Of the torque at rated voltage and direct starting. */
  readonly torqueFactor: number;
  /** Null without an inertia. */
  readonly runUp: RunUp | null;
}

export type StartResult = { ok: true; start: Start } | { ok: false; problems: Problem[] };

/** Where the voltage is found anew while the motor runs up. */
const slips = [1, 0.8, 0.6, 0.45, 0.35, 0.25, 0.18, 0.13, 0.09, 0.06, 0.04, 0.025, 0.015, 0.008, 0.004, 0.002, 0.001];

/** One motor of its group starts, the others run on. Problems: no such motor or no supply; no convergence before or during the start. */
export function startMotor(network: Network, id: ElementId, options: StartOptions): StartResult {
  const element = find(network, 'asynchronousMotor', id);
  const refused = (code: string, message: string): StartResult => ({
    ok: false,
    problems: [{ severity: 'error', code, message, element: id }],
  });
  if (!element) return refused('start.motor', 'there is no such motor');
  const { reduction = 1, ...flowOptions } = options;
  const others = (element.count - 1) / element.count;
  const scaled = new Map([...(options.scaled ?? []), [id, (options.scaled?.get(id) ?? 1) * others]]);
  const before = loadFlow(network, { ...flowOptions, scaled });
  if (!before.converged) return { ok: false, problems: before.problems.filter(({ severity }) => severity === 'error') };
  const { assembly } = before;
  const node = assembly.topology.nodeAt(id, 0)!;
  if (before.solved.dead[node]) return refused('supply.none', `${nameOf(element)} is connected to no source`);
  const motor = startingMotor(element, settingsOf(network).frequencyHz);
  const nominalKv = assembly.topology.nodes[node].nominalKv!;
  const inner = innerVoltages(before);
  const behind = new Set(inner.map(({ branch }) => branch.element));
  const { demands } = demandsOf(assembly, scaled);
  const rest = demands.filter((demand) => !behind.has(demand.element));

  const during = (slip: number): LoadFlow => {
    // Power at nominal voltage of the impedance at this slip.
    const z = impedanceAt(motor, slip);
    const size =
      (Math.sqrt(3) * element.ratedKv * motor.startingA * reduction * (nominalKv / element.ratedKv) ** 2) / 1000;
    const square = z.re ** 2 + z.im ** 2;
    const demand: Demand = {
      element: id,
      terminal: 0,
      node,
      mva: { re: (size * z.re) / square, im: (size * z.im) / square },
      behaves: 'constantImpedance',
    };
    const system = powerSystem(assembly, { demands: [...rest, demand], holders: [] }, inner);
    return flowOf(system, solveFlow(system, { control: false, start: before.solved.state }));
  };
  const at = during(1);
  if (!at.converged)
    return refused(
      'start.collapse',
      `the network cannot carry the start of ${nameOf(element)}: the voltage collapses while the other loads keep their power`,
    );
  const terminal = (flow: LoadFlow) => magnitude(voltAt(flow, node)) / ((element.ratedKv * 1000) / Math.sqrt(3));
  const u = terminal(at);
  return {
    ok: true,
    start: {
      motor,
      before,
      buses: dips(before, at),
      terminalPercent: 100 * u,
      startingA: u * motor.startingA * reduction,
      torqueFactor: u ** 2 * reduction,
      runUp:
        motor.inertiaKgM2 === null
          ? null
          : runUp({
              torque: motor.torque,
              load: motor.load,
              inertiaKgM2: motor.inertiaKgM2,
              synchronousRpm: motor.synchronousRpm,
              endSlip: 1.2 * motor.ratedSlip,
              factor: factorOver((slip) => {
                const flow = slip === 1 ? at : during(slip);
                return flow.converged ? terminal(flow) ** 2 * reduction : 0;
              }),
            }),
    },
  };
}

const voltAt = ({ voltages }: LoadFlow, node: number): Complex => ({ re: voltages.re[node], im: voltages.im[node] });

/** The torque factor at some slips, and in between in proportion to the logarithm of slip. */
function factorOver(find: (slip: number) => number): (slip: number) => number {
  const values = new Map<number, number>();
  const valueAt = (k: number) => {
    let value = values.get(k);
    if (value === undefined) values.set(k, (value = find(slips[k])));
    return value;
  };
  return (slip) => {
    const k = Math.max(
      slips.findIndex((each) => each <= slip),
      1,
    );
    const share = Math.log(slips[k - 1] / slip) / Math.log(slips[k - 1] / slips[k]);
    return valueAt(k - 1) + (valueAt(k) - valueAt(k - 1)) * Math.min(Math.max(share, 0), 1);
  };
}

function dips(before: LoadFlow, at: LoadFlow): BusDip[] {
  const { network, topology } = before.assembly;
  return ofKind(network, 'bus').map((bus): BusDip => {
    const node = topology.nodeAt(bus.id, 0)!;
    const percent = (flow: LoadFlow) => (magnitude(voltAt(flow, node)) * Math.sqrt(3)) / (bus.nominalKv * 10);
    const [beforePercent, startPercent] = [percent(before), percent(at)];
    return {
      bus: bus.id,
      name: bus.name,
      nominalKv: bus.nominalKv,
      beforePercent,
      startPercent,
      dipPercent: beforePercent - startPercent,
    };
  });
}

/** Voltages behind the impedances of feeders and machines: E = V + Z·I, with what they gave before. */
function innerVoltages(flow: LoadFlow): InnerVoltage[] {
  const { network, positive, topology } = flow.assembly;
  return positive.shunts.flatMap((shunt): InnerVoltage[] => {
    if (shunt.role !== 'source' || flow.solved.dead[shunt.node]) return [];
    const element = network.elements.get(shunt.element)!;
    const factor = transientRatio(element);
    if (factor === null) return [];
    const [rOhm, xOhm] = [shunt.rOhm, factor * shunt.xOhm];
    const v = voltAt(flow, shunt.node);
    const given = givenBy(flow, shunt);
    // I = conj(S/3V).
    const size = v.re ** 2 + v.im ** 2;
    const s = scale(given, 1e6 / 3 / size);
    const i = { re: s.re * v.re + s.im * v.im, im: s.re * v.im - s.im * v.re };
    const terminals = topology.nodes.length;
    return [
      {
        branch: {
          element: shunt.element,
          from: terminals,
          to: shunt.terminal,
          b: shunt.node,
          rOhm,
          xOhm,
          rPeakOhm: rOhm,
          ratio: 1,
          lag: 0,
          shiftRad: 0,
          circuits: 1,
        },
        volts: add(v, multiply({ re: rOhm, im: xOhm }, i)),
      },
    ];
  });
}

/** Reactance through the first half second over the subtransient one that the network holds; null for what keeps no voltage. */
function transientRatio(element: Element): number | null {
  if (element.kind === 'networkFeeder') return 1;
  const machine =
    element.kind === 'synchronousMachine' ? element : element.kind === 'powerStationUnit' ? element.generator : null;
  if (!machine) return null;
  return machine.xd1Percent === null ? 1 : machine.xd1Percent / machine.xd2Percent;
}

/** Power that a source gives at its terminal, MVA. */
function givenBy({ holders, demands }: LoadFlow, { element, terminal }: NetworkShunt): Complex {
  const held = holders.find((holder) => holder.element === element && holder.terminal === terminal);
  if (held) return held.mva;
  const drawn = demands.find((demand) => demand.element === element && demand.terminal === terminal);
  return drawn ? scale(drawn.mva, -1) : zero;
}
