import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from './changes';
import { blankElements, newElement } from './defaults';
import { elementId } from './fields';
import { networkOf } from './network';
import { applyStored, compacted, expanded } from './storedChanges';

const id = elementId('A');
const bus = (over: object = {}) => ({ ...newElement('bus', id, 'A'), ...over });
const with_ = (over: object = {}) => networkOf([...blankElements(), bus(over)]);

describe('changes as the log keeps them', () => {
  it('keep of an update what differs, also what is gone', () => {
    const before = with_({ page: elementId('p'), x: 0 });
    const after = bus({ x: 10, note: 'n' });
    expect(compacted(before.elements, [{ op: 'update', element: after }])).toEqual([
      { op: 'set', id, set: { x: 10, note: 'n' }, unset: ['page'] },
    ]);
  });
  it('make the same of the elements as the changes themselves, forward and back', () => {
    const step = fc.oneof(
      fc
        .record({ x: fc.integer({ min: 0, max: 5 }), note: fc.constantFrom('', 'a', 'b'), pinned: fc.boolean() })
        .map(({ x, note, pinned }): Change => ({
          op: 'update',
          element: bus({ x, note, ...(pinned && { pinned: true }) }),
        })),
      fc.constant<Change>({ op: 'remove', id }),
      fc.constant<Change>({ op: 'add', element: bus() }),
    );
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 5 }), (changes) => {
        const before = with_({ x: 3, pinned: true });
        const applied = applyChanges(before, changes);
        if (!applied.ok) return;
        const forward = compacted(before.elements, changes);
        const inverse = compacted(applied.network.elements, applied.inverse);
        expect(applyStored(before.elements, forward)).toEqual(applied.network.elements);
        expect(applyStored(applied.network.elements, inverse)).toEqual(before.elements);
        const back = applyChanges(applied.network, expanded(applied.network.elements, inverse));
        expect(back.ok && back.network.elements).toEqual(before.elements);
      }),
    );
  });
  it('taken back leave alone what others have changed since, and fall away where the element is gone', () => {
    const inverse = [{ op: 'set' as const, id, set: { x: 0 } }];
    expect(expanded(with_({ x: 50, note: 'by B' }).elements, inverse)).toEqual([
      { op: 'update', element: bus({ x: 0, note: 'by B' }) },
    ]);
    expect(expanded(networkOf(blankElements()).elements, inverse)).toEqual([]);
  });
});
