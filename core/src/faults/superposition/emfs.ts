/** The state before a fault from given voltages behind the impedances of sources: two systems that feed a line, with load between them by their angle. */
import { multiply, subtract, zero, type Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import type { Assembly } from '../../assembly/assemble';
import { admittance, terminalRow, valueAt, weigh, type Sparse } from '../../assembly/sequenceNetwork';
import type { Prefault } from '../solution/solve';

/** `emfs`: phase to earth, in volts, in the phase position of the first node of the part; a source that is not named gives nothing. */
export function emfPrefault({ positive }: Assembly, emfs: ReadonlyMap<ElementId, Complex>): Prefault {
  const sources = positive.shunts.filter(({ role, element }) => role === 'source' && emfs.has(element));
  const injection: Sparse = { node: [], re: [], im: [] };
  const given = new Map<string, Complex>();
  for (const shunt of sources) {
    const current = multiply(admittance(positive.weight(shunt)), emfs.get(shunt.element)!);
    injection.node.push(shunt.node);
    injection.re.push(current.re);
    injection.im.push(current.im);
    given.set(`${shunt.element}:${shunt.terminal}`, current);
  }
  const voltages = positive.solve(injection);
  return {
    voltageAt: (node) => valueAt(voltages, node),
    currentInto: (element, terminal) =>
      subtract(
        weigh(terminalRow(positive, element, terminal).sense, voltages),
        given.get(`${element}:${terminal}`) ?? zero,
      ),
  };
}
