/** Currents everywhere during a fault: out of each element into the node at each of its terminals, as symmetrical components. */
import { add, multiply, scale, subtract, zero, type Complex } from '../../linear/complex';
import { entry } from '../../linear/dense';
import { kinds } from '../../model/element';
import { terminalKey, type TerminalKey } from '../../model/topology';
import type { Assembly } from '../../assembly/assemble';
import { groupAdmittance } from '../../assembly/coupling';
import type { ElementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import {
  admittance,
  branchEntries,
  indicesOf,
  valueAt,
  type NodeValues,
  type SequenceNetwork,
} from '../../assembly/sequenceNetwork';
import { turned, type SequenceCurrents, type SequenceValues } from '../../sequence/components';
import { sequences, type Sequence, type Solution } from './solve';

/** Current that flows out of an element into the node at this terminal. */
export type TerminalCurrents = ReadonlyMap<TerminalKey, SequenceCurrents> & {
  /** Of power-station units the generator's own share of the current at its terminals; the rest comes through the unit transformer. */
  readonly generators?: ReadonlyMap<ElementId, SequenceCurrents>;
};

/**
 * Terminal currents of all elements that carry any, from the change of the node voltages and what was put in. Angles are those of the place itself: a
 * current beyond a transformer is turned by its vector group. `injected`: currents of converters, in the phase position of the parts' first nodes.
 */
export function terminalCurrents(
  assembly: Assembly,
  solution: Solution,
  injected: readonly { readonly key: TerminalKey; readonly node: number; readonly current: Complex }[] = [],
): TerminalCurrents {
  const flows = new Map<TerminalKey, { node: number; values: Record<Sequence, Complex> }>();
  const note = (sequence: Sequence, key: TerminalKey, node: number, current: Complex) => {
    let flow = flows.get(key);
    if (!flow) flows.set(key, (flow = { node, values: { positive: zero, negative: zero, zero } }));
    flow.values[sequence] = add(flow.values[sequence], current);
  };
  for (const sequence of sequences)
    walk(assembly, sequence, solution, (key, node, current) => note(sequence, key, node, current));
  for (const { key, node, current } of injected) note('positive', key, node, current);
  const fromFault = (node: number) => assembly.lag[node] - assembly.lag[solution.reference];
  const turnedFlows = new Map<TerminalKey, SequenceCurrents>();
  for (const [key, { node, values }] of flows) turnedFlows.set(key, turned(values, fromFault(node)));
  const generators = new Map<ElementId, SequenceCurrents>();
  for (const { id } of ofKind(assembly.network, 'powerStationUnit')) {
    const node = assembly.topology.nodeAt(id, 1)!;
    const [positive, negative, homopolar] = sequences.map((sequence) =>
      generatorCurrent(assembly, solution, sequence, id),
    );
    generators.set(id, turned({ positive, negative, zero: homopolar }, fromFault(node)));
  }
  return Object.assign(turnedFlows, { generators });
}

/** Out of the machine behind terminal 1 of a unit; nought where it has no path. */
function generatorCurrent(assembly: Assembly, solution: Solution, sequence: Sequence, unit: ElementId): Complex {
  const network = assembly[sequence];
  return indicesOf(network.shunts, unit)
    .map((k) => network.shunts[k])
    .filter(({ terminal }) => terminal === 1)
    .reduce((sum, shunt) => {
      const into = multiply(admittance(network.weight(shunt)), valueAt(solution.change[sequence], shunt.node));
      return subtract(sum, into);
    }, zero);
}

type Visit = (key: TerminalKey, node: number, outOfElement: Complex) => void;

function walk(assembly: Assembly, sequence: Sequence, solution: Solution, visit: Visit): void {
  const network = assembly[sequence];
  const change = solution.change[sequence];
  if (isStill(change) && solution.excitations.every((each) => isNought(each[sequence]))) return;
  const terminals = (element: string) => kinds[assembly.network.elements.get(element as never)!.kind].terminals;
  const emit = (element: NetworkElement, local: number, node: number, into: Complex) => {
    if (local < terminals(element)) visit(terminalKey(element, local), node, scale(into, -1));
  };
  const breaks = solution.ports.flatMap((port, k) =>
    port[sequence].broken ? [{ ...port[sequence].broken, volts: solution.excitations[k][sequence] }] : [],
  );
  /** Voltage at an element's own local node: that of the node less what stands across a break. */
  const voltage = (element: NetworkElement, local: number, node: number): Complex => {
    let v = valueAt(change, node);
    for (const each of breaks) if (each.element === element && each.terminal === local) v = subtract(v, each.volts);
    return v;
  };
  const handled = new Set<number>();
  network.series.forEach((branch, k) => {
    const inside = putInside(solution, sequence, k);
    if (network.groupOf[k] < 0 && inside.length === 0) {
      const [va, vb] = [voltage(branch.element, branch.from, branch.a), voltage(branch.element, branch.to, branch.b)];
      const { aa, ab, ba, bb } = branchEntries(branch, admittance(network.weight(branch)));
      emit(branch.element, branch.from, branch.a, add(multiply(aa, va), multiply(ab, vb)));
      emit(branch.element, branch.to, branch.b, add(multiply(ba, va), multiply(bb, vb)));
      return;
    }
    if (handled.has(k)) return;
    groupCurrents(network, solution, sequence, k, voltage).forEach(({ member, current, putIn }) => {
      handled.add(member);
      const own = network.series[member];
      emit(own.element, own.from, own.a, current);
      emit(own.element, own.to, own.b, scale(add(current, putIn), -1));
    });
  });
  for (const shunt of network.shunts) {
    const v = voltage(shunt.element, shunt.terminal, shunt.node);
    emit(shunt.element, shunt.terminal, shunt.node, multiply(admittance(network.weight(shunt)), v));
  }
}

type NetworkElement = SequenceNetwork['series'][number]['element'];

/** Excitations inside a branch. */
const putInside = (solution: Solution, sequence: Sequence, branch: number) =>
  solution.ports.flatMap((port, k) => {
    const { inside } = port[sequence];
    return inside?.branch === branch ? [{ ...inside, current: solution.excitations[k][sequence] }] : [];
  });

/** Branch currents of a coupled group, or of one branch with a fault inside: i = Y·(drop − Σ E·I). */
function groupCurrents(
  network: SequenceNetwork,
  solution: Solution,
  sequence: Sequence,
  branch: number,
  voltage: (element: NetworkElement, local: number, node: number) => Complex,
) {
  const { members, y } = groupAdmittance(network, branch);
  const inside = members.map((member) => putInside(solution, sequence, member));
  const drops = members.map((member, i) => {
    const own = network.series[member];
    let drop = subtract(voltage(own.element, own.from, own.a), voltage(own.element, own.to, own.b));
    for (const list of inside)
      for (const { section, current } of list) drop = subtract(drop, multiply(section[i], current));
    return drop;
  });
  return members.map((member, i) => ({
    member,
    current: drops.reduce((sum, drop, j) => add(sum, multiply(entry(y, i, j), drop)), zero),
    putIn: inside[i].reduce((sum, { current }) => add(sum, current), zero),
  }));
}

const isNought = ({ re, im }: Complex) => re === 0 && im === 0;
const isStill = ({ re, im }: NodeValues) => re.every((value) => value === 0) && im.every((value) => value === 0);

/** Voltages at a node during the fault, phase to earth, in its own phase position; `before` as in {@link Prefault}. */
export function nodeVoltages(assembly: Assembly, solution: Solution, node: number, before: Complex): SequenceValues {
  const values = {
    positive: add(before, valueAt(solution.change.positive, node)),
    negative: valueAt(solution.change.negative, node),
    zero: valueAt(solution.change.zero, node),
  };
  return turned(values, assembly.lag[node] - assembly.lag[solution.reference]);
}
