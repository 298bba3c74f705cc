/** What a device sees by parts of the inverse, against the currents and voltages of the whole network. */
import { describe, expect, it } from 'vitest';
import { magnitude, subtract } from '../linear/complex';
import { altered } from '../model/state';
import { newElement } from '../model/defaults';
import { nameOf, type Element } from '../model/element';
import { elementId, type ElementId } from '../model/fields';
import { networkOf, ofKind, type Network } from '../model/network';
import { terminalKey } from '../model/topology';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { throughElement } from '../faults/iec60909/contributions';
import { faultFlows, iec60909Study, terminalPlace, voltagesDuring, type Iec60909Study } from '../faults/iec60909/study';
import { faultKinds } from '../faults/kinds';
import type { Place } from '../faults/solution/solve';
import type { SequenceValues } from '../sequence/components';
import { thinned } from '../test/runs';
import { cutAt } from './cut';
import { look } from './seen';

const apart = (p: SequenceValues, q: SequenceValues) =>
  Math.max(
    magnitude(subtract(p.positive, q.positive)),
    magnitude(subtract(p.negative, q.negative)),
    magnitude(subtract(p.zero, q.zero)),
  );

/** The network with a current transformer in every run. */
function withTransformers(network: Network): Network {
  const elements: Element[] = [];
  for (const element of network.elements.values()) {
    if (element.kind !== 'connection') {
      elements.push(element);
      continue;
    }
    const ct = elementId(`ct-${element.id}`);
    elements.push(
      newElement('currentTransformer', ct, `CT ${element.id}`),
      { ...element, to: { element: ct, terminal: 0 } },
      { kind: 'connection', id: elementId(`more-${element.id}`), from: { element: ct, terminal: 1 }, to: element.to },
    );
  }
  return networkOf(elements);
}

function compare(study: Iec60909Study, places: readonly Place[], watched: readonly ElementId[]): number {
  const { network, topology } = study.assembly;
  const buses = ofKind(network, 'bus').map(({ id }) => ({ element: id, terminal: 0 }));
  let compared = 0;
  for (const place of places)
    for (const [k, looked] of look(study, place, faultKinds, { through: watched, voltagesAt: buses }).entries()) {
      if (!looked.ok) continue;
      const { fault, through, voltages } = looked.seen;
      const flows = faultFlows(fault);
      watched.forEach((id, j) => {
        const whole = throughElement(fault, flows, id);
        if (!whole) return;
        compared++;
        const where = `${faultKinds[k]} at ${JSON.stringify(place)} through ${nameOf(network.elements.get(id)!)}`;
        expect(apart(through[j]!, whole), where).toBeLessThan(1e-7 * (1 + fault.ikA));
      });
      if (fault.study !== study) continue;
      buses.forEach(({ element }, j) => {
        const whole = voltagesDuring(fault, topology.nodeAt(element, 0)!);
        const where = `${faultKinds[k]} at ${JSON.stringify(place)}, voltage of ${element}`;
        expect(apart(voltages[j]!, whole), where).toBeLessThan(1e-7 * (1 + fault.sourceV));
      });
    }
  return compared;
}

const linePlaces = (network: Network): Place[] =>
  ofKind(network, 'line').flatMap(({ id }, k) => [
    { at: 'line' as const, element: id, fraction: 0.15 + 0.07 * (k % 10) },
    terminalPlace(id, k % 2),
  ]);

describe('what is seen by parts of the inverse', () => {
  it.each(['max', 'min'] as const)('is what the whole network carries: the demo, %s', (faultCase) => {
    const network = demoNetwork();
    const study = iec60909Study(network, faultCase);
    const watched = [...ofKind(network, 'currentTransformer'), ...ofKind(network, 'switch')].map(({ id }) => id);
    const places = [
      ...ofKind(network, 'bus').map(({ id }) => terminalPlace(id)),
      ...ofKind(network, 'currentTransformer').flatMap(({ id }) => [terminalPlace(id, 0), terminalPlace(id, 1)]),
      ...linePlaces(network),
    ];
    expect(compare(study, thinned(places), watched)).toBeGreaterThan(thinned(places).length * 30);
  });
  it.each(thinned([1, 2, 3, 4, 5, 6]))('and random networks with every kind of element, seed %i', (seed) => {
    const network = withTransformers(everyKind(seed).network);
    const study = iec60909Study(network, seed % 2 ? 'max' : 'min');
    const watched = ofKind(network, 'currentTransformer').map(({ id }) => id);
    const places = [...ofKind(network, 'bus').map(({ id }) => terminalPlace(id)), ...linePlaces(network)];
    expect(compare(study, thinned(places), watched)).toBeGreaterThan(thinned(places).length * 10);
  });
});

describe('cuts', () => {
  const network = demoNetwork();
  const ct = elementId('bra-ct32');
  it('take the shorter sum, and hold everything on their side', () => {
    const { topology } = iec60909Study(network, 'max').assembly;
    const cut = cutAt(network, topology, ct)!;
    expect(cut.carrying.length).toBeLessThan(3);
    expect(cut.keys.has(terminalKey(ct, cut.side))).toBe(true);
    expect(cut.keys.has(terminalKey(ct, 1 - cut.side))).toBe(false);
    expect(cutAt(network, topology, ct)).toBe(cut);
  });
  it('are none in a ring of closed switches, at an open switch, or where nothing is', () => {
    const { from, to } = ofKind(network, 'connection').find(
      ({ from, to }) => from.element === ct || to.element === ct,
    )!;
    const link = newElement('switch', elementId('link'), 'Link', { type: 'link' });
    const ringed = networkOf([
      ...network.elements.values(),
      link,
      {
        kind: 'connection',
        id: elementId('l1'),
        from: { element: link.id, terminal: 0 },
        to: { element: ct, terminal: 0 },
      },
      {
        kind: 'connection',
        id: elementId('l2'),
        from: { element: link.id, terminal: 1 },
        to: { element: ct, terminal: 1 },
      },
    ]);
    expect([from.element, to.element]).toContain(ct);
    const { topology } = iec60909Study(ringed, 'max').assembly;
    expect(cutAt(ringed, topology, ct)).toBeNull();
    expect(cutAt(network, topology, elementId('nowhere'))).toBeNull();
    const open = altered(network, { open: [elementId('bra-q32')] });
    expect(cutAt(open, iec60909Study(open, 'max').assembly.topology, elementId('bra-q32'))).toBeNull();
  });
});
