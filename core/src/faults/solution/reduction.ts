/**
 * The hand calculation of an impedance: series and parallel combination from the sources to the fault, written out step by
 * step. Where the network is meshed the nodal solution stands in, and says so.
 */
import { add, divide, inverse, magnitude, multiply, scale, subtract, zero, type Complex } from '../../linear/complex';
import { entry } from '../../linear/dense';
import type { Names } from '../names';
import { formula, quantityOf, type Quantity, type Trace } from '../../working/trace';
import { groupAdmittance } from '../../assembly/coupling';
import {
  admittance,
  branchEntries,
  unitInjection,
  valueAt,
  type NetworkSeries,
  type SequenceNetwork,
} from '../../assembly/sequenceNetwork';

type ComplexQuantity = Quantity & { readonly value: Complex };

/** Writes the steps that lead to the impedance seen from `node`; null when no current can flow there. `prefix` is Z1 or Z0. */
export function reduceToNode(
  network: SequenceNetwork,
  node: number,
  prefix: string,
  names: Names,
  trace: Trace,
): ComplexQuantity | null {
  if (network.floating[node] >= 0) return null;
  const column = network.solve(unitInjection(node));
  const voltage = (k: number): Complex => (network.floating[k] >= 0 ? zero : valueAt(column, k));
  const groups = groupsByNode(network);
  const bridges = findBridges(network.nodeCount, groups, node);
  for (const [k, branch] of network.series.entries())
    if (!standsAlone(network, k, groups)) bridges.delete(edgeKey(branch.a, branch.b));
  const strongest = magnitude(voltage(node));

  /** Impedance of everything at `at` but what lies towards `from`. */
  const seenFrom = (at: number, from: number): ComplexQuantity | null => {
    const infeeds: ComplexQuantity[] = [];
    for (const shunt of network.shunts)
      if (shunt.node === at)
        infeeds.push(
          quantityOf(
            `${prefix} ${names.element(shunt.element)}`,
            { re: shunt.rOhm, im: shunt.xOhm },
            'Ω',
          ) as ComplexQuantity,
        );
    let meshedCurrent = zero;
    let meshed = false;
    for (const [far, branches] of groups[at] ?? []) {
      if (far === from) continue;
      const into = branches.reduce((sum, branch) => add(sum, currentInto(network, branch, at, voltage)), zero);
      if (magnitude(into) * strongest < 1e-12) continue;
      if (!bridges.has(edgeKey(at, far))) {
        meshed = true;
        meshedCurrent = add(meshedCurrent, into);
        continue;
      }
      const beyond = seenFrom(far, at);
      const own = parallelBranches(network, branches, at, prefix, names, trace);
      if (beyond) infeeds.push(inSeries(own, beyond, branches[0], at, prefix, names, trace));
      // A path through the branch only, when the far side has no source of its own, cannot carry current here.
    }
    if (meshed) {
      const z = divide(scale(voltage(at), -1), meshedCurrent);
      infeeds.push(
        trace.step(
          `${prefix} mesh at ${names.node(at)}`,
          [quantityOf('nodal solution', z, 'Ω')],
          z,
          'Ω',
          undefined,
          'meshed part, from the nodal equations',
        ),
      );
    }
    if (infeeds.length <= 1) return infeeds[0] ?? null;
    const parts = infeeds.flatMap((z, k) => [...(k === 0 ? formula`1 / ${z}` : formula` + 1 / ${z}`)]);
    const total = inverse(infeeds.reduce((sum, z) => add(sum, inverse(z.value)), zero));
    return trace.step(`${prefix} at ${names.node(at)}`, ['1 / (', ...parts, ')'], total, 'Ω', undefined, 'in parallel');
  };
  const seen = seenFrom(node, -1);
  return seen ? trace.step(prefix, formula`${seen}`, seen.value, 'Ω', 'IEC 60909-0, 5.3.2') : null;
}

type Groups = Map<number, NetworkSeries[]>[];

function groupsByNode(network: SequenceNetwork): Groups {
  const groups: Groups = Array.from({ length: network.nodeCount }, () => new Map());
  for (const branch of network.series) {
    if (network.floating[branch.a] >= 0 || branch.a === branch.b) continue;
    for (const [near, far] of [
      [branch.a, branch.b],
      [branch.b, branch.a],
    ]) {
      const list = groups[near].get(far);
      if (list) list.push(branch);
      else groups[near].set(far, [branch]);
    }
  }
  return groups;
}

const edgeKey = (a: number, b: number) => (a < b ? `${a}-${b}` : `${b}-${a}`);

/** Edges whose removal parts the network (Tarjan), with parallel branches taken as one edge; without recursion. */
function findBridges(count: number, groups: Groups, start: number): Set<string> {
  const bridges = new Set<string>();
  const entered = new Int32Array(count).fill(-1);
  const lowest = new Int32Array(count);
  let time = 0;
  const stack: { node: number; from: number; rest: Iterator<number> }[] = [];
  const enter = (node: number, from: number) => {
    entered[node] = lowest[node] = time++;
    stack.push({ node, from, rest: groups[node].keys() });
  };
  enter(start, -1);
  while (stack.length > 0) {
    const top = stack[stack.length - 1];
    const next = top.rest.next();
    if (!next.done) {
      if (next.value === top.from) continue;
      if (entered[next.value] >= 0) lowest[top.node] = Math.min(lowest[top.node], entered[next.value]);
      else enter(next.value, top.node);
      continue;
    }
    stack.pop();
    if (top.from < 0) continue;
    lowest[top.from] = Math.min(lowest[top.from], lowest[top.node]);
    if (lowest[top.node] > entered[top.from]) bridges.add(edgeKey(top.node, top.from));
  }
  return bridges;
}

