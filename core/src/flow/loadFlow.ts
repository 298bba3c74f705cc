/**
 * Load flow: Newton–Raphson with slack feeders, machines that hold a voltage within reactive limits, given powers, constant-impedance
 * loads, tap changers that hold a voltage, and phase-shifting transformers.
 */
import { add, multiply, scale, zero, type Complex } from '../linear/complex';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { networkOf, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { kinds } from '../model/element';
import { terminalKey, type TerminalKey } from '../model/topology';
import type { Tap, ThreeWindingTransformer, Transformer } from '../model/branches';
import { assemble, type Assembly, type VoltageFactor } from '../assembly/assemble';
import { admittance, branchEntries, type NodeValues, type SequenceNetwork } from '../assembly/sequenceNetwork';
import type { FaultCase } from '../sequence/stamp';
import { demandsOf, type Demand, type Holder, type Scaled } from './demands';
import { powers } from './newton';
import { solveFlow, type SolvedFlow } from './solving';
import { powerSystem, type PowerSystem } from './system';

export interface LoadFlowOptions {
  readonly faultCase?: FaultCase;
  readonly voltageFactor: VoltageFactor;
  /** Off: taps stay where they are, reactive limits are not heeded. */
  readonly control?: boolean;
  /** Loads multiplied by a factor, for a what-if. */
  readonly scaled?: Scaled;
}

/** What a holder gives. */
export interface Held extends Holder {
  readonly mva: Complex;
  readonly atLimit: 'min' | 'max' | null;
  /** Holds the angle as well: takes the balance. */
  readonly isSlack: boolean;
}

export interface LoadFlow {
  readonly converged: boolean;
  readonly iterations: number;
  /** Network as it runs, with the taps that were found. */
  readonly assembly: Assembly;
  readonly system: PowerSystem;
  readonly solved: SolvedFlow;
  /** Passive part of the network: branches, capacitances, shunts and constant-impedance loads. */
  readonly passive: SequenceNetwork;
  /** Phase-to-neutral volts at every node, in the phase position of the part's first node; nought without supply. */
  readonly voltages: NodeValues;
  /** Currents from the node into every element that carries any, amperes, same phase position. */
  readonly currents: ReadonlyMap<TerminalKey, Complex>;
  readonly holders: readonly Held[];
  readonly demands: readonly Demand[];
  readonly taps: ReadonlyMap<ElementId, number>;
  readonly problems: readonly Problem[];
}

type Regulated = Transformer | ThreeWindingTransformer;
const isRegulated = (element: Element): element is Regulated =>
  (element.kind === 'transformer' || element.kind === 'threeWindingTransformer') &&
  element.tap.side !== 'none' &&
  element.tap.holds !== 'nothing' &&
  element.tap.steps > 0;

const mostTapRounds = 24;

/** Problems: a part without a source that could hold its voltage; no convergence, with the worst bus; taps and reactive power at their limits. */
export function loadFlow(network: Network, options: LoadFlowOptions): LoadFlow {
  const { control = true } = options;
  let current = network;
  let result = solveOnce(current, options, null);
  if (!control) return result;
  const taps = new Map<ElementId, number>();
  for (let round = 0; round < mostTapRounds && result.converged; round++) {
    const moves = tapMoves(result, round);
    if (moves.size === 0) break;
    for (const [id, position] of moves) taps.set(id, position);
    current = withTaps(network, taps);
    result = solveOnce(current, options, result);
  }
  return { ...result, taps, problems: [...result.problems, ...tapProblems(result)] };
}

export function withTaps(network: Network, taps: ReadonlyMap<ElementId, number>): Network {
  return networkOf(
    [...network.elements.values()].map((element) => {
      const position = taps.get(element.id);
      if (position === undefined) return element;
      return { ...element, tap: { ...(element as Regulated).tap, position } } as Element;
    }),
  );
}

/** Steps that bring the held voltages nearest to their targets, from the sensitivity of an unloaded transformer; at most one step late in the search, so that it settles. */
function tapMoves(result: LoadFlow, round: number): Map<ElementId, number> {
  const moves = new Map<ElementId, number>();
  for (const element of result.assembly.network.elements.values()) {
    if (!isRegulated(element)) continue;
    const off = offTarget(result, element);
    if (off === null) continue;
    const { tap } = element;
    const perStep = tap.stepPercent / 100;
    if (perStep === 0 || Math.abs(off) <= 0.55 * perStep) continue;
    // More turns on the side of the changer lower the voltage of the other side, and raise its own.
    const direction = tap.side === tap.holds ? -1 : 1;
    const wanted = Math.round(off / perStep) * direction;
    const bounded = round < 6 ? wanted : Math.sign(wanted);
    const position = Math.max(-tap.steps, Math.min(tap.steps, tap.position + bounded));
    if (position !== tap.position && round < mostTapRounds - 1) moves.set(element.id, position);
  }
  return moves;
}

/** Held voltage above its target, relative; null without voltage. */
function offTarget({ assembly, voltages }: LoadFlow, element: Regulated): number | null {
  const terminal = heldTerminal(element.tap);
  const node = assembly.topology.nodeAt(element.id, terminal)!;
  const kv = assembly.topology.nodes[node].nominalKv;
  const v = Math.hypot(voltages.re[node], voltages.im[node]);
  if (kv === null || v === 0) return null;
  return (v * Math.sqrt(3)) / (kv * 1000) / (element.tap.targetPercent / 100) - 1;
}

const heldTerminal = (tap: Tap): number => (tap.holds === 'hv' ? 0 : 1);

function tapProblems(result: LoadFlow): Problem[] {
  if (!result.converged) return [];
  return [...result.assembly.network.elements.values()].filter(isRegulated).flatMap((element): Problem[] => {
    const off = offTarget(result, element);
    const { tap } = element;
    if (off === null || Math.abs(off) <= (0.75 * tap.stepPercent) / 100 || Math.abs(tap.position) < tap.steps)
      return [];
    return [
      {
        severity: 'warning',
        code: 'flow.tap',
        message: `${nameOf(element)}: the tap changer stands at its end and leaves the voltage ${(off * 100).toFixed(1)} % off its target`,
        element: element.id,
        field: 'tap.position',
      },
    ];
  });
}

function solveOnce(network: Network, options: LoadFlowOptions, before: LoadFlow | null): LoadFlow {
  const { faultCase = 'max', voltageFactor, control = true } = options;
  const assembly = assemble(network, { faultCase, basis: 'operating', voltageFactor });
  const system = powerSystem(assembly, demandsOf(assembly, options.scaled));
  const sameNodes = before?.converged && before.assembly.nodeCount === assembly.nodeCount;
  return flowOf(system, solveFlow(system, { control, start: sameNodes ? before.solved.state : undefined }));
}

/** What a solution means: currents, powers of the machines, what is to be said about it; `out`: an element that was left out. */
export function flowOf(whole: PowerSystem, solved: SolvedFlow, out?: ElementId): LoadFlow {
  const system = out === undefined ? whole : less(whole, out);
  const { assembly, base } = system;
  const { network } = assembly;
  const { state } = solved;
  const problems: Problem[] = unsupplied(assembly, solved);
  if (!solved.newton.ok) problems.push(notConverged(system, solved));
  for (const [id, end] of solved.limited) {
    const element = network.elements.get(id)!;
    problems.push({
      severity: 'warning',
      code: 'flow.limit',
      message: `${nameOf(element)} gives its ${end === 'max' ? 'most' : 'least'} reactive power and no longer holds its voltage`,
      element: id,
    });
  }
  const voltages = { re: new Float64Array(state.v.length), im: new Float64Array(state.v.length) };
  for (let k = 0; k < state.v.length; k++) {
    const volts = (state.v[k] * base[k] * 1000) / Math.sqrt(3);
    voltages.re[k] = volts * Math.cos(state.theta[k]);
    voltages.im[k] = volts * Math.sin(state.theta[k]);
  }
  const holders = holdersWithPower(system, solved);
  return {
    converged: solved.newton.ok,
    iterations: solved.iterations,
    assembly,
    system,
    solved,
    passive: system.passive,
    voltages,
    currents: currentsOf(system, solved, voltages, holders),
    holders,
    demands: system.demands,
    taps: new Map(),
    problems,
  };
}

/** The lists of a system without one element; the equations stay as they were. */
function less(system: PowerSystem, out: ElementId): PowerSystem {
  const rest = <T extends { readonly element: ElementId }>(list: readonly T[]) =>
    list.filter(({ element }) => element !== out);
  const { passive, demands, holders } = system;
  return {
    ...system,
    demands: rest(demands),
    holders: rest(holders),
    passive: { ...passive, series: rest(passive.series), shunts: rest(passive.shunts) },
  };
}

function unsupplied({ topology }: Assembly, { dead }: SolvedFlow): Problem[] {
  return topology.nodes.flatMap(({ index, buses }) =>
    dead[index]
      ? buses.map((bus): Problem => ({
          severity: 'warning',
          code: 'flow.noSlack',
          message: `${bus.name} has no network feeder and no machine that holds a voltage in its part of the network`,
          element: bus.id,
        }))
      : [],
  );
}

function notConverged({ assembly, baseMva }: PowerSystem, { newton: solved }: SolvedFlow): Problem {
  const worst = 'worst' in solved ? solved.worst : 0;
  const node = assembly.topology.nodes[worst];
  const bus = node?.buses[0];
  const key = node?.terminals[0];
  const inner = assembly.innerNodes[worst - assembly.topology.nodes.length];
  const id = bus?.id ?? inner?.element ?? (key?.slice(0, key.lastIndexOf(':')) as ElementId | undefined);
  const element = id && assembly.network.elements.get(id);
  return {
    severity: 'error',
    code: 'flow.diverged',
    message:
      `the load flow does not converge: after ${solved.iterations} iterations ${(solved.mismatch * baseMva).toPrecision(3)} MVA are left at ` +
      `${element ? nameOf(element) : 'a node'}; the load there may be more than the network can carry`,
    element: id,
  };
}

/** A demand at a voltage in per unit: constant impedances stand in the network. */
const drawnAt = ({ mva, behaves }: Demand, v: number): Complex =>
  behaves === 'constantPower' ? mva : behaves === 'constantCurrent' ? scale(mva, v) : zero;

function holdersWithPower({ demands, holders, baseMva }: PowerSystem, solved: SolvedFlow): LoadFlow['holders'] {
  const { slacks, limited, dead, state } = solved;
  const put = powers(solved.matrix, state);
  return holders.map((holder) => {
    const { node } = holder;
    const atLimit = limited.get(holder.element) ?? null;
    if (dead[node]) return { ...holder, mva: zero, atLimit, isSlack: false };
    const here = holders.filter((other) => other.node === node);
    const beside = here.filter((other) => !limited.has(other.element));
    const drawn = demands
      .filter((demand) => demand.node === node)
      .reduce((sum, demand) => add(sum, drawnAt(demand, state.v[node])), zero);
    const stuck = here
      .filter((other) => limited.has(other.element))
      .reduce((sum, other) => sum + (limited.get(other.element) === 'min' ? other.minMvar! : other.maxMvar!), 0);
    const isSlack = slacks.has(holder);
    const others = here.filter((other) => !slacks.has(other));
    const slacksHere = here.filter((other) => slacks.has(other));
    const active = isSlack
      ? (put.p[node] * baseMva + drawn.re - others.reduce((sum, { activeMw }) => sum + activeMw, 0)) / slacksHere.length
      : holder.activeMw;
    const reactive = atLimit
      ? (atLimit === 'min' ? holder.minMvar : holder.maxMvar)!
      : (put.q[node] * baseMva + drawn.im - stuck) / beside.length;
    return { ...holder, mva: { re: active, im: reactive }, atLimit, isSlack };
  });
}

/** Currents into all elements at their terminals: branches and shunts from the voltages, powers by I = (S/3V)*. */
function currentsOf(
  { assembly, passive, demands, base }: PowerSystem,
  { state }: SolvedFlow,
  voltages: NodeValues,
  holders: LoadFlow['holders'],
): Map<TerminalKey, Complex> {
  const currents = new Map<TerminalKey, Complex>();
  const at = (node: number): Complex => ({ re: voltages.re[node], im: voltages.im[node] });
  const note = (element: ElementId, terminal: number, current: Complex) => {
    if (terminal >= kinds[assembly.network.elements.get(element)!.kind].terminals) return;
    const key = terminalKey(element, terminal);
    currents.set(key, add(currents.get(key) ?? zero, current));
  };
  for (const branch of passive.series) {
    const { aa, ab, ba, bb } = branchEntries(branch, admittance(passive.weight(branch)));
    const [va, vb] = [at(branch.a), at(branch.b)];
    note(branch.element, branch.from, add(multiply(aa, va), multiply(ab, vb)));
    note(branch.element, branch.to, add(multiply(ba, va), multiply(bb, vb)));
  }
  for (const shunt of passive.shunts)
    note(shunt.element, shunt.terminal, multiply(admittance(passive.weight(shunt)), at(shunt.node)));
  const byPower = (element: ElementId, terminal: number, node: number, mva: Complex) => {
    const v = at(node);
    const size = v.re ** 2 + v.im ** 2;
    if (size < (base[node] * 1e-6) ** 2) return;
    // I = conj(S / (3·V)).
    const s = scale(mva, 1e6 / 3 / size);
    note(element, terminal, { re: s.re * v.re + s.im * v.im, im: s.re * v.im - s.im * v.re });
  };
  for (const demand of demands)
    if (demand.behaves !== 'constantImpedance')
      byPower(demand.element, demand.terminal, demand.node, drawnAt(demand, state.v[demand.node]));
  for (const { element, terminal, node, mva } of holders) byPower(element, terminal, node, scale(mva, -1));
  return currents;
}
