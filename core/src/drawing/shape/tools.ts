/** Tools that place symbols: one key each, and the first letters of the names they give. */
import { newElement, type PlaceableKind } from '../../model/defaults';
import { directKinds } from '../../model/direct';
import type { ElementOf } from '../../model/element';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import { currentInput } from '../../model/protection';
import { FreeNames } from '../parts/fragment';
import type { Drawn } from './shapes';
import { assumedOf, typicalAt } from './typical';

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
  { kind: 'switch', key: ';', title: 'Recloser', prefix: 'R', over: { type: 'recloser' } },
  { kind: 'switch', key: ',', title: 'Contactor', prefix: 'K', over: { type: 'contactor' } },
  { kind: 'currentTransformer', key: 'c', title: 'Current transformer', prefix: 'CT' },
  { kind: 'voltageTransformer', key: 'q', title: 'Voltage transformer', prefix: 'VT' },
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
  { kind: 'bus', key: 'shift+b', title: 'D.c. board', prefix: 'DC ', over: { system: 'dc', nominalKv: 0.11 } },
  { kind: 'battery', key: 'shift+a', title: 'Battery', prefix: 'B' },
  { kind: 'rectifier', key: 'shift+u', title: 'Charger or rectifier', prefix: 'U' },
  { kind: 'directCable', key: 'shift+l', title: 'D.c. cable', prefix: 'W' },
  { kind: 'directLoad', key: 'shift+o', title: 'D.c. load', prefix: 'DL ' },
  { kind: 'directMotor', key: 'shift+m', title: 'D.c. motor', prefix: 'DM' },
  { kind: 'directCapacitor', key: 'shift+k', title: 'D.c. capacitor', prefix: 'DK' },
];

/** Those of direct current stand together in the palette. */
export const isDirectTool = ({ kind, over }: Tool): boolean =>
  (directKinds as readonly string[]).includes(kind) || over?.system === 'dc';

/** The tool that places elements like this one. */
export const toolFor = (element: Drawn): Tool =>
  tools.find(
    (tool) =>
      tool.kind === element.kind &&
      (element.kind !== 'switch' || tool.over?.type === element.type) &&
      (element.kind !== 'bus' || (tool.over?.system ?? 'ac') === element.system),
  ) ?? tools.find((tool) => tool.kind === element.kind)!;

/** A new element of a tool with the next free name, with typical values for the voltage where it stands, marked as assumed. */
export function made(
  tool: Tool,
  id: ElementId,
  names: FreeNames,
  kv: number | null,
  over: Record<string, unknown> = {},
): Drawn {
  const element = newElement(tool.kind, id, names.next(`${tool.prefix}1`), {
    // What a relay usually does is no matter of the voltage.
    ...(kv === null && tool.kind !== 'relay' ? {} : typicalAt(tool.kind, kv ?? 0)),
    ...tool.over,
    ...over,
  } as never) as Drawn;
  const assumed = assumedOf(element);
  return assumed.length > 0 ? { ...element, assumed } : element;
}

/** The element that a tool places at a point; a relay takes the current transformer next to it. */
export function placedBy(tool: Tool, network: Network, id: ElementId, x: number, y: number): Drawn {
  const over: Record<string, unknown> = { x, y };
  if (tool.kind === 'relay') over.inputs = [currentInput(nearestCt(network, x, y))];
  return made(tool, id, new FreeNames(network.elements.values()), null, over);
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
