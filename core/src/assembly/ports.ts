/**
 * Where something is put into a sequence network and where something is read: nodes, points inside lines, breaks at the terminals of
 * elements. A port answers to what is put in at itself and at others: answer = H·excitation.
 */
import { add, multiply, scale, subtract, zero, type Complex } from '../linear/complex';
import { entry } from '../linear/dense';
import type { ElementId } from '../model/fields';
import { betweenSections, groupAdmittance, sectionImpedances } from './coupling';
import { terminalRow, unitInjection, type NodeValues, type SequenceNetwork, type Sparse } from './sequenceNetwork';

/** Of one sequence network, with what is put in and read there. */
export interface SequencePort {
  readonly inject: Sparse;
  readonly sense: Sparse;
  /** Answer to its own excitation past the nodes. */
  readonly own: Complex;
  /** Inside a line: branch and fraction from its end a. */
  readonly inside?: { readonly branch: number; readonly fraction: number; readonly section: readonly Complex[] };
  /** At a break: the element and its terminal. */
  readonly broken?: { readonly element: ElementId; readonly terminal: number };
}

/** Excitation: amperes into the node; answer: its voltage. */
export const nodePort = (node: number): SequencePort =>
  (nodePorts[node] ??= { inject: unitInjection(node), sense: unitInjection(node), own: zero });

/** They depend on the number of the node alone, and a table asks for each in every condition. */
const nodePorts: SequencePort[] = [];

/**
 * A point inside a line at a fraction of its length from end a. Excitation: amperes into the point; answer: its voltage. With the
 * section impedances E from the point to end b (own and mutual) and the group's admittance Y, the branch currents are
 * i = Y·(drop − E·I), so that V = Vb + Eᵀ·i + S·I.
 */
export function linePort(network: SequenceNetwork, element: ElementId, fraction: number): SequencePort | null {
  const branch = network.series.findIndex((each) => each.element === element);
  if (branch < 0) return null;
  const section = sectionImpedances(network, branch, fraction);
  const { members, y } = groupAdmittance(network, branch);
  const weights: Sparse = { node: [network.series[branch].b], re: [1], im: [0] };
  const put = (node: number, value: Complex) => {
    weights.node.push(node);
    weights.re.push(value.re);
    weights.im.push(value.im);
  };
  const shares = members.map((_, i) => section.reduce((sum, e, j) => add(sum, multiply(entry(y, i, j), e)), zero));
  members.forEach((member, i) => {
    put(network.series[member].a, shares[i]);
    put(network.series[member].b, scale(shares[i], -1));
  });
  const drawn = section.reduce((sum, e, i) => add(sum, multiply(e, shares[i])), zero);
  const own = subtract(betweenSections(network, [branch, fraction], [branch, fraction]), drawn);
  return { inject: weights, sense: weights, own, inside: { branch, fraction, section } };
}

/**
 * A break between a node and the terminal of an element. Excitation: the voltage across it, node minus terminal; answer: the current through it into the
 * element.
 */
export function breakPort(network: SequenceNetwork, element: ElementId, terminal: number): SequencePort {
  const { sense, inject, own } = terminalRow(network, element, terminal);
  return { inject, sense, own: scale(own, -1), broken: { element, terminal } };
}

/** Answers of all ports to the excitation of each. */
export function portResponse(network: SequenceNetwork, ports: readonly SequencePort[]): Complex[][] {
  const nodes = [...new Set(ports.flatMap(({ inject, sense }) => [...inject.node, ...sense.node]))];
  const z = network.inverse()?.between(nodes);
  const place = new Map(nodes.map((node, k) => [node, k]));
  const throughNodes = ({ sense }: SequencePort, { inject }: SequencePort): Complex => {
    let sum = zero;
    if (!z) return sum;
    sense.node.forEach((p, i) =>
      inject.node.forEach((q, j) => {
        const weight = multiply({ re: sense.re[i], im: sense.im[i] }, { re: inject.re[j], im: inject.im[j] });
        sum = add(sum, multiply(weight, entry(z, place.get(p)!, place.get(q)!)));
      }),
    );
    return sum;
  };
  return ports.map((port, i) =>
    ports.map((other, j) => add(throughNodes(port, other), i === j ? port.own : pastNodes(network, port, other))),
  );
}

/** What one port answers to another's excitation without the nodes: two points inside lines of one group. */
function pastNodes(network: SequenceNetwork, port: SequencePort, other: SequencePort): Complex {
  const [p, q] = [port.inside, other.inside];
  if (!p || !q) return zero;
  const { members, y } = groupAdmittance(network, p.branch);
  if (!members.includes(q.branch)) return zero;
  let drawn = zero;
  p.section.forEach((e, i) =>
    q.section.forEach((f, j) => {
      drawn = add(drawn, multiply(e, multiply(entry(y, i, j), f)));
    }),
  );
  return subtract(betweenSections(network, [p.branch, p.fraction], [q.branch, q.fraction]), drawn);
}

/** Sum of a port's weights in a floating part: how far its common voltage moves the answer. */
export function weightIn(network: SequenceNetwork, weights: Sparse, part: number): Complex {
  let sum = zero;
  weights.node.forEach((node, k) => {
    if (network.floating[node] === part) sum = add(sum, { re: weights.re[k], im: weights.im[k] });
  });
  return sum;
}

/** target += factor·values. */
export function addScaled(target: NodeValues, values: NodeValues, factor: Complex): void {
  const { re, im } = factor;
  if (re === 0 && im === 0) return;
  for (let k = 0; k < target.re.length; k++) {
    target.re[k] += re * values.re[k] - im * values.im[k];
    target.im[k] += re * values.im[k] + im * values.re[k];
  }
}
