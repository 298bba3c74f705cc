/** A made-up meshed network of one voltage with a distance relay at both ends of every line, its reaches by the rulebook. */
import { newElement } from '../core/src/model/defaults';
import type { Element, ElementOf } from '../core/src/model/element';
import { elementId } from '../core/src/model/fields';
import { networkOf } from '../core/src/model/network';
import { currentInput, tripCircuit } from '../core/src/model/protection';
import { freshDistance } from '../core/src/protection/distance';
import { reachPlan, withReaches } from '../core/src/reach/plan';
import { Studies } from '../core/src/studies/studies';
import { mesh } from '../core/src/test/meshNetwork';
import { finished } from '../core/src/working/steps';

/** `lines` lines at most, two relays each. */
export function reachNetwork(lines: number): Element[] {
  const buses = Math.round(lines / 1.14);
  const { from, to, lengthKm, sources } = mesh(buses);
  const elements: Element[] = [];
  const wire = (id: string, a: ElementOf<'connection'>['from'], b: ElementOf<'connection'>['to']) =>
    elements.push({ kind: 'connection', id: elementId(id), from: a, to: b });
  for (let k = 0; k < buses; k++) {
    elements.push(
      newElement('bus', elementId(`b${k}`), `B${k}`, { nominalKv: 132 }),
      newElement('voltageTransformer', elementId(`vt${k}`), `VT${k}`, { primaryKv: 132 }),
    );
    wire(`w-vt${k}`, { element: elementId(`b${k}`), terminal: 0 }, { element: elementId(`vt${k}`), terminal: 0 });
  }
  for (const k of sources) {
    elements.push(newElement('networkFeeder', elementId(`f${k}`), `F${k}`));
    wire(`w-f${k}`, { element: elementId(`b${k}`), terminal: 0 }, { element: elementId(`f${k}`), terminal: 0 });
  }
  from.slice(0, lines).forEach((start, k) => {
    const line = elementId(`l${k}`);
    elements.push(
      newElement('line', line, `L${k}`, {
        type: 'overhead',
        lengthKm: 5 + 10 * lengthKm[k],
        r1OhmPerKm: 0.118,
        x1OhmPerKm: 0.402,
        r0OhmPerKm: 0.312,
        x0OhmPerKm: 1.21,
        ratedA: 645,
      }),
    );
    for (const [terminal, at] of [start, to[k]].entries()) {
      const [q, ct] = [elementId(`l${k}-q${terminal}`), elementId(`l${k}-ct${terminal}`)];
      elements.push(
        newElement('switch', q, `L${k} Q${terminal}`, { breakingKa: 31.5, ratedA: 2000 }),
        newElement('currentTransformer', ct, `L${k} CT${terminal}`, { primaryA: 800 }),
        newElement('relay', elementId(`l${k}-relay${terminal}`), `L${k} relay ${terminal}`, {
          inputs: [
            { ...currentInput(ct), towards: 1 },
            {
              id: elementId('vt'),
              type: 'voltage',
              element: elementId(`vt${at}`),
              towards: 1,
              reversed: false,
              star: null,
            },
          ],
          circuits: [tripCircuit([q])],
          functions: [freshDistance(elementId(`l${k}-21-${terminal}`), currentInput(ct).id)],
        }),
      );
      wire(`w-l${k}-a${terminal}`, { element: elementId(`b${at}`), terminal: 0 }, { element: q, terminal: 0 });
      wire(`w-l${k}-m${terminal}`, { element: q, terminal: 1 }, { element: ct, terminal: 0 });
      wire(`w-l${k}-z${terminal}`, { element: ct, terminal: 1 }, { element: line, terminal });
    }
  });
  const rows = finished(reachPlan(new Studies(networkOf(elements)), { merged: false, fromKv: 50 }));
  const set = new Map(
    rows.flatMap((row) => (row.relay ? [[row.relay.device.id, withReaches(row.relay, row)] as const] : [])),
  );
  return elements.map((element) => {
    const fn = element.kind === 'relay' ? set.get(element.id) : undefined;
    return element.kind === 'relay' && fn ? { ...element, functions: [fn] } : element;
  });
}
