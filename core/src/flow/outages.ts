/**
 * One element out at a time: the load flow again from the solution with all in service, on the same equations less that element. Taps stay where they
 * stood, as in the first minutes; reactive limits are heeded.
 */
import { partsOf } from '../assembly/connectivity';
import { changeOf } from '../assembly/outage';
import { indicesOf, terminalRow } from '../assembly/sequenceNetwork';
import { entry } from '../linear/dense';
import type { SparseMatrix } from '../linear/matrix';
import { kinds, nameOf, type ElementKind, type LoadLimits } from '../model/element';
import type { ElementId } from '../model/fields';
import { ofKind, settingsOf } from '../model/network';
import type { Problem } from '../model/problem';
import { flowOf, type LoadFlow } from './loadFlow';
import { allowedA, loadRatingOf, voltageBand } from './rating';
import { solveFlow, type SolvedFlow } from './solving';
import type { PowerSystem } from './system';

/** Kinds whose loss is looked at: what carries power to others. A load that is gone asks nothing of the rest. */
export const contingencyKinds: readonly ElementKind[] = [
  'line',
  'transformer',
  'threeWindingTransformer',
  'seriesReactor',
  'networkFeeder',
  'synchronousMachine',
  'powerStationUnit',
  'converterSource',
  'doublyFedMachine',
];

export interface Overload {
  readonly element: ElementId;
  readonly terminal: number;
  readonly ampere: number;
  /** Of what is allowed in an emergency. */
  readonly percent: number;
}

export interface VoltageBeyond {
  readonly bus: ElementId;
  readonly percent: number;
}

export interface Outage {
  readonly element: ElementId;
  readonly name: string;
  readonly kind: ElementKind;
  /** False: no solution was found, for the reason given. */
  readonly converged: boolean;
  readonly problems: readonly Problem[];
  /** Branch that is nearest to its emergency limit, or furthest beyond; null where none with a rating carries anything. */
  readonly heaviest: Overload | null;
  readonly overloads: readonly Overload[];
  readonly lowest: VoltageBeyond | null;
  readonly highest: VoltageBeyond | null;
  readonly beyondBand: readonly VoltageBeyond[];
  /** Buses that lose their supply, and the load that goes with them, in MW. */
  readonly unsupplied: readonly ElementId[];
  readonly lostMw: number;
  /** Machines at a reactive limit. */
  readonly limited: readonly ElementId[];
  /** Nothing is overloaded, beyond its band or without supply. */
  readonly secure: boolean;
}

/** From the gravest to none. */
export const outageVerdicts = ['no solution', 'overload', 'voltage', 'supply lost', 'OK'] as const;

/** What an outage does, in a word. */
export function outageVerdict(outage: Outage): (typeof outageVerdicts)[number] {
  if (!outage.converged) return 'no solution';
  if (outage.overloads.length > 0) return 'overload';
  if (outage.beyondBand.length > 0) return 'voltage';
  return outage.secure ? 'OK' : 'supply lost';
}

/** All elements whose single loss is looked at, in the order of the model. */
export const contingencies = ({ assembly }: LoadFlow): ElementId[] =>
  [...assembly.network.elements.values()]
    .filter(({ kind, id }) => contingencyKinds.includes(kind) && carries(assembly, id))
    .map(({ id }) => id);

const carries = ({ lists, topology }: LoadFlow['assembly'], id: ElementId): boolean =>
  indicesOf(lists.positive.series, id).length > 0 || topology.nodeAt(id, 0) !== undefined;

/** The load flow with one element out; problems as in a load flow. */
export function flowWithout(flow: LoadFlow, element: ElementId, control = true): LoadFlow {
  return flowOf(flow.system, solvedWithout(flow, element, control), element);
}

function solvedWithout({ system, solved }: LoadFlow, element: ElementId, control = true): SolvedFlow {
  const instead = { matrix: matrixWithout(system, element), part: partsWithout(system, element), out: element };
  const attempt = solveFlow(system, { control, start: solved.state, instead });
  // Far from where it was the search may do better from the beginning.
  return attempt.newton.ok ? attempt : solveFlow(system, { control, instead });
}

function matrixWithout({ matrix, passive, base, baseMva }: PowerSystem, element: ElementId): SparseMatrix {
  const { nodes, change } = changeOf(passive, element);
  if (nodes.length === 0) return matrix;
  const { columnStart, row } = matrix;
  const [re, im] = [matrix.re.slice(), matrix.im.slice()];
  nodes.forEach((column, j) => {
    for (let k = columnStart[column]; k < columnStart[column + 1]; k++) {
      const i = nodes.indexOf(row[k]);
      if (i < 0) continue;
      const y = entry(change, i, j);
      const factor = (base[row[k]] * base[column]) / baseMva;
      re[k] += y.re * factor;
      im[k] += y.im * factor;
    }
  });
  return { ...matrix, re, im };
}

function partsWithout({ passive, assembly }: PowerSystem, element: ElementId): Int32Array {
  if (indicesOf(passive.series, element).length === 0) return assembly.part;
  return partsOf(
    passive.nodeCount,
    passive.series.filter((branch) => branch.element !== element),
    [],
  );
}