/** Current out of a branch into the node `at`. */
function currentInto(
  network: SequenceNetwork,
  branch: NetworkSeries,
  at: number,
  voltage: (k: number) => Complex,
): Complex {
  const index = network.series.indexOf(branch);
  if (network.groupOf[index] >= 0) {
    const { members, y } = groupAdmittance(network, index);
    const row = members.indexOf(index);
    const current = members.reduce((sum, member, j) => {
      const { a, b } = network.series[member];
      return add(sum, multiply(entry(y, row, j), subtract(voltage(a), voltage(b))));
    }, zero);
    return at === branch.b ? current : scale(current, -1);
  }
  const { aa, ab, ba, bb } = branchEntries(branch, admittance({ re: branch.rOhm, im: branch.xOhm }));
  const [va, vb] = [voltage(branch.a), voltage(branch.b)];
  return scale(at === branch.b ? add(multiply(ba, va), multiply(bb, vb)) : add(multiply(aa, va), multiply(ab, vb)), -1);
}

/** Whether a branch can be combined by hand: not coupled, or coupled only with the one beside it between the same nodes. */
function standsAlone(network: SequenceNetwork, k: number, groups: Groups): boolean {
  const group = network.groups[network.groupOf[k]];
  if (!group) return true;
  const { a, b } = network.series[k];
  const beside = groups[a].get(b) ?? [];
  return (
    group.members.length === 2 && beside.length === 2 && group.members.every((m) => beside.includes(network.series[m]))
  );
}

/** Impedance of the branches between two nodes in ohms of the side `at`. */
function parallelBranches(
  network: SequenceNetwork,
  branches: NetworkSeries[],
  at: number,
  prefix: string,
  names: Names,
  trace: Trace,
): ComplexQuantity {
  const each = branches.map((branch) => {
    const own = quantityOf(
      `${prefix} ${names.element(branch.element)}`,
      { re: branch.rOhm, im: branch.xOhm },
      'Ω',
    ) as ComplexQuantity;
    if (at === branch.b || Math.abs(branch.ratio) === 1) return own;
    const ratio = quantityOf('t', branch.ratio);
    return trace.step(
      `${own.symbol} (HV side)`,
      formula`${own} · ${ratio}^2`,
      scale(own.value, branch.ratio ** 2),
      'Ω',
    );
  });
  if (each.length === 1) return each[0];
  const label = branches.map((branch) => names.element(branch.element)).join(' ∥ ');
  const group = network.groups[network.groupOf[network.series.indexOf(branches[0])]];
  if (group) {
    // Lines that run against each other between the same nodes have their ends the other way round.
    const sign = branches[0].a === branches[1].a ? 1 : -1;
    const zm = quantityOf('Zm', scale(entry(group.z, 0, 1), sign), 'Ω') as ComplexQuantity;
    const [p, q] = each;
    const value = divide(
      subtract(multiply(p.value, q.value), multiply(zm.value, zm.value)),
      subtract(add(p.value, q.value), scale(zm.value, 2)),
    );
    return trace.step(
      `${prefix} ${label}`,
      formula`(${p} · ${q} - ${zm} · ${zm}) / (${p} + ${q} - 2 · ${zm})`,
      value,
      'Ω',
      undefined,
      'in parallel, with their mutual impedance',
    );
  }
  const parts = each.flatMap((z, k) => [...(k === 0 ? formula`1 / ${z}` : formula` + 1 / ${z}`)]);
  const value = inverse(each.reduce((sum, z) => add(sum, inverse(z.value)), zero));
  return trace.step(`${prefix} ${label}`, ['1 / (', ...parts, ')'], value, 'Ω');
}

function inSeries(
  own: ComplexQuantity,
  beyond: ComplexQuantity,
  branch: NetworkSeries,
  at: number,
  prefix: string,
  names: Names,
  trace: Trace,
): ComplexQuantity {
  const symbol = `${prefix} at ${names.node(at)} through ${names.element(branch.element)}`;
  if (Math.abs(branch.ratio) === 1)
    return trace.step(symbol, formula`${own} + ${beyond}`, add(own.value, beyond.value), 'Ω');
  const ratio = quantityOf('t', branch.ratio);
  return at === branch.b
    ? trace.step(
        symbol,
        formula`${own} + ${beyond} / ${ratio}^2`,
        add(own.value, scale(beyond.value, 1 / branch.ratio ** 2)),
        'Ω',
      )
    : trace.step(
        symbol,
        formula`${own} + ${beyond} · ${ratio}^2`,
        add(own.value, scale(beyond.value, branch.ratio ** 2)),
        'Ω',
      );
}
