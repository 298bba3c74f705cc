/** Newton's method on a system with its machines: who holds angle and voltage, reactive limits, what is without supply. */
import type { ElementId } from '../model/fields';
import type { SparseMatrix } from '../linear/matrix';
import type { Holder } from './demands';
import { givenReactive, newton, powers, type NewtonResult, type PowerProblem, type PowerState } from './newton';
import type { PowerSystem } from './system';

export interface Solving {
  /** Off: reactive limits are not heeded. */
  readonly control: boolean;
  /** Where the search begins; all at nominal voltage without. Nodes without voltage there begin at nominal voltage. */
  readonly start?: PowerState;
  /** The matrix and the connected parts of the network where it differs from the system's: with an element out. */
  readonly instead?: { readonly matrix: SparseMatrix; readonly part: Int32Array; readonly out: ElementId };
}

export interface SolvedFlow {
  readonly newton: NewtonResult;
  readonly iterations: number;
  /** Per unit; nought without supply. */
  readonly state: PowerState;
  readonly matrix: SparseMatrix;
  readonly slacks: ReadonlySet<Holder>;
  readonly limited: ReadonlyMap<ElementId, 'min' | 'max'>;
  readonly dead: Uint8Array;
}

/** Rounds of setting machines to their limits and letting them go again. */
const mostRounds = 12;

export function solveFlow(system: PowerSystem, { control, start, instead }: Solving): SolvedFlow {
  const { base, baseMva, jacobian, assembly } = system;
  const matrix = instead?.matrix ?? system.matrix;
  const part = instead?.part ?? assembly.part;
  const remains = ({ element }: { element: ElementId }) => element !== instead?.out;
  const holders = instead ? system.holders.filter(remains) : system.holders;
  const demands = instead ? system.demands.filter(remains) : system.demands;
  const n = matrix.n;
  const slacks = system.fixed.length > 0 ? new Set<Holder>() : slacksOf(part, holders);
  const dead = deadNodes(n, part, [
    ...[...slacks].map(({ node }) => node),
    ...system.fixed.map(({ terminal }) => terminal),
  ]);
  const state: PowerState = { v: new Float64Array(n).fill(1), theta: new Float64Array(n) };
  if (start)
    for (let k = 0; k < Math.min(n, start.v.length); k++)
      if (start.v[k] > 0) [state.v[k], state.theta[k]] = [start.v[k], start.theta[k]];

  const type = new Uint8Array(n).fill(2);
  const [p, q] = [new Float64Array(n), new Float64Array(n)];
  const follows = demands.some(({ behaves }) => behaves === 'constantCurrent');
  const [pLinear, qLinear] = follows ? [new Float64Array(n), new Float64Array(n)] : [undefined, undefined];
  for (const { node, mva, behaves } of demands)
    if (behaves === 'constantCurrent' && !dead[node]) {
      pLinear![node] -= mva.re / baseMva;
      qLinear![node] -= mva.im / baseMva;
    }
  const limited = new Map<ElementId, 'min' | 'max'>();
  const givenPowers = () => {
    type.fill(2);
    p.fill(0);
    q.fill(0);
    for (let k = 0; k < n; k++) if (dead[k]) [type[k], state.v[k]] = [0, 0];
    for (const { node, volts } of system.fixed) {
      type[node] = 0;
      state.v[node] = (Math.hypot(volts.re, volts.im) * Math.sqrt(3)) / (base[node] * 1000);
      state.theta[node] = Math.atan2(volts.im, volts.re);
    }
    for (const { node, mva, behaves } of demands)
      if (behaves === 'constantPower' && !dead[node]) {
        p[node] -= mva.re / baseMva;
        q[node] -= mva.im / baseMva;
      }
    for (const holder of holders) {
      const { node, kv, activeMw } = holder;
      if (dead[node]) continue;
      if (slacks.has(holder)) {
        type[node] = 0;
        state.v[node] = kv / base[node];
        state.theta[node] = 0;
        continue;
      }
      p[node] += activeMw / baseMva;
      const stuck = limited.get(holder.element);
      if (stuck) q[node] += (stuck === 'min' ? holder.minMvar! : holder.maxMvar!) / baseMva;
      else if (type[node] === 2) {
        type[node] = 1;
        state.v[node] = kv / base[node];
      }
    }
  };
  const problem: PowerProblem = { matrix, symbolic: undefined, type, p, q, pLinear, qLinear, jacobian };
  let solved: NewtonResult;
  let iterations = 0;
  for (let round = 1; ; round++) {
    givenPowers();
    solved = newton(problem, state);
    iterations += solved.iterations;
    if (!solved.ok || !control || round === mostRounds) break;
    if (!heedLimits(holders, slacks, limited, problem, state, system)) break;
  }
  return { newton: solved, iterations, state, matrix, slacks, limited, dead };
}

/** Feeders hold angle and voltage; in a part without one the largest machine that holds a voltage takes their place. */
function slacksOf(part: Int32Array, holders: readonly Holder[]): Set<Holder> {
  const slacks = new Set(holders.filter((holder) => holder.role === 'slack'));
  const supplied = new Set([...slacks].map(({ node }) => part[node]));
  for (const holder of [...holders].sort((p, q) => q.ratedMva - p.ratedMva))
    if (!supplied.has(part[holder.node])) {
      supplied.add(part[holder.node]);
      slacks.add(holder);
    }
  return slacks;
}

/** What hangs together with none of these nodes. */
function deadNodes(n: number, part: Int32Array, alive: readonly number[]): Uint8Array {
  const live = new Set(alive.map((node) => part[node]));
  return Uint8Array.from({ length: n }, (_, k) => (k >= part.length || live.has(part[k]) ? 0 : 1));
}

/** Machines beyond a reactive limit are set to it, those at a limit whose voltage says so are let go; true when anything changed. */
function heedLimits(
  holders: readonly Holder[],
  slacks: ReadonlySet<Holder>,
  limited: Map<ElementId, 'min' | 'max'>,
  problem: PowerProblem,
  state: PowerState,
  { base, baseMva }: PowerSystem,
): boolean {
  let put: ReturnType<typeof powers> | null = null;
  let changed = false;
  for (const holder of holders) {
    if (slacks.has(holder) || (holder.minMvar === null && holder.maxMvar === null)) continue;
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
    put ??= powers(problem.matrix, state);
    const given = (put.q[node] - givenReactive(problem, state, node)) * baseMva;
    if (maxMvar !== null && given > maxMvar + 1e-6) limited.set(element, 'max');
    else if (minMvar !== null && given < minMvar - 1e-6) limited.set(element, 'min');
    else continue;
    changed = true;
  }
  return changed;
}
