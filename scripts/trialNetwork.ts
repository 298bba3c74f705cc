/** A made-up network of 500 busbars for trials: a mesh at 132 kV with distance relays, and below it radial feeders at 20 kV with overcurrent relays, 100 devices in all. */
import { newElement } from '../core/src/model/defaults';
import type { Element, ElementOf } from '../core/src/model/element';
import { elementId, type ElementId } from '../core/src/model/fields';
import { currentInput, tripCircuit } from '../core/src/model/protection';
import { newFunction, genericRelays } from '../core/src/protection/overcurrent/library';
import { randomFrom } from '../core/src/test/everyKind';
import { reachNetwork } from './reachNetwork';

const ranges = genericRelays[0].ranges;

/** `feeders` radial feeders of `length` busbars below the mesh. */
export function trialNetwork(lines = 20, feeders = 60, length = 8): Element[] {
  const elements = reachNetwork(lines);
  const random = randomFrom(16);
  const high = elements.filter((each): each is ElementOf<'bus'> => each.kind === 'bus');
  const wire = (a: readonly [ElementId, number], b: readonly [ElementId, number]) =>
    elements.push({
      kind: 'connection',
      id: elementId(`wt${elements.length}`),
      from: { element: a[0], terminal: a[1], at: 0 },
      to: { element: b[0], terminal: b[1], at: 0 },
    });
  const boards = high.map(({ id }, k) => {
    const [transformer, bus] = [elementId(`t${k}`), elementId(`mv${k}`)];
    elements.push(
      newElement('transformer', transformer, `T${k}`, {
        ratedMva: 40,
        hvKv: 132,
        lvKv: 20,
        ukPercent: 12,
        uRPercent: 0.4,
        vectorGroup: 'Dyn11',
        x0OverX1: 1,
        r0OverR1: 1,
        hvNeutral: { earthing: 'isolated', rOhm: 0, xOhm: 0, ratedA: null, ratedS: 10 },
        lvNeutral: { earthing: 'resistor', rOhm: 12, xOhm: 0, ratedA: null, ratedS: 10 },
      }),
      newElement('bus', bus, `MV${k}`, { nominalKv: 20 }),
    );
    wire([id, 0], [transformer, 0]);
    wire([transformer, 1], [bus, 0]);
    return bus;
  });
  for (let f = 0; f < feeders; f++) {
    const name = (what: string) => elementId(`${what}-${f}`);
    const [q, ct] = [name('q'), name('ct')];
    elements.push(
      newElement('switch', q, `Q F${f}`, { ratedA: 630 }),
      newElement('currentTransformer', ct, `CT F${f}`, { primaryA: 300 }),
      newElement('relay', name('r'), `F${f} relay`, {
        inputs: [currentInput(ct)],
        circuits: [tripCircuit([q])],
        functions: [
          { ...newFunction(name('p'), '51', ranges, currentInput(ct).id), pickup: 1.2, timeMultiplier: 0.15 },
          { ...newFunction(name('e'), '51N', ranges, currentInput(ct).id), pickup: 0.2, timeMultiplier: 0.2 },
        ],
      }),
    );
    wire([boards[f % boards.length], 0], [q, 0]);
    wire([q, 1], [ct, 0]);
    let from: readonly [ElementId, number] = [ct, 1];
    for (let k = 0; k < length; k++) {
      const [line, bus] = [elementId(`fl-${f}-${k}`), elementId(`fb-${f}-${k}`)];
      elements.push(
        newElement('line', line, `F${f} line ${k}`, {
          lengthKm: 0.4 + random(),
          r1OhmPerKm: 0.16,
          x1OhmPerKm: 0.12,
          r0OhmPerKm: 0.6,
          x0OhmPerKm: 0.4,
        }),
        newElement('bus', bus, `F${f} ${k}`, { nominalKv: 20 }),
      );
      wire(from, [line, 0]);
      wire([line, 1], [bus, 0]);
      from = [bus, 0];
    }
  }
  return elements;
}
