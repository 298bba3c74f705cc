/** Currents everywhere during a fault: out of each element into the node at each of its terminals, as symmetrical components. */
import { multiply, rotate, zero, type Complex } from '../linear/complex';
import { terminalKey, type TerminalKey } from '../model/topology';
import type { Fault } from './iec60909/study';
import { addCurrents, type Iec60909Study } from './iec60909/study';
import { noCurrents, type SequenceCurrents } from './iec60909/kinds';
import { admittance, impedanceColumn, type SequenceNetwork } from './sequenceNetwork';

/** Current that flows out of an element into the node at this terminal. */
export type TerminalCurrents = ReadonlyMap<TerminalKey, SequenceCurrents>;

/**
 * Terminal currents of all elements that carry any. Angles are those of the place itself: a current beyond a transformer is
 * turned by its vector group, forward in the positive and backward in the negative sequence (IEC 60909-0, 5.3.2).
 */
export function terminalCurrents(study: Iec60909Study, fault: Fault): TerminalCurrents {
  const { positive, negative, zero: homopolar, clock } = study.assembly;
  const flows = new Map<TerminalKey, SequenceCurrents>();
  const turn = (node: number) => (-(clock[node] - clock[fault.node]) * Math.PI) / 6;
  const note = (key: TerminalKey, part: Partial<SequenceCurrents>) =>
    flows.set(key, addCurrents(flows.get(key) ?? noCurrents, { ...noCurrents, ...part }));

  walk(positive, fault.node, fault.components.positive, (key, current, node) =>
    note(key, { positive: rotate(current, turn(node)) }),
  );
  walk(negative, fault.node, fault.components.negative, (key, current, node) =>
    note(key, { negative: rotate(current, -turn(node)) }),
  );
  walk(homopolar, fault.node, fault.components.zero, (key, current) => note(key, { zero: current }));
  return flows;
}

type Visit = (key: TerminalKey, current: Complex, node: number) => void;

function walk(network: SequenceNetwork, faultNode: number, faultCurrent: Complex, visit: Visit): void {
  if (faultCurrent.re === 0 && faultCurrent.im === 0) return;
  const column = impedanceColumn(network, faultNode);
  if (!column) return;
  // The fault draws its current out of the node: voltages of the network with its own sources shorted.
  const voltage = (node: number): Complex => {
    const row = network.rowOf[node];
    if (row < 0) return zero;
    const z = { re: column.re[row], im: column.im[row] };
    const v = multiply(z, faultCurrent);
    return { re: -v.re, im: -v.im };
  };
  for (const branch of network.series) {
    if (network.rowOf[branch.a] < 0) continue;
    const va = voltage(branch.a);
    const vb = voltage(branch.b);
    const drop = { re: va.re / branch.ratio - vb.re, im: va.im / branch.ratio - vb.im };
    const into = multiply(drop, admittance({ re: branch.rOhm, im: branch.xOhm }));
    visit(terminalKey(branch.element, 1), into, branch.b);
    visit(terminalKey(branch.element, 0), { re: -into.re / branch.ratio, im: -into.im / branch.ratio }, branch.a);
  }
  for (const shunt of network.shunts) {
    if (network.rowOf[shunt.node] < 0) continue;
    const v = voltage(shunt.node);
    const y = admittance({ re: shunt.rOhm, im: shunt.xOhm });
    visit(terminalKey(shunt.element, shunt.terminal), multiply({ re: -v.re, im: -v.im }, y), shunt.node);
  }
}
