/** The made-up network with a breaker, a current transformer and a relay at the head of every radial line, graded along each branch, and a condition of its own. */
import { newElement } from '../core/src/model/defaults';
import { maximumSources } from '../core/src/model/condition';
import type { Element, ElementOf } from '../core/src/model/element';
import { elementId, type ElementId } from '../core/src/model/fields';
import { newChart } from '../core/src/model/chart';
import { currentInput, tripCircuit } from '../core/src/model/protection';
import { genericRelays, newFunction } from '../core/src/protection/overcurrent/library';
import { bigNetwork } from './bigNetwork';

/** `relays` relays, a multiple of three: three in a row on every branch. */
export function protectedNetwork(relays: number): Element[] {
  const buses = (relays / 3) * 4;
  const backbone = buses / 4;
  const elements: Element[] = [];
  for (const element of bigNetwork(buses)) {
    const head = element.kind === 'connection' ? /^(r\d+)-a$/.exec(element.id) : null;
    if (!head || element.kind !== 'connection') {
      elements.push(element);
      continue;
    }
    const [id, name] = [head[1], head[1].toUpperCase()];
    const [q, ct] = [elementId(`${id}-q`), elementId(`${id}-ct`)];
    const wire = (suffix: string, from: ElementOf<'connection'>['from'], to: ElementOf<'connection'>['to']) =>
      elements.push({ kind: 'connection', id: elementId(`${id}-${suffix}`), from, to });
    elements.push(
      newElement('switch', q, `${name} Q`, { breakingKa: 25, ratedA: 630 }),
      newElement('currentTransformer', ct, `${name} CT`, { primaryA: 300 }),
      newElement('relay', elementId(`${id}-relay`), `${name} relay`, {
        inputs: [currentInput(ct)],
        circuits: [tripCircuit([q])],
        functions: (['51', '50', '51N'] as const).map((code) => ({
          ...newFunction(elementId(`${id}-${code}`), code, genericRelays[0].ranges),
          timeMultiplier: 0.1 + 0.1 * (2 - depthOf(Number(id.slice(1)), backbone)),
        })),
      }),
    );
    wire('a', element.from, { element: q, terminal: 0 });
    wire('m', { element: q, terminal: 1 }, { element: ct, terminal: 0 });
    wire('z', { element: ct, terminal: 1 }, element.to);
  }
  const relayAt = (k: number): ElementId => elementId(`r${k}-relay`);
  for (let k = 0; k < backbone; k++) {
    const chain = [2, 1, 0].map((depth) => relayAt(backbone * (depth + 1) + k));
    for (const mode of ['phase', 'earth'] as const)
      elements.push(
        newChart(elementId(`chart-${mode}-${k}`), `Branch ${k}, ${mode}`, {
          relays: chain,
          pairs: [0, 1].map((n) => ({ downstream: chain[n], upstream: chain[n + 1], wantedMarginS: null })),
          referenceKv: 33,
          mode,
        }),
      );
  }
  elements.push({
    ...maximumSources,
    id: elementId('chord-out'),
    name: 'Without chord',
    out: [elementId('c0')],
  });
  return elements;
}

/** How far out on its branch a radial line stands. */
const depthOf = (k: number, backbone: number): number => Math.floor((k - backbone) / backbone);
