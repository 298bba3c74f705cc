/** What is chosen, and where it stands. */
import { boxOf, hull, isPlaced } from '@mesura/core/drawing/shape/shapes';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { ProjectStore } from '../../project/store';
import { useDrawing } from '../drawingState';

export const boundsOf = (network: Network, ids: readonly ElementId[]) =>
  hull(
    ids.flatMap((id) => {
      const element = network.elements.get(id);
      return element && isPlaced(element) ? [boxOf(element)] : [];
    }),
  );

/** Selects what has just been drawn, and brings it into view as far as it is out of it. */
export function choose(store: ProjectStore, ids: readonly ElementId[]): void {
  store.getState().select(ids);
  const box = boundsOf(store.getState().network, ids);
  if (box) useDrawing.getState().view?.reveal(box);
}
