/** A made-up network of any size for benchmarks and tests: feeders in a mesh of lines with radial branches, all of one level. */
import { newElement, blankElements } from '../core/src/model/defaults';
import type { Element } from '../core/src/model/element';
import { elementId } from '../core/src/model/fields';

/** `buses` buses: a backbone ring with a chord every tenth bus, and three-bus branches hanging on it. */
export function bigNetwork(buses: number): Element[] {
  const elements: Element[] = blankElements();
  const id = elementId;
  const backbone = Math.max(3, Math.ceil(buses / 4));
  const columns = Math.ceil(Math.sqrt(backbone));
  const placeOf = (k: number) => {
    const ring = k < backbone ? k : (k - backbone) % backbone;
    const depth = k < backbone ? 0 : 1 + Math.floor((k - backbone) / backbone);
    return { x: (ring % columns) * 260 + depth * 40, y: Math.floor(ring / columns) * 460 + depth * 100 };
  };
  for (let k = 0; k < buses; k++)
    elements.push(newElement('bus', id(`b${k}`), `B${k}`, { nominalKv: 33, length: 120, ...placeOf(k) }));
  const line = (name: string, from: number, to: number, lengthKm: number) => {
    const a = placeOf(from);
    elements.push(
      newElement('line', id(name), name.toUpperCase(), {
        x: a.x + 60,
        y: a.y + 50,
        lengthKm,
        type: 'overhead',
        r1OhmPerKm: 0.27,
        x1OhmPerKm: 0.37,
        r0OhmPerKm: 0.42,
        x0OhmPerKm: 1.58,
      }),
      {
        kind: 'connection',
        id: id(`${name}-a`),
        from: { element: id(`b${from}`), terminal: 0, at: 60 },
        to: { element: id(name), terminal: 0 },
      },
      {
        kind: 'connection',
        id: id(`${name}-b`),
        from: { element: id(name), terminal: 1 },
        to: { element: id(`b${to}`), terminal: 0, at: 60 },
      },
    );
  };
  for (let k = 0; k < backbone; k++) {
    line(`l${k}`, k, (k + 1) % backbone, 2 + (k % 5));
    if (k % 10 === 0) line(`c${k}`, k, (k + Math.floor(backbone / 2)) % backbone, 9);
  }
  for (let k = backbone; k < buses; k++) line(`r${k}`, k - backbone, k, 1 + (k % 3));
  elements.push(newElement('networkFeeder', id('source'), 'Source', { x: 60, y: -60 }), {
    kind: 'connection',
    id: id('source-b'),
    from: { element: id('source'), terminal: 0 },
    to: { element: id('b0'), terminal: 0, at: 60 },
  });
  return elements;
}
