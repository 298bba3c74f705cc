import { describe, expect, it } from 'vitest';
import { laidOut, layoutGraph } from './layout';
import { makeBoard } from '../boards/board';
import { boxOf, isDrawn, overlaps, type Drawn } from '../shape/shapes';
import { applyChanges } from '../../model/changes';
import type { Element } from '../../model/element';
import { elementId, type ElementId } from '../../model/fields';
import { networkOf, ofKind, type Network } from '../../model/network';
import { buildTopology } from '../../model/topology';
import { bigNetwork } from '../../../../scripts/bigNetwork';
import { layered } from './layered';

async function arranged(network: Network): Promise<Network> {
  const graph = layoutGraph(network, null);
  const changed = laidOut(network, graph, new Map(await layered(graph)));
  const applied = applyChanges(
    network,
    changed.map((element) => ({ op: 'update', element })),
  );
  if (!applied.ok) throw new Error(applied.problems[0].message);
  return applied.network;
}

/** All symbols on one heap, as an import without places leaves them. */
const heap = (buses: number): Network =>
  networkOf(bigNetwork(buses).map((element) => ('x' in element ? ({ ...element, x: 0, y: 0 } as Element) : element)));
const symbols = (network: Network): Drawn[] => [...network.elements.values()].filter(isDrawn);

describe('automatic layout', () => {
  it('leaves no two symbols on each other, joins the same, and stands on the grid', async () => {
    const before = heap(60);
    const after = await arranged(before);
    const all = symbols(after);
    for (const [k, p] of all.entries())
      for (const q of all.slice(k + 1))
        expect([p.name, q.name, overlaps(boxOf(p), boxOf(q))]).toEqual([p.name, q.name, false]);
    for (const { x, y } of all) expect([x % 10, y % 10].map(Math.abs)).toEqual([0, 0]);
    const joined = (network: Network) => {
      const topology = buildTopology(network);
      return symbols(network).map(({ id }) => [topology.nodeAt(id, 0), topology.nodeAt(id, 1)]);
    };
    expect(joined(after)).toEqual(joined(before));
    const source = ofKind(after, 'networkFeeder')[0];
    expect(Math.min(...all.map(({ y }) => y))).toBeGreaterThanOrEqual(source.y - 40);
  });

  it('puts nothing onto what is pinned', async () => {
    const free = await arranged(heap(60));
    // Every eighth symbol is pinned where the layout by itself puts another one.
    const all = symbols(free).filter(({ kind }) => kind !== 'bus');
    const pins = all.filter((_, k) => k % 8 === 0);
    const elements = new Map(free.elements);
    for (const [k, element] of pins.entries()) {
      const { x, y } = all[all.length - 3 - 5 * k];
      elements.set(element.id, { ...element, x: x + 10, y: y + 10, pinned: true });
    }
    const after = await arranged({ elements });
    for (const pin of pins) expect(after.elements.get(pin.id)).toEqual(elements.get(pin.id));
    const now = symbols(after);
    const still = new Set(pins.map(({ id }) => id));
    for (const [k, p] of now.entries())
      for (const q of now.slice(k + 1))
        if (!still.has(p.id) || !still.has(q.id))
          expect([p.name, q.name, overlaps(boxOf(p), boxOf(q))]).toEqual([p.name, q.name, false]);
  });

  it('keeps what is pinned, and boards in one piece', async () => {
    let n = 0;
    const newId = (): ElementId => elementId(`p${++n}`);
    const start = heap(20);
    const { changes } = makeBoard(
      start,
      { kv: 33, panels: ['incoming', 'outgoing', 'coupler', 'outgoing'], x: 500, y: 900 },
      newId,
    );
    const applied = applyChanges(start, [
      ...changes,
      { op: 'update', element: { ...start.elements.get(elementId('b5'))!, x: 340, y: 780, pinned: true } as Element },
    ]);
    if (!applied.ok) throw new Error();
    const before = applied.network;
    const after = await arranged(before);
    expect(after.elements.get(elementId('b5'))).toMatchObject({ x: 340, y: 780 });
    for (const panel of ofKind(before, 'panel')) {
      const now = ofKind(after, 'panel').find(({ id }) => id === panel.id)!;
      for (const member of panel.members) {
        const [p, q] = [before.elements.get(member) as Drawn, after.elements.get(member) as Drawn];
        expect([q.x - now.x, q.y - now.y]).toEqual([p.x - panel.x, p.y - panel.y]);
      }
    }
    // Both sections of the board, as they stood.
    const front = (network: Network) => ofKind(network, 'panel').map(({ x, y }) => ({ x, y }));
    const [first] = front(before);
    const [moved] = front(after);
    const by = { x: moved.x - first.x, y: moved.y - first.y };
    expect(front(after)).toEqual(front(before).map(({ x, y }) => ({ x: x + by.x, y: y + by.y })));
  });
});
