import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyChanges, type Change } from './changes';
import { blankElements, newElement } from './defaults';
import { elementId } from './fields';
import { networkOf } from './network';
import { applyStored, compacted, expanded, takenBack, type StoredChange } from './storedChanges';

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

  describe('taken back beside others', () => {
    /** What a step did, and what takes it back. */
    const made = (before: ReturnType<typeof with_>, changes: Change[]) => {
      const applied = applyChanges(before, changes);
      if (!applied.ok) throw new Error(applied.problems[0].message);
      return {
        after: applied.network.elements,
        did: compacted(before.elements, changes),
        back: compacted(applied.network.elements, applied.inverse),
      };
    };
    const undone = (now: ReadonlyMap<typeof id, unknown>, did: StoredChange[], back: StoredChange[]) => {
      const elements = now as ReturnType<typeof with_>['elements'];
      const { changes, kept } = takenBack(elements, did, back);
      return { element: applyStored(elements, changes).get(id), kept: [...kept] };
    };

    it('leave a field as it is that somebody else has set since, and take the others back', () => {
      const { after, did, back } = made(with_({ x: 0, note: 'old' }), [
        { op: 'update', element: bus({ x: 9, note: 'mine' }) },
      ]);
      const now = applyStored(after, [{ op: 'set', id, set: { note: 'theirs' } }]);
      expect(undone(now, did, back)).toEqual({ element: bus({ x: 0, note: 'theirs' }), kept: [id] });
      // Their coming to the same value is no change of theirs.
      expect(undone(after, did, back)).toEqual({ element: bus({ x: 0, note: 'old' }), kept: [] });
    });
    it('keep what was added and then changed by others, and what others have put back', () => {
      const empty = networkOf(blankElements());
      const { after, did, back } = made(empty, [{ op: 'add', element: bus() }]);
      expect(undone(after, did, back)).toEqual({ element: undefined, kept: [] });
      const now = applyStored(after, [{ op: 'set', id, set: { note: 'theirs' } }]);
      expect(undone(now, did, back)).toEqual({ element: bus({ note: 'theirs' }), kept: [id] });
      const gone = made(with_({ x: 1 }), [{ op: 'remove', id }]);
      const again = applyStored(gone.after, [{ op: 'add', element: bus({ x: 2 }) }]);
      expect(undone(again, gone.did, gone.back)).toEqual({ element: bus({ x: 2 }), kept: [id] });
    });
    it('are, whatever was done and whoever went on: own fields as before, others’ as they are', () => {
      const field = fc.record({
        x: fc.integer({ min: 0, max: 3 }),
        note: fc.constantFrom('', 'a', 'b'),
        nominalKv: fc.constantFrom(11, 33),
      });
      fc.assert(
        fc.property(
          field,
          field,
          fc.array(fc.record({ key: fc.constantFrom('x', 'note', 'nominalKv'), to: field })),
          (from, to, steps) => {
            const before = with_(from);
            const { after, did, back } = made(before, [{ op: 'update', element: bus(to) }]);
            let now = after;
            const touched = new Set<string>();
            for (const { key, to: value } of steps) {
              const of = value[key as keyof typeof value];
              if ((now.get(id) as unknown as Record<string, unknown>)[key] !== of) touched.add(key);
              now = applyStored(now, [{ op: 'set', id, set: { [key]: of } }]);
            }
            const was = before.elements.get(id) as unknown as Record<string, unknown>;
            const mine = after.get(id) as unknown as Record<string, unknown>;
            const current = now.get(id) as unknown as Record<string, unknown>;
            const { element, kept } = undone(now, did, back);
            const result = element as unknown as Record<string, unknown>;
            for (const key of ['x', 'note', 'nominalKv']) {
              const isMine = mine[key] !== was[key];
              const isStill = current[key] === mine[key];
              expect(result[key], key).toEqual(isMine && isStill ? was[key] : current[key]);
            }
            if (touched.size === 0) expect([element, kept]).toEqual([before.elements.get(id), []]);
          },
        ),
      );
    });
  });
});
