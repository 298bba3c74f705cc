import { describe, expect, it } from 'vitest';
import { FaultEngine, type StudyQuery } from '../studies/engine';
import { solidFault } from '../faults/kinds';
import { voltageFactor } from '../faults/iec60909/voltageFactor';
import type { Element } from '../model/element';
import { maximumSources, minimumSources } from '../model/condition';
import { elementId } from '../model/fields';
import { networkOf, type Network } from '../model/network';
import { demoNetwork } from '../test/demo';
import { everyKind } from '../test/everyKind';
import { assemble } from './assemble';
import { revised } from './revise';
import { unitInjection } from './sequenceNetwork';

const options = { faultCase: 'max', voltageFactor: voltageFactor(10) } as const;

/** Variants of an element with one value changed, however deep it stands. */
function* variants(element: Element): Generator<Element> {
  function* inside(value: unknown): Generator<unknown> {
    if (typeof value === 'number') yield value === 0 ? 0.7 : value * 1.07;
    else if (typeof value === 'boolean') yield !value;
    else if (value !== null && typeof value === 'object' && !Array.isArray(value))
      for (const [key, each] of Object.entries(value))
        for (const other of inside(each)) yield { ...value, [key]: other };
  }
  for (const variant of inside(element)) yield variant as Element;
}

const withElement = (network: Network, element: Element): Network => ({
  elements: new Map(network.elements).set(element.id, element),
});

describe('an assembly after a change of values', () => {
  it('is what assembling anew gives, for every value of every element, or is refused', () => {
    let taken = 0;
    let refused = 0;
    for (const [seed, basis] of [
      [1, 'iec60909'],
      [2, 'operating'],
      [3, 'iec60909'],
      [4, 'interrupting'],
    ] as const) {
      const { network } = everyKind(seed);
      const before = assemble(network, { ...options, basis });
      for (const element of network.elements.values())
        for (const variant of variants(element)) {
          const after = withElement(network, variant);
          const quick = revised(before, after, [element.id]);
          if (!quick) {
            refused++;
            continue;
          }
          taken++;
          const anew = assemble(after, { ...options, basis });
          const about = `seed ${seed}: ${element.id}`;
          for (const key of ['lists', 'injections', 'problems', 'supplied', 'lag', 'level', 'innerNodes'] as const)
            expect(quick[key], `${about}, ${key}`).toEqual(anew[key]);
          for (const sequence of ['positive', 'negative', 'zero'] as const)
            expect(quick[sequence].solve(unitInjection(0)), about).toEqual(anew[sequence].solve(unitInjection(0)));
        }
    }
    expect(taken).toBeGreaterThan(800);
    expect(refused).toBeGreaterThan(200);
  });

  it('is refused when something is added, removed, renamed, joined otherwise, or of another kind', () => {
    const network = demoNetwork();
    const before = assemble(network, options);
    const t1 = network.elements.get(elementId('bra-t1'))!;
    const less = new Map(network.elements);
    less.delete(t1.id);
    expect(revised(before, { elements: less }, [t1.id])).toBeNull();
    expect(revised(before, withElement(network, { ...t1, name: 'Other' } as Element), [t1.id])).toBeNull();
    const bus = network.elements.get(elementId('bra-11-a'))!;
    expect(revised(before, withElement(network, { ...bus, nominalKv: 10 } as Element), [bus.id])).toBeNull();
    expect(revised(before, withElement(network, { ...t1, lvKv: 10 } as Element), [t1.id])).toBeNull();
    expect(revised(before, network, [t1.id])).not.toBeNull();
  });
});

describe('an engine that takes over from the one before', () => {
  const fault = solidFault('1ph');
  const queries: StudyQuery[] = [
    { method: 'iec60909', condition: maximumSources.id },
    { method: 'iec60909', condition: minimumSources.id, charging: 'always' },
    { method: 'iec60909', condition: maximumSources.id, outage: elementId('fer-bra-2') },
    { method: 'iec60909', condition: maximumSources.id, alterations: { out: [elementId('bra-t2')] } },
    { method: 'superposition', condition: maximumSources.id },
  ];

  it('answers as one made anew, over a whole session of changes', () => {
    let network = demoNetwork();
    let engine = new FaultEngine(network);
    const ids = ['bra-t1', 'cau-fer-1', 'bra-t1', 'fer-bra-1', 'bra-11-a', 'gal-wind', 'bra-t2', 'cau-grid']
      .map((id) => network.elements.get(elementId(id)))
      .filter((element) => element !== undefined)
      .map(({ id }) => id);
    expect(ids.length).toBeGreaterThan(4);
    ids.forEach((id, k) => {
      const [variant] = [...variants(network.elements.get(id)!)].slice(4 + k);
      network = withElement(network, variant ?? network.elements.get(id)!);
      engine = new FaultEngine(network, { engine, changed: [id] });
      // Now and then nobody asks before the next change comes.
      if (k % 3 === 1) return;
      const fresh = new FaultEngine(networkOf(network.elements.values()));
      for (const query of queries) {
        expect(engine.rows(query, fault), `${id}, ${query.method}`).toEqual(fresh.rows(query, fault));
        expect(engine.problems(query)).toEqual(fresh.problems(query));
      }
    });
  });
});
