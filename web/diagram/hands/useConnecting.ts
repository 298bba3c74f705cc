'use client';

import { useCallback, useRef, useState } from 'react';
import { useReactFlow, type FinalConnectionState, type IsValidConnection } from '@xyflow/react';
import { snapToGrid } from '@mesura/core/drawing/shape/shapes';
import { whyNotConnect } from '@mesura/core/model/connect';
import type { ElementId } from '@mesura/core/model/fields';
import type { Topology } from '@mesura/core/model/topology';
import { newId } from '../../project/newId';
import { useProjectStore } from '../../project/ProjectContext';
import { report, tell } from '../../desk/report';

/** A connection drawn from terminal to terminal. What does not go together says why, before and after it is dropped. */
export function useConnecting(topology: Topology) {
  const store = useProjectStore();
  const flow = useReactFlow();
  const started = useRef<{ x: number; y: number } | null>(null);
  const [hint, setHint] = useState<string | null>(null);
  const [drawing, setDrawing] = useState(false);

  const whyNot = useCallback(
    (source: string, from: string | null, target: string, to: string | null) =>
      whyNotConnect(
        store.getState().network,
        topology,
        { element: source as ElementId, terminal: Number(from) },
        { element: target as ElementId, terminal: Number(to) },
      ),
    [store, topology],
  );
  const isValidConnection: IsValidConnection = useCallback(
    ({ source, sourceHandle, target, targetHandle }) => {
      const reason = whyNot(source, sourceHandle ?? null, target, targetHandle ?? null);
      setHint(reason);
      return reason === null;
    },
    [whyNot],
  );
  const placeOf = (event: MouseEvent | TouchEvent) => {
    const point = 'clientX' in event ? event : (event.touches[0] ?? event.changedTouches[0]);
    return flow.screenToFlowPosition({ x: point.clientX, y: point.clientY });
  };
  const onConnectStart = (event: MouseEvent | TouchEvent) => {
    started.current = placeOf(event);
    setDrawing(true);
  };
  const onConnectEnd = (event: MouseEvent | TouchEvent, state: FinalConnectionState) => {
    setHint(null);
    setDrawing(false);
    const { fromNode, fromHandle, toNode, toHandle } = state;
    if (!fromNode || !fromHandle || !toNode || !toHandle) return;
    const reason = whyNot(fromNode.id, fromHandle.id ?? null, toNode.id, toHandle.id ?? null);
    if (reason) return tell('These cannot be connected', reason);
    const end = (id: string, terminal: string, where: { x: number } | null) => {
      const element = store.getState().network.elements.get(id as ElementId)!;
      const along =
        element.kind === 'bus'
          ? { at: Math.min(Math.max(snapToGrid((where?.x ?? element.x) - element.x), 0), element.length) }
          : {};
      return { element: element.id, terminal: Number(terminal), ...along };
    };
    const from = end(fromNode.id, fromHandle.id ?? '0', started.current);
    const to = end(toNode.id, toHandle.id ?? '0', placeOf(event));
    report(store.getState().commit([{ op: 'add', element: { kind: 'connection', id: newId(), from, to } }], 'Connect'));
  };
  return { hint, drawing, props: { onConnectStart, onConnectEnd, isValidConnection } };
}
