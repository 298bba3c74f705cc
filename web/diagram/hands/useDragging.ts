'use client';

import { useCallback, useState } from 'react';
import { useReactFlow, useStoreApi, type NodeChange } from '@xyflow/react';
import { snappedPanel } from '@mesura/core/drawing/boards/slide';
import { isPlaced, snapToGrid, type Placed } from '@mesura/core/drawing/shape/shapes';
import { movedWith } from '@mesura/core/drawing/boards/together';
import { nameOf, type Element } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import { report } from '../../desk/report';
import { useProject, useProjectStore } from '../../project/ProjectContext';
import { moveBy } from './moving';
import { insertDropped } from './putting';
import type { ElementNodeType } from './ElementNode';
import { gripBox } from '../picture/flow';
import { aligned, type Guide } from '../picture/guides';
import { nothingAdjusted, type Adjusted, type Scene } from '../picture/scene';

const noGuides: readonly Guide[] = [];

/** Choosing and dragging symbols, lengthening busbars, sizing charts: where things stand meanwhile, and what is stored at the end. */
export function useDragging(scene: Scene) {
  const store = useProjectStore();
  const selection = useProject((state) => state.selection);
  const flow = useReactFlow<ElementNodeType>();
  const flowStore = useStoreApi();
  const [adjusted, setAdjusted] = useState<Adjusted>(nothingAdjusted);
  const [guides, setGuides] = useState<readonly Guide[]>(noGuides);

  const resize = useCallback(
    (id: string, size: { width: number; height: number }, done: boolean) => {
      const element = store.getState().network.elements.get(id as ElementId);
      const [width, height] = [snapToGrid(size.width), snapToGrid(size.height)];
      const to = element?.kind === 'chartPicture' ? { width, height } : { length: Math.max(40, width) };
      if (!done) return setAdjusted(new Map([[id as ElementId, to]]));
      setAdjusted(nothingAdjusted);
      const isSame = Object.entries(to).every(([field, value]) => element?.[field as keyof typeof element] === value);
      if (!element || isSame) return;
      const label = element.kind === 'bus' ? `Lengthen ${element.name}` : `Size of a ${nameOf(element)}`;
      report(store.getState().commit([{ op: 'update', element: { ...element, ...to } as Element }], label));
    },
    [store],
  );

  const onNodesChange = useCallback(
    (changes: NodeChange<ElementNodeType>[]) => {
      const { selection: before, network: now, select } = store.getState();
      const picks = changes.filter((change) => change.type === 'select');
      if (picks.length > 0) {
        // Whoever turns to a symbol leaves what was chosen before: also what the canvas package knows nothing of, because it stands on
        // another page, off the drawing, or is a run.
        const adds = flowStore.getState().multiSelectionActive;
        const chosen = new Set(
          before.filter((id) => isPlaced(now.elements.get(id)!) && (adds || !picks.some((pick) => pick.selected))),
        );
        for (const { id, selected: on } of picks) {
          if (on) chosen.add(id as ElementId);
          else chosen.delete(id as ElementId);
        }
        select([...chosen]);
      }
      const drag = changes.find((change) => change.type === 'position' && change.position);
      if (drag?.type !== 'position' || !drag.position) return;
      const lead = now.elements.get(drag.id as ElementId);
      if (!lead || !isPlaced(lead)) return;
      const origin = gripBox(lead);
      const off = {
        x: snapToGrid(lead.x + drag.position.x - origin.x) - lead.x,
        y: snapToGrid(lead.y + drag.position.y - origin.y) - lead.y,
      };
      const chosen = selection.includes(lead.id)
        ? selection.filter((id) => now.elements.has(id) && isPlaced(now.elements.get(id)!))
        : [lead.id];
      const { places, by, lines } = dragged(scene, now, lead, chosen, off, 5 / Math.max(flow.getZoom(), 0.4));
      if (drag.dragging) {
        setAdjusted(places);
        setGuides(lines);
        return;
      }
      setAdjusted(nothingAdjusted);
      setGuides(noGuides);
      moveBy(store, chosen, by.x, by.y);
      if (chosen.length === 1) insertDropped(store, lead.id);
    },
    [store, flow, flowStore, selection, scene],
  );
  return { adjusted, guides, onNodesChange, resize };
}

/** Where everything comes to stand that moves with the one in hand. */
function dragged(
  scene: Scene,
  network: Network,
  lead: Placed,
  chosen: readonly ElementId[],
  off: { x: number; y: number },
  reach: number,
) {
  const whole = movedWith(network, chosen);
  const by = { ...off };
  const slides = chosen.every((id) => network.elements.get(id)?.kind === 'panel');
  if (slides && lead.kind === 'panel') {
    by.x = snappedPanel(network, lead, lead.x + off.x) - lead.x;
    by.y = 0;
  }
  const placesAt = (dx: number, dy: number): Adjusted =>
    new Map(
      [...whole].flatMap((id) => {
        const element = network.elements.get(id);
        return element && isPlaced(element) ? [[id, { x: element.x + dx, y: element.y + dy }] as const] : [];
      }),
    );
  if (slides) return { places: placesAt(by.x, by.y), by, lines: noGuides };
  const line = aligned(scene, lead, placesAt(by.x, by.y), reach);
  return {
    places: placesAt(by.x + line.by.x, by.y + line.by.y),
    by: { x: by.x + line.by.x, y: by.y + line.by.y },
    lines: line.guides,
  };
}
