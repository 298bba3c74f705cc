/** Tools that place symbols: one key each, and the first letters of the names they give. */
import { freeName, newElement, type PlaceableKind } from '@mesura/core/model/defaults';
import type { Element, ElementOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Network } from '@mesura/core/model/network';

export interface Tool {
  kind: PlaceableKind;
  key: string;
  title: string;
  prefix: string;
  over?: Partial<ElementOf<'switch'>> & Record<string, unknown>;
}

export const tools: readonly Tool[] = [
  { kind: 'bus', key: 'b', title: 'Bus', prefix: 'Bus ' },
  { kind: 'networkFeeder', key: 'n', title: 'Network feeder', prefix: 'Feeder ' },
  { kind: 'switch', key: 'k', title: 'Breaker', prefix: 'Q', over: { type: 'breaker' } },
  { kind: 'switch', key: 'd', title: 'Disconnector', prefix: 'D', over: { type: 'disconnector' } },
  { kind: 'switch', key: 'f', title: 'Fuse', prefix: 'F', over: { type: 'fuse' } },
  { kind: 'switch', key: 'j', title: 'Link', prefix: 'J', over: { type: 'link' } },
  { kind: 'currentTransformer', key: 'c', title: 'Current transformer', prefix: 'CT' },
  { kind: 'transformer', key: 't', title: 'Transformer', prefix: 'T' },
  {
    kind: 'threeWindingTransformer',
    key: 'w',
    title: 'Three-winding transformer',
    prefix: 'T',
  },
  { kind: 'seriesReactor', key: 'x', title: 'Series reactor', prefix: 'XR' },
  { kind: 'line', key: 'l', title: 'Line or cable', prefix: 'L' },
  { kind: 'synchronousMachine', key: 'g', title: 'Synchronous machine', prefix: 'G' },
  { kind: 'powerStationUnit', key: 'u', title: 'Power-station unit', prefix: 'U' },
  { kind: 'converterSource', key: 'v', title: 'Full-converter source', prefix: 'V' },
  { kind: 'doublyFedMachine', key: 'y', title: 'Doubly-fed machine', prefix: 'W' },
  { kind: 'asynchronousMotor', key: 'm', title: 'Motor', prefix: 'M' },
  { kind: 'staticDrive', key: 's', title: 'Static drive', prefix: 'MD' },
  { kind: 'load', key: 'o', title: 'Load', prefix: 'Load ' },
  { kind: 'shunt', key: 'h', title: 'Shunt', prefix: 'C' },
  { kind: 'earthingTransformer', key: 'e', title: 'Earthing transformer', prefix: 'NET ' },
  { kind: 'earthingSwitch', key: 'i', title: 'Earthing switch', prefix: 'E' },
  { kind: 'relay', key: 'r', title: 'Relay', prefix: 'Relay ' },
];

export const newId = (): ElementId =>
  `e-${Date.now().toString(36)}${Math.random().toString(36).slice(2, 8)}` as ElementId;

/** The element that a tool places at a point; a relay takes the current transformer next to it. */
export function placed(tool: Tool, network: Network, x: number, y: number): Element {
  const name = freeName(network.elements.values(), tool.prefix);
  const over = { x, y, ...tool.over } as Record<string, unknown>;
  if (tool.kind === 'relay') over.ct = nearestCt(network, x, y);
  return newElement(tool.kind, newId(), name, over as never);
}

function nearestCt(network: Network, x: number, y: number): ElementId | null {
  let best: ElementId | null = null;
  let distance = 120;
  for (const element of network.elements.values()) {
    if (element.kind !== 'currentTransformer') continue;
    const away = Math.hypot(element.x - x, element.y - y);
    if (away < distance) [best, distance] = [element.id, away];
  }
  return best;
}
