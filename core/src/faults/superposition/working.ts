/** The working of a fault on a load flow: voltage before the fault, impedances at the place, current. */
import { add, magnitude, multiply, scale, type Complex } from '../../linear/complex';
import { unitInjection, valueAt, type SequenceNetwork } from '../../assembly/sequenceNetwork';
import { formula, quantityOf, Trace, type Quantity } from '../../working/trace';
import type { ElementId } from '../../model/fields';
import { elementSections, type Working } from '../solution/elementSections';
import { faultKindTitles, type FaultCondition } from '../kinds';
import { nodeLabel, nodeNames } from '../names';
import { reduceToNode } from '../solution/reduction';
import { prefaultAt, portAt, type Place } from '../solution/solve';
import type { SuperpositionStudy } from './study';

type ComplexQuantity = Quantity & { readonly value: Complex };

/** Null for places inside lines and faults of which there is more than one: their working is the nodal solution. */
export function superpositionWorking(
  study: SuperpositionStudy,
  place: Place,
  condition: FaultCondition,
  carrying: readonly ElementId[],
): Working | null {
  if (place.at !== 'terminal') return null;
  const { assembly, prefault } = study;
  const port = portAt(assembly, place);
  if (!port) return null;
  const trace = new Trace();
  const names = nodeNames(assembly);
  const omitted = elementSections(assembly, carrying, trace);
  trace.section('Voltage before the fault');
  const before = prefaultAt(prefault, port);
  const u = trace.step(
    'U',
    [quantityOf('load flow', scale(before, 1e-3), 'kV')],
    scale(before, 1e-3),
    'kV',
    undefined,
    'phase to neutral',
  );
  const impedance = (symbol: string, network: SequenceNetwork): ComplexQuantity | null => {
    trace.section(`${symbol} at the place, network as it runs`);
    const written = reduceToNode(network, port.node, symbol, names, trace);
    if (written) return written;
    const value = valueAt(network.solve(unitInjection(port.node)), port.node);
    return network.floating[port.node] >= 0 ? null : (quantityOf(symbol, value, 'Ω') as ComplexQuantity);
  };
  const zF = quantityOf('ZF', condition.phaseOhm, 'Ω');
  const zE = quantityOf('ZE', condition.earthOhm, 'Ω');
  const withFault = (z: ComplexQuantity, symbol: string) =>
    trace.step(`${symbol}′`, formula`${z} + ${zF}`, add(z.value, condition.phaseOhm), 'Ω');
  const z1 = impedance('Z1', assembly.positive);
  const z2 = condition.kind === '3ph' ? null : impedance('Z2', assembly.negative);
  const earth = condition.kind === '1ph' || condition.kind === '2phE';
  const z0 = earth ? impedance('Z0', assembly.zero) : null;
  trace.section('Current');
  if (!z1) return null;
  const first = withFault(z1, 'Z1');
  const size = magnitude(before) / 1000;
  if (condition.kind === '3ph') trace.step('I', formula`|${u}| / |${first}|`, size / magnitude(first.value), 'kA');
  else {
    const second = withFault(z2!, 'Z2');
    if (condition.kind === '2ph')
      trace.step(
        'I',
        formula`√(3) · |${u}| / |${first} + ${second}|`,
        (Math.sqrt(3) * size) / magnitude(add(first.value, second.value)),
        'kA',
      );
    else if (!z0) trace.step('3 I0', ['0'], 0, 'kA', undefined, 'no earth path');
    else {
      const homopolar = trace.step(
        'Z0′',
        formula`${z0} + ${zF} + 3 · ${zE}`,
        add(z0.value, add(condition.phaseOhm, scale(condition.earthOhm, 3))),
        'Ω',
      );
      const [a, b, c] = [first.value, second.value, homopolar.value];
      if (condition.kind === '1ph')
        trace.step(
          '3 I0',
          formula`3 · |${u}| / |${first} + ${second} + ${homopolar}|`,
          (3 * size) / magnitude(add(a, add(b, c))),
          'kA',
        );
      else {
        const d = trace.step(
          'D',
          formula`${first} · ${second} + ${first} · ${homopolar} + ${second} · ${homopolar}`,
          add(multiply(a, b), add(multiply(a, c), multiply(b, c))),
          'Ω²',
        );
        trace.step(
          '3 I0',
          formula`3 · |${u}| · |${second}| / |${d}|`,
          (3 * size * magnitude(b)) / magnitude(d.value),
          'kA',
        );
      }
    }
  }
  const title = `${faultKindTitles[condition.kind]} fault at ${nodeLabel(assembly, port.node)}, superposed on the load flow`;
  return { title, sections: trace.sections, omitted };
}
