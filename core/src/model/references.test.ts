import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoNetwork } from '../test/demo';
import { applyChanges, removalOf } from './changes';
import { elementSchemas, kinds, type ElementKind } from './element';
import { elementId, type ElementId } from './fields';
import { find, networkOf, ofKind, validateNetwork } from './network';
import { tripCircuit } from './protection';
import { redirected, referencesOf } from './references';

const network = demoNetwork();
const ids = [...network.elements.keys()];

describe('references, as the schemas declare them', () => {
  it('of a relay, a chart, a panel, a connection', () => {
    const relay = find(network, 'relay', elementId('bra-q32-relay'))!;
    expect(referencesOf(relay).map(({ id, to, whenGone }) => [id, to[0], whenGone])).toEqual([
      ['bra-ct32', 'currentTransformer', 'field'],
      ['bra-q32', 'switch', 'entry'],
    ]);
    const [chart] = ofKind(network, 'gradingChart');
    expect(referencesOf(chart)).toHaveLength(chart.relays.length + 2 * chart.pairs.length + chart.limits.length);
    // What is protected may go: the chart stays, without its line.
    const without = redirected(chart, (id) => (id === chart.limits[0].element ? null : id))!;
    expect(without).toEqual({ ...chart, limits: [] });
    const [wire] = ofKind(network, 'connection');
    expect(referencesOf(wire).map(({ id }) => id)).toEqual([wire.from.element, wire.to.element]);
  });
  it('every identifier in the demo that is one of an element is a declared reference, or its own', () => {
    for (const element of network.elements.values()) {
      const { id, ...rest } = element;
      const texts = [...JSON.stringify(rest).matchAll(/"([A-Za-z0-9_-]+)"(?!:)/g)].map(([, text]) => text);
      const named = new Set(texts.filter((text) => network.elements.has(text as ElementId) && text !== id));
      expect([...named].sort()).toEqual([...new Set(referencesOf(element).map((each) => each.id))].sort());
    }
  });
  it('lead to kinds that exist', () => {
    const seen = JSON.stringify(
      Object.keys(elementSchemas).flatMap((kind) =>
        ofKind(network, kind as ElementKind).flatMap((element) => referencesOf(element).flatMap(({ to }) => to)),
      ),
    );
    for (const kind of JSON.parse(seen) as string[]) expect(kinds).toHaveProperty(kind);
  });
  it('removal of anything leaves nothing dangling, and its inverse brings all of it back', () => {
    fc.assert(
      fc.property(fc.subarray(ids, { minLength: 1, maxLength: 12 }), (some) => {
        const applied = applyChanges(network, removalOf(network, some));
        if (!applied.ok) throw new Error(applied.problems[0].message);
        expect(validateNetwork(applied.network)).toEqual([]);
        const back = applyChanges(applied.network, applied.inverse);
        expect(back.ok && Object.fromEntries(back.network.elements)).toEqual(Object.fromEntries(network.elements));
      }),
      { seed: 11, numRuns: 150 },
    );
  });
  it('led elsewhere and back are what they were', () => {
    for (const element of network.elements.values()) {
      const there = redirected(element, (id) => `${id}x` as ElementId)!;
      expect(redirected(there, (id) => id.slice(0, -1) as ElementId)).toEqual(element);
      expect(redirected(element, (id) => id)).toBe(element);
    }
  });
  it('what dangles is told with its place', () => {
    const relay = find(network, 'relay', elementId('bra-q32-relay'))!;
    const alone = networkOf([{ ...relay, circuits: [tripCircuit([elementId('nowhere')])] }]);
    expect(validateNetwork(alone).map(({ field, message }) => [field, message])).toEqual([
      ['inputs', 'BRA Q32 relay refers to "bra-ct32", which does not exist'],
      ['circuits', 'BRA Q32 relay refers to a switch "nowhere", which does not exist'],
    ]);
  });
});