/** Currents at the rated ends of branches, from the voltages in per unit. */
class RatedEnds {
  private readonly ends: {
    readonly element: ElementId;
    readonly terminal: number;
    readonly allowedA: number;
    readonly node: readonly number[];
    /** Amperes at one per unit. */
    readonly re: readonly number[];
    readonly im: readonly number[];
  }[] = [];

  constructor({ assembly, passive, base }: PowerSystem, limits: LoadLimits) {
    for (const element of assembly.network.elements.values()) {
      if (indicesOf(passive.series, element.id).length === 0) continue;
      for (let terminal = 0; terminal < kinds[element.kind].terminals; terminal++) {
        const rating = loadRatingOf(element, terminal);
        if (!rating) continue;
        const { node, re, im } = terminalRow(passive, element.id, terminal).sense;
        const volts = node.map((k) => (base[k] * 1000) / Math.sqrt(3));
        this.ends.push({
          element: element.id,
          terminal,
          allowedA: allowedA(rating, limits, true),
          node,
          re: re.map((y, k) => y * volts[k]),
          im: im.map((y, k) => y * volts[k]),
        });
      }
    }
  }

  /** The heaviest loaded, and those beyond their limit; `out` carries none. */
  loadings(re: Float64Array, im: Float64Array, out: ElementId): { heaviest: Overload | null; overloads: Overload[] } {
    let heaviest: Overload | null = null;
    // What carries nothing is not loaded.
    const overloads: Overload[] = [];
    for (const end of this.ends) {
      if (end.element === out) continue;
      let [a, b] = [0, 0];
      for (let k = 0; k < end.node.length; k++) {
        const at = end.node[k];
        a += end.re[k] * re[at] - end.im[k] * im[at];
        b += end.re[k] * im[at] + end.im[k] * re[at];
      }
      const ampere = Math.sqrt(a * a + b * b);
      const percent = (100 * ampere) / end.allowedA;
      if (percent <= (heaviest?.percent ?? 0) && percent <= 100) continue;
      const found = { element: end.element, terminal: end.terminal, ampere, percent };
      if (percent > (heaviest?.percent ?? 0)) heaviest = found;
      // Of an element the worse end.
      const before = overloads.at(-1);
      if (percent <= 100) continue;
      if (before?.element !== end.element) overloads.push(found);
      else if (percent > before.percent) overloads[overloads.length - 1] = found;
    }
    return { heaviest, overloads: overloads.sort((p, q) => q.percent - p.percent) };
  }
}

/** Every single outage of a load flow that has converged. Yields the share that is done. */
export function* outages(
  flow: LoadFlow,
  elements: readonly ElementId[] = contingencies(flow),
): Generator<number, Outage[]> {
  const { system, assembly } = flow;
  const { network, topology } = assembly;
  const limits = settingsOf(network).loadLimits;
  const band = voltageBand(limits, true);
  const ends = new RatedEnds(system, limits);
  const buses = ofKind(network, 'bus').map(({ id }) => ({ id, node: topology.nodeAt(id, 0)! }));
  const results: Outage[] = [];
  yield 0;
  for (const [k, id] of elements.entries()) {
    const element = network.elements.get(id)!;
    const solved = solvedWithout(flow, id);
    results.push(resultOf(id));
    yield (k + 1) / elements.length;

    function resultOf(out: ElementId): Outage {
      const common = { element: out, name: nameOf(element), kind: element.kind };
      const gone = buses.filter(({ node }) => solved.dead[node] && !flow.solved.dead[node]);
      const lost = {
        unsupplied: gone.map((bus) => bus.id),
        lostMw: system.demands
          .filter(({ node, mva }) => solved.dead[node] && !flow.solved.dead[node] && mva.re > 0)
          .reduce((sum, { mva }) => sum + mva.re, 0),
        limited: [...solved.limited.keys()],
      };
      if (!solved.newton.ok) {
        const { problems } = flowOf(system, solved, out);
        const nothing = { heaviest: null, overloads: [], lowest: null, highest: null, beyondBand: [] };
        const errors = problems.filter(({ severity }) => severity === 'error');
        return { ...common, converged: false, problems: errors, ...nothing, ...lost, secure: false };
      }
      const { v, theta } = solved.state;
      const re = v.map((size, node) => size * Math.cos(theta[node]));
      const im = v.map((size, node) => size * Math.sin(theta[node]));
      const { heaviest, overloads } = ends.loadings(re, im, out);
      let [lowest, highest]: (VoltageBeyond | null)[] = [null, null];
      const beyondBand: VoltageBeyond[] = [];
      for (const { id: bus, node } of buses) {
        if (solved.dead[node]) continue;
        const percent = 100 * v[node];
        const here = { bus, percent };
        if (!lowest || percent < lowest.percent) lowest = here;
        if (!highest || percent > highest.percent) highest = here;
        if (percent < band.low || percent > band.high) beyondBand.push(here);
      }
      const secure = overloads.length + beyondBand.length + gone.length === 0 && lost.lostMw === 0;
      return {
        ...common,
        converged: true,
        problems: [],
        heaviest,
        overloads,
        lowest,
        highest,
        beyondBand,
        ...lost,
        secure,
      };
    }
  }
  return results;
}
