/** The model as nodes and edges of the canvas. Terminals are handles at known places, so that nothing has to be measured. */
import { Position } from '@xyflow/react';
import { terminalsOf } from '@mesura/core/model/drawing';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';
import type { ElementNodeType } from './ElementNode';
import { boxOf, busHeight, endPoint, isDrawn, pathOf, route, type Drawn } from './geometry';
import type { WireEdgeType } from './WireEdge';

/** Places and lengths while something is dragged, before they are stored. */
export type Adjusted = ReadonlyMap<string, { x?: number; y?: number; length?: number }>;

const handleSize = 9;

function adjust(element: Drawn, adjusted: Adjusted): Drawn {
  const over = adjusted.get(element.id);
  return over ? ({ ...element, ...over } as Drawn) : element;
}

export function nodesOf(
  network: Network,
  adjusted: Adjusted,
  selection: readonly string[],
  onResize: ElementNodeType['data']['onResize'],
): ElementNodeType[] {
  const chosen = new Set<string>(selection);
  const nodes: ElementNodeType[] = [];
  for (const stored of network.elements.values()) {
    if (!isDrawn(stored)) continue;
    const element = adjust(stored, adjusted);
    const { x, y, width, height } = boxOf(element);
    const handles =
      element.kind === 'bus'
        ? [{ id: '0', type: 'source' as const, position: Position.Top, x: 0, y: 0, width, height: busHeight }]
        : terminalsOf(element).map((terminal, k) => ({
            id: String(k),
            type: 'source' as const,
            position: Position.Top,
            x: width / 2 + terminal.x - handleSize / 2,
            y: height / 2 + terminal.y - handleSize / 2,
            width: handleSize,
            height: handleSize,
          }));
    nodes.push({
      id: element.id,
      type: 'element',
      position: { x, y },
      width,
      height,
      measured: { width, height },
      handles,
      selected: chosen.has(element.id),
      zIndex: element.kind === 'bus' ? 1 : 2,
      ariaLabel: element.name,
      data: { element, onResize },
    });
  }
  return nodes;
}

export function edgesOf(
  network: Network,
  adjusted: Adjusted,
  selection: readonly string[],
  colorAt: (element: ElementId, terminal: number) => string,
): WireEdgeType[] {
  const chosen = new Set<string>(selection);
  const drawn = (id: ElementId): Drawn | null => {
    const element = network.elements.get(id);
    return element && isDrawn(element) ? adjust(element, adjusted) : null;
  };
  const edges: WireEdgeType[] = [];
  for (const element of network.elements.values()) {
    if (element.kind === 'connection') {
      const [a, b] = [drawn(element.from.element), drawn(element.to.element)];
      if (!a || !b) continue;
      const path = pathOf(route(endPoint(a, element.from), endPoint(b, element.to)));
      edges.push({
        id: element.id,
        type: 'wire',
        source: a.id,
        sourceHandle: String(element.from.terminal),
        target: b.id,
        targetHandle: String(element.to.terminal),
        selected: chosen.has(element.id),
        data: { path, color: colorAt(element.from.element, element.from.terminal), dotted: false },
        ariaLabel: `connection from ${a.name} to ${b.name}`,
      });
    } else if (element.kind === 'relay' && element.ct !== null) {
      const [relay, ct] = [drawn(element.id), drawn(element.ct)];
      if (!relay || !ct) continue;
      const side = relay.x >= ct.x ? 1 : -1;
      const path = pathOf([
        { x: ct.x + side * 6, y: ct.y },
        { x: relay.x - side * 26, y: relay.y },
      ]);
      edges.push({
        id: `measures-${element.id}`,
        type: 'wire',
        source: ct.id,
        sourceHandle: '0',
        target: ct.id,
        targetHandle: '1',
        selectable: false,
        focusable: false,
        data: { path, color: 'var(--m-muted)', dotted: true },
      });
    }
  }
  return edges;
}
