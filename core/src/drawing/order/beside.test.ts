/** Charts on the drawing: where they find room, and how they go with what they show. */
import { describe, expect, it } from 'vitest';
import { applyChanges, removalOf } from '../../model/changes';
import { elementId, type ElementId } from '../../model/fields';
import { find, networkOf, ofKind, validateNetwork, withElements, type Network } from '../../model/network';
import { chartPictureRoom, type ChartPicture } from '../../model/sheet';
import { demoNetwork } from '../../test/demo';
import { takeFragment } from '../parts/fragment';
import { boxOf, grid, isPlaced, overlaps } from '../shape/shapes';
import { roomBeside } from './beside';

const network = demoNetwork();
const size = chartPictureRoom.usual;
const chart = ofKind(network, 'gradingChart')[0];
const put = (on: Network, id: string, of = chart): { picture: ChartPicture; network: Network } => {
  const { page, at } = roomBeside(on, of.relays, size);
  const kind = 'chartPicture' as const;
  const picture = { kind, id: elementId(id), ...at, ...(page && { page }), chart: of.id, ...size };
  return { picture, network: withElements(on, [picture]) };
};

describe('a chart put on the drawing', () => {
  it('stands on free ground of the page of its devices, on the grid, each beside the one before', () => {
    let now = network;
    for (const [k, of] of ofKind(network, 'gradingChart').entries()) {
      const { picture, network: next } = put(now, `picture-${k}`, of);
      const covers = [...now.elements.values()].filter(isPlaced);
      const here = covers.filter((element) => (element.page ?? null) === (picture.page ?? null));
      expect(here.length).toBeGreaterThan(10);
      expect(here.filter((element) => overlaps(boxOf(element), boxOf(picture))).map(({ id }) => id)).toEqual([]);
      expect([picture.x % grid, picture.y % grid].map(Math.abs)).toEqual([0, 0]);
      expect(of.relays.some((id) => here.some((element) => element.id === id))).toBe(true);
      now = next;
    }
    expect(validateNetwork(now)).toEqual([]);
  });
  it('moves to the page of its devices, and stands at the origin of an empty drawing', () => {
    const page = elementId('page-2');
    const moved = [...network.elements.values()].map((element) =>
      chart.relays.includes(element.id) ? { ...element, page } : element,
    );
    const other = networkOf([...moved, { kind: 'page', id: page, name: 'Page 2' }]);
    expect(roomBeside(other, chart.relays, size).page).toBe(page);
    expect(roomBeside(networkOf([]), chart.relays, size)).toEqual({ page: null, at: { x: 0, y: 0 } });
  });
  it('goes when its chart goes, and leaves the chart when it goes', () => {
    const { picture, network: now } = put(network, 'picture');
    const after = (id: ElementId) => {
      const applied = applyChanges(now, removalOf(now, [id]));
      return applied.ok ? applied.network : null;
    };
    expect(find(after(chart.id)!, 'chartPicture', picture.id)).toBeUndefined();
    expect(find(after(picture.id)!, 'gradingChart', chart.id)).toBeDefined();
  });
  it('is no part of a copy, which could not show it', () => {
    const { picture, network: now } = put(network, 'picture');
    expect(takeFragment(now, [picture.id])).toBeNull();
    const bus = ofKind(now, 'bus')[0];
    expect(takeFragment(now, [picture.id, bus.id])!.elements.map(({ id }) => id)).toEqual([bus.id]);
  });
});
