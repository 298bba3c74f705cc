/**
 * What of the drawing can be touched, as nodes of the canvas package: transparent boxes over the painted symbols, with their terminals at
 * known places, so that nothing has to be measured. On a large sheet only what is under the hand.
 */
import { titleStrip } from '@mesura/core/drawing/boards/board';
import { Position } from '@xyflow/react';
import { boxOf, busHeight, isDrawn, type Box, type Placed } from '@mesura/core/drawing/shape/shapes';
import { terminalsOf } from '@mesura/core/drawing/shape/terminals';
import { nameOf } from '@mesura/core/model/element';
import type { ElementNodeType } from '../hands/ElementNode';
import { adjustedBy, type Adjusted } from './scene';

const handleSize = 9;
/** Up to so many symbols everything stands ready for hand, keyboard and screen reader. */
export const mostReady = 400;

/** Where an element is taken hold of: a panel by the strip with its name, so that what stands in it stays within reach. */
export function gripBox(element: Placed): Box {
  const box = boxOf(element);
  return element.kind === 'panel' ? { ...box, y: box.y + box.height - titleStrip, height: titleStrip } : box;
}

export function nodesOf(
  elements: Iterable<Placed>,
  adjusted: Adjusted,
  selected: ReadonlySet<string>,
  titleOf: (element: Placed) => string,
  cache: NodeCache,
): ElementNodeType[] {
  const nodes: ElementNodeType[] = [];
  for (const stored of elements)
    nodes.push(cache.node(adjustedBy(stored, adjusted), selected.has(stored.id), titleOf(stored)));
  return nodes;
}

/** Gives the same node again while nothing about it has changed. */
export class NodeCache {
  private readonly nodes = new Map<string, { element: Placed; node: ElementNodeType }>();

  node(element: Placed, selected: boolean, title: string): ElementNodeType {
    const known = this.nodes.get(element.id);
    if (known?.element === element && known.node.selected === selected && known.node.data.title === title)
      return known.node;
    const node = made(element, selected, title);
    this.nodes.set(element.id, { element, node });
    return node;
  }
}

function made(element: Placed, selected: boolean, title: string): ElementNodeType {
  const { x, y, width, height } = gripBox(element);
  const handles = !isDrawn(element)
    ? []
    : element.kind === 'bus'
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
  return {
    id: element.id,
    type: 'element',
    position: { x, y },
    width,
    height,
    measured: { width, height },
    handles,
    selected,
    zIndex: element.kind === 'panel' || element.kind === 'chartPicture' ? 0 : element.kind === 'bus' ? 1 : 2,
    ariaLabel: nameOf(element),
    data: { element, title },
  };
}
