import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges } from './changes';
import { newElement } from './defaults';
import { changesBetween, differences } from './difference';
import { elementId } from './fields';
import { networkOf, type Network } from './network';

const state = fc
  .array(fc.record({ n: fc.nat(8), mva: fc.constantFrom(1, 2, 5), x: fc.nat(3) }), { maxLength: 9 })
  .map((list) =>
    networkOf(
      list.map(({ n, mva, x }) => newElement('transformer', elementId(`t${n}`), `T${n}`, { ratedMva: mva, x: 10 * x })),
    ),
  );
const plain = (network: Network) => [...network.elements.values()].sort((p, q) => (p.id < q.id ? -1 : 1));

describe('differences', () => {
  it('applied to the one state give the other, and are none between like states', () => {
    fc.assert(
      fc.property(state, state, (before, after) => {
        const applied = applyChanges(before, changesBetween(before, after));
        if (!applied.ok) throw new Error(applied.problems[0].message);
        expect(plain(applied.network)).toEqual(plain(after));
        expect(differences(applied.network, after)).toEqual([]);
        expect(differences(before, after).length).toBe(changesBetween(before, after).length);
      }),
    );
  });
  it('tell the values before and after, and what was only moved', () => {
    const t = newElement('transformer', elementId('t'), 'T1', { ratedMva: 1 });
    const u = newElement('transformer', elementId('u'), 'T2');
    const before = networkOf([t, u]);
    const after = networkOf([
      { ...t, ratedMva: 1.6, lvNeutral: { ...t.lvNeutral, earthing: 'isolated' } },
      { ...u, x: 50 },
      newElement('load', elementId('l'), 'L1'),
    ]);
    expect(differences(before, after)).toMatchObject([
      { what: 'added', name: 'L1', kind: 'Load' },
      {
        what: 'changed',
        name: 'T1',
        moved: false,
        fields: [
          { path: 'ratedMva', before: 1, after: 1.6 },
          { path: 'lvNeutral.earthing', before: 'solid', after: 'isolated' },
        ],
      },
      { what: 'changed', name: 'T2', moved: true },
    ]);
    expect(differences(after, before)[0]).toMatchObject({ what: 'removed', name: 'L1' });
  });
  it('also exchange names between elements', () => {
    const of = (p: string, q: string) =>
      networkOf([newElement('load', elementId('p'), p), newElement('load', elementId('q'), q)]);
    const applied = applyChanges(of('A', 'B'), changesBetween(of('A', 'B'), of('B', 'A')));
    expect(applied.ok && plain(applied.network)).toEqual(plain(of('B', 'A')));
  });
});
