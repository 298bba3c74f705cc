/** Zero-sequence mutual impedances of lines on common towers, from the coupling elements of the model. */
import { add, scale, zero, type Complex } from '../linear/complex';
import { addTo, denseMatrix, type DenseMatrix } from '../linear/dense';
import type { Line, LineCoupling } from '../model/branches';
import { find, ofKind, type Network } from '../model/network';
import type { Problem } from '../model/problem';
import { mutualImpedance } from '../sequence/lineConstants';
import type { Coupling, SequenceNetwork } from './sequenceNetwork';

/** Couplings between lines that are both in use; problems: stretches that do not fit, missing data. */
export function couplingsOf(network: Network, frequencyHz: number): { couplings: Coupling[]; problems: Problem[] } {
  const couplings: Coupling[] = [];
  const problems: Problem[] = [];
  for (const coupling of ofKind(network, 'lineCoupling')) {
    const first = find(network, 'line', coupling.first);
    const second = find(network, 'line', coupling.second);
    if (!first || !second) continue;
    const say = (message: string, field: string) =>
      problems.push({
        severity: 'error',
        code: 'coupling.data',
        message: `${coupling.name}: ${message}`,
        element: coupling.id,
        field,
      });
    if (first.id === second.id) {
      say('a line cannot be coupled with itself', 'second');
      continue;
    }
    const beyond = [
      [first, coupling.firstFromKm, 'firstFromKm'],
      [second, coupling.secondFromKm, 'secondFromKm'],
    ] as const;
    const tooLong = beyond.find(([line, from]) => from + coupling.lengthKm > line.lengthKm * (1 + 1e-9));
    if (tooLong) {
      say(`the common length reaches beyond the end of ${tooLong[0].name}`, tooLong[2]);
      continue;
    }
    const z = perKilometre(coupling, first, second, network, frequencyHz);
    if (!z) {
      say('the mutual impedance is neither given nor known from a common tower', 'x0mOhmPerKm');
      continue;
    }
    const [p, q] = [coupling.firstFromKm / first.lengthKm, coupling.secondFromKm / second.lengthKm];
    const [pLength, qLength] = [coupling.lengthKm / first.lengthKm, coupling.lengthKm / second.lengthKm];
    couplings.push({
      element: coupling.id,
      first: first.id,
      second: second.id,
      // Each circuit of one line sees all of the other's: z·Σ(i/n) = z·i, however many share the current.
      z: scale(z, coupling.opposite ? -coupling.lengthKm : coupling.lengthKm),
      firstFrom: p,
      firstTo: p + pLength,
      // Counted from the second line's other end when the lines run against each other.
      secondFrom: coupling.opposite ? 1 - q : q,
      secondTo: coupling.opposite ? 1 - q - qLength : q + qLength,
    });
  }
  return { couplings, problems };
}

function perKilometre(
  coupling: LineCoupling,
  first: Line,
  second: Line,
  network: Network,
  frequencyHz: number,
): Complex | null {
  if (coupling.r0mOhmPerKm !== null && coupling.x0mOhmPerKm !== null)
    return { re: coupling.r0mOhmPerKm, im: coupling.x0mOhmPerKm };
  const tower = first.tower !== null && first.tower === second.tower ? find(network, 'tower', first.tower) : undefined;
  return tower ? mutualImpedance(tower, first.towerCircuit, second.towerCircuit, frequencyHz) : null;
}

/** Part of a coupled stretch, 0 to 1, that lies between a point of a line and the line's end b. `from`, `to`: the stretch on this line. */
function beyondPoint(fraction: number, from: number, to: number): [number, number] {
  const u = Math.min(Math.max((fraction - from) / (to - from), 0), 1);
  return to > from ? [u, 1] : [0, u];
}

/**
 * Impedances between a section of one branch (from `fraction` to its end b) and the whole of each branch of its group, in the group's order:
 * the column E of a fault inside a line. Without a group: the one branch itself.
 */
export function sectionImpedances(network: SequenceNetwork, branch: number, fraction: number): Complex[] {
  const group = network.groups[network.groupOf[branch]];
  const own = scale(network.weight(network.series[branch]), 1 - fraction);
  if (!group) return [own];
  return group.members.map((member) => {
    if (member === branch) return own;
    return mutualOf(network, branch, member).reduce((sum, { z, from, to }) => {
      const [u0, u1] = beyondPoint(fraction, from, to);
      return add(sum, scale(z, u1 - u0));
    }, zero);
  });
}

/**
 * Mutual impedance of two sections, each from its point to its branch's end b; the own impedance when both lie on one branch. Faults inside a line of several
 * circuits are on one and the same of them: it has n times the impedance z of the line, and with what it carries alone, n·z·(1 − max(x, y) − (1 − x)·(1 − y)), it
 * stands before what all circuits share.
 */
export function betweenSections(
  network: SequenceNetwork,
  [p, x]: readonly [number, number],
  [q, y]: readonly [number, number],
): Complex {
  if (p === q) {
    const { circuits } = network.series[p];
    const common = 1 - Math.max(x, y);
    const alone = common - (1 - x) * (1 - y);
    return scale(network.weight(network.series[p]), common + (circuits - 1) * alone);
  }
  return mutualOf(network, p, q).reduce((sum, { z, from, to, otherFrom, otherTo }) => {
    const [u0, u1] = beyondPoint(x, from, to);
    const [v0, v1] = beyondPoint(y, otherFrom, otherTo);
    return add(sum, scale(z, Math.max(Math.min(u1, v1) - Math.max(u0, v0), 0)));
  }, zero);
}

function mutualOf(network: SequenceNetwork, branch: number, other: number) {
  const [p, q] = [network.series[branch].element, network.series[other].element];
  return network.couplings.flatMap((c) => {
    if (c.first === p && c.second === q)
      return [{ z: c.z, from: c.firstFrom, to: c.firstTo, otherFrom: c.secondFrom, otherTo: c.secondTo }];
    if (c.first === q && c.second === p)
      return [{ z: c.z, from: c.secondFrom, to: c.secondTo, otherFrom: c.firstFrom, otherTo: c.firstTo }];
    return [];
  });
}

/** Admittance matrix of a branch's group, or of the branch alone. */
export function groupAdmittance(
  network: SequenceNetwork,
  branch: number,
): { members: readonly number[]; y: DenseMatrix } {
  const group = network.groups[network.groupOf[branch]];
  if (group) return group;
  const y = denseMatrix(1);
  const z = network.weight(network.series[branch]);
  const size = z.re * z.re + z.im * z.im;
  addTo(y, 0, 0, size < 1e-18 ? { re: 1e9, im: 0 } : { re: z.re / size, im: -z.im / size });
  return { members: [branch], y };
}
