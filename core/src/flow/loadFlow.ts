/**
 * Load flow: Newton–Raphson with slack feeders, machines that hold a voltage within reactive limits, given powers, constant-impedance
 * loads, tap changers that hold a voltage, and phase-shifting transformers.
 */
import { add, magnitude, multiply, polar, scale, zero, type Complex } from '../linear/complex';
import { nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { networkOf, settingsOf, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { kinds } from '../model/element';
import { terminalKey, type TerminalKey } from '../model/topology';
import type { Tap, ThreeWindingTransformer, Transformer } from '../model/branches';
import { assemble, type Assembly, type VoltageFactor } from '../assembly/assemble';
import {
  admittance,
  branchEntries,
  buildSequenceNetwork,
  type NodeValues,
  type SequenceNetwork,
} from '../assembly/sequenceNetwork';
import type { FaultCase } from '../sequence/stamp';
import { demandsOf, type Demand, type Holder } from './demands';
import { newton, powers, type PowerProblem, type PowerState } from './newton';

export interface LoadFlowOptions {
  readonly faultCase?: FaultCase;
  readonly voltageFactor: VoltageFactor;
  /** Off: taps stay where they are, reactive limits are not heeded. */
  readonly control?: boolean;
}

export interface LoadFlow {
  readonly converged: boolean;
  readonly iterations: number;
  /** Network as it runs, with the taps that were found. */
  readonly assembly: Assembly;
  /** Passive part of the network: branches, capacitances, shunts and constant-impedance loads. */
  readonly passive: SequenceNetwork;
  /** Phase-to-neutral volts at every node, in the phase position of the part's first node; nought without supply. */
  readonly voltages: NodeValues;
  /** Currents from the node into every element that carries any, amperes, same phase position. */
  readonly currents: ReadonlyMap<TerminalKey, Complex>;
  readonly holders: readonly (Holder & { readonly mva: Complex; readonly atLimit: 'min' | 'max' | null })[];
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
  const { demands, holders } = demandsOf(assembly);
  const passive = passiveNetwork(assembly, demands);
  const base = basesOf(assembly);
  const sBase = settingsOf(network).baseMva;
  const problems: Problem[] = [];

  const type = new Uint8Array(assembly.nodeCount).fill(2);
  const p = new Float64Array(assembly.nodeCount);
  const q = new Float64Array(assembly.nodeCount);
  const state: PowerState = {
    v: new Float64Array(assembly.nodeCount).fill(1),
    theta: new Float64Array(assembly.nodeCount),
  };
  if (before && before.assembly.nodeCount === assembly.nodeCount && before.converged)
    for (let k = 0; k < assembly.nodeCount; k++) {
      const [re, im] = [before.voltages.re[k], before.voltages.im[k]];
      if (re === 0 && im === 0) continue;
      state.v[k] = (Math.hypot(re, im) * Math.sqrt(3)) / (base[k] * 1000);
      state.theta[k] = Math.atan2(im, re);
    }
  const slackOf = chooseSlacks(assembly, holders, problems);
  const limited = new Map<ElementId, 'min' | 'max'>();
  const dead = deadNodes(assembly, slackOf);
  const givenPowers = () => {
    type.fill(2);
    p.fill(0);
    q.fill(0);
    for (let k = 0; k < assembly.nodeCount; k++)
      if (dead[k]) {
        type[k] = 0;
        state.v[k] = 0;
      }
    for (const { node, mva, asImpedance } of demands)
      if (!asImpedance) {
        p[node] -= mva.re / sBase;
        q[node] -= mva.im / sBase;
      }
    for (const holder of holders) {
      const { node, kv, activeMw } = holder;
      if (dead[node]) continue;
      if (slackOf.has(holder)) {
        type[node] = 0;
        state.v[node] = kv / base[node];
        state.theta[node] = 0;
        continue;
      }
      p[node] += activeMw / sBase;
      const stuck = limited.get(holder.element);
      if (stuck) q[node] += (stuck === 'min' ? holder.minMvar! : holder.maxMvar!) / sBase;
      else if (type[node] === 2) {
        type[node] = 1;
        state.v[node] = kv / base[node];
      }
    }
  };
  const matrix = perUnit(passive.matrix(false), base, sBase);
  const problem: PowerProblem = { matrix, symbolic: passive.symbolic, type, p, q };
  let solved = { ok: false, iterations: 0, mismatch: Infinity } as ReturnType<typeof newton>;
  let iterations = 0;
  for (let round = 0; round < 12; round++) {
    givenPowers();
    solved = newton(problem, state);
    iterations += solved.iterations;
    if (!solved.ok || !control || !heedLimits(holders, slackOf, limited, problem, state, sBase, base)) break;
  }
  if (!solved.ok) problems.push(notConverged(assembly, solved, sBase));
  for (const [id, end] of limited) {
    const element = network.elements.get(id)!;
    problems.push({
      severity: 'warning',
      code: 'flow.limit',
      message: `${nameOf(element)} gives its ${end === 'max' ? 'most' : 'least'} reactive power and no longer holds its voltage`,
      element: id,
    });
  }
  const voltages = { re: new Float64Array(assembly.nodeCount), im: new Float64Array(assembly.nodeCount) };
  for (let k = 0; k < assembly.nodeCount; k++) {
    const volts = (state.v[k] * base[k] * 1000) / Math.sqrt(3);
    voltages.re[k] = volts * Math.cos(state.theta[k]);
    voltages.im[k] = volts * Math.sin(state.theta[k]);
  }
  const put = powers(matrix, state);
  const held = holdersWithPower(holders, demands, limited, slackOf, put, sBase, dead);
  return {
    converged: solved.ok,
    iterations,
    assembly,
    passive,
    voltages,
    currents: currentsOf(assembly, passive, voltages, demands, held, base),
    holders: held,
    demands,
    taps: new Map(),
    problems,
  };
}

/** Branches, capacitances and shunts as they are, sources left out, constant-impedance loads put in. */
function passiveNetwork(assembly: Assembly, demands: readonly Demand[]): SequenceNetwork {
  const shunts = assembly.positive.shunts.filter((shunt) => shunt.role !== 'source');
  for (const { element, terminal, node, mva, asImpedance } of demands) {
    const kv = assembly.topology.nodes[node]?.nominalKv;
    if (!asImpedance || !kv) continue;
    const size = (kv * kv) / (mva.re ** 2 + mva.im ** 2);
    const z = { rOhm: size * mva.re, xOhm: size * mva.im };
    shunts.push({ element, terminal, node, role: 'passive', ...z, rPeakOhm: z.rOhm });
  }
  return buildSequenceNetwork({ ...assembly.positive, shunts });
}

/** Base voltage of every node in kV: nominal where known, by ratios else. */
function basesOf({ topology, nodeCount, level, part }: Assembly): Float64Array {
  const scaleOf = new Map<number, number>();
  for (const node of topology.nodes)
    if (node.nominalKv !== null && !scaleOf.has(part[node.index]))
      scaleOf.set(part[node.index], node.nominalKv / level[node.index]);
  return Float64Array.from(
    { length: nodeCount },
    (_, k) => topology.nodes[k]?.nominalKv ?? (scaleOf.get(part[k]) ?? 1) * level[k],
  );
}

function perUnit(matrix: ReturnType<SequenceNetwork['matrix']>, base: Float64Array, sBase: number) {
  const { columnStart, row, n } = matrix;
  const re = matrix.re.slice();
  const im = matrix.im.slice();
  for (let j = 0; j < n; j++)
    for (let k = columnStart[j]; k < columnStart[j + 1]; k++) {
      const factor = (base[row[k]] * base[j]) / sBase;
      re[k] *= factor;
      im[k] *= factor;
    }
  return { ...matrix, re, im };
}

/** Feeders hold angle and voltage; in a part without one the largest machine that holds a voltage takes their place. */
function chooseSlacks(assembly: Assembly, holders: readonly Holder[], problems: Problem[]): Set<Holder> {
  const slacks = new Set(holders.filter((holder) => holder.role === 'slack'));
  const { part, topology } = assembly;
  const supplied = new Set([...slacks].map(({ node }) => part[node]));
  for (const holder of [...holders].sort((p, q) => q.ratedMva - p.ratedMva))
    if (!supplied.has(part[holder.node])) {
      supplied.add(part[holder.node]);
      slacks.add(holder);
    }
  for (const node of topology.nodes)
    if (!supplied.has(part[node.index]))
      for (const bus of node.buses)
        problems.push({
          severity: 'warning',
          code: 'flow.noSlack',
          message: `${bus.name} has no network feeder and no machine that holds a voltage in its part of the network`,
          element: bus.id,
        });
  return slacks;
}

function deadNodes({ part, nodeCount }: Assembly, slacks: ReadonlySet<Holder>): Uint8Array {
  const alive = new Set([...slacks].map(({ node }) => part[node]));
  return Uint8Array.from({ length: nodeCount }, (_, k) => (alive.has(part[k]) ? 0 : 1));
}

/** Machines beyond a reactive limit are set to it, those at a limit whose voltage says so are let go; true when anything changed. */
function heedLimits(
  holders: readonly Holder[],
  slacks: ReadonlySet<Holder>,
  limited: Map<ElementId, 'min' | 'max'>,
  problem: PowerProblem,
  state: PowerState,
  sBase: number,
  base: Float64Array,
): boolean {
  const put = powers(problem.matrix, state);
  let changed = false;
  for (const holder of holders) {
    if (slacks.has(holder)) continue;
    const { node, minMvar, maxMvar, kv, element } = holder;
    const stuck = limited.get(element);
    if (stuck) {
      const above = state.v[node] > kv / base[node];
      if ((stuck === 'max' && above) || (stuck === 'min' && !above)) {
        limited.delete(element);
        changed = true;
      }
      continue;
    }
    const given = (put.q[node] - problem.q[node]) * sBase;
    if (maxMvar !== null && given > maxMvar + 1e-6) limited.set(element, 'max');
    else if (minMvar !== null && given < minMvar - 1e-6) limited.set(element, 'min');
    else continue;
    changed = true;
  }
  return changed;
}

function notConverged(assembly: Assembly, solved: ReturnType<typeof newton>, sBase: number): Problem {
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
      `the load flow does not converge: after ${solved.iterations} iterations ${(solved.mismatch * sBase).toPrecision(3)} MVA are left at ` +
      `${element ? nameOf(element) : 'a node'}; the load there may be more than the network can carry`,
    element: id,
  };
}

function holdersWithPower(
  holders: readonly Holder[],
  demands: readonly Demand[],
  limited: ReadonlyMap<ElementId, 'min' | 'max'>,
  slacks: ReadonlySet<Holder>,
  put: { p: Float64Array; q: Float64Array },
  sBase: number,
  dead: Uint8Array,
) {
  return holders.map((holder) => {
    const atLimit = limited.get(holder.element) ?? null;
    const beside = holders.filter((other) => other.node === holder.node && !limited.has(other.element));
    const drawn = demands
      .filter((demand) => demand.node === holder.node && !demand.asImpedance)
      .reduce((sum, { mva }) => add(sum, mva), zero);
    const stuck = holders
      .filter((other) => other.node === holder.node && limited.has(other.element))
      .reduce((sum, other) => sum + (limited.get(other.element) === 'min' ? other.minMvar! : other.maxMvar!), 0);
    if (dead[holder.node]) return { ...holder, mva: zero, atLimit };
    const isSlack = slacks.has(holder);
    const others = holders.filter((other) => other.node === holder.node && !slacks.has(other));
    const slacksHere = holders.filter((other) => other.node === holder.node && slacks.has(other));
    const active = isSlack
      ? (put.p[holder.node] * sBase + drawn.re - others.reduce((sum, { activeMw }) => sum + activeMw, 0)) /
        slacksHere.length
      : holder.activeMw;
    const reactive = atLimit
      ? (atLimit === 'min' ? holder.minMvar : holder.maxMvar)!
      : (put.q[holder.node] * sBase + drawn.im - stuck) / beside.length;
    return { ...holder, mva: { re: active, im: reactive }, atLimit };
  });
}

/** Currents into all elements at their terminals: branches and shunts from the voltages, powers by I = (S/3V)*. */
function currentsOf(
  assembly: Assembly,
  passive: SequenceNetwork,
  voltages: NodeValues,
  demands: readonly Demand[],
  holders: LoadFlow['holders'],
  base: Float64Array,
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
  for (const { element, terminal, node, mva, asImpedance } of demands)
    if (!asImpedance) byPower(element, terminal, node, mva);
  for (const { element, terminal, node, mva } of holders) byPower(element, terminal, node, scale(mva, -1));
  return currents;
}

/** Voltage at a node: phase-to-phase kV and angle in its own phase position. */
export function nodeVoltage({ assembly, voltages }: LoadFlow, node: number): { kv: number; angleRad: number } {
  const v = multiply({ re: voltages.re[node], im: voltages.im[node] }, polar(1, -assembly.lag[node]));
  return { kv: (magnitude(v) * Math.sqrt(3)) / 1000, angleRad: Math.atan2(v.im, v.re) };
}
