/** Sizes of what stands on the drawing, in drawing units. */
import type { Element } from '../../model/element';
import type { ConnectionEnd } from '../../model/switching';
import { terminalsOf, type Point } from './terminals';

export const grid = 10;
export const snapToGrid = (value: number): number => Math.round(value / grid) * grid;

/** Whatever has a place on the drawing. */
export type Placed = Extract<Element, { x: number; y: number }>;
export const isPlaced = (element: Element): element is Placed => 'x' in element;

/** Kinds that have a symbol. */
export type Drawn = Extract<Placed, { turn: number }>;
export const isDrawn = (element: Element): element is Drawn => 'turn' in element;

export interface Box {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Whether all of q lies in p. */
export const contains = (p: Box, q: Box): boolean =>
  p.x <= q.x && p.y <= q.y && p.x + p.width >= q.x + q.width && p.y + p.height >= q.y + q.height;

export const overlaps = (p: Box, q: Box): boolean =>
  p.x < q.x + q.width && q.x < p.x + p.width && p.y < q.y + q.height && q.y < p.y + p.height;

/** The smallest box around all; null when there is none. */
export function hull(boxes: Iterable<Box>): Box | null {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { x, y, width, height } of boxes) {
    left = Math.min(left, x);
    top = Math.min(top, y);
    right = Math.max(right, x + width);
    bottom = Math.max(bottom, y + height);
  }
  return left > right ? null : { x: left, y: top, width: right - left, height: bottom - top };
}

const sizes: Partial<Record<Element['kind'], { width: number; height: number }>> = {
  switch: { width: 20, height: 20 },
  currentTransformer: { width: 20, height: 20 },
  transformer: { width: 40, height: 60 },
  line: { width: 20, height: 60 },
  threeWindingTransformer: { width: 60, height: 60 },
  seriesReactor: { width: 20, height: 60 },
  powerStationUnit: { width: 40, height: 80 },
  networkFeeder: { width: 40, height: 40 },
  synchronousMachine: { width: 40, height: 40 },
  asynchronousMotor: { width: 40, height: 40 },
  staticDrive: { width: 40, height: 40 },
  converterSource: { width: 40, height: 40 },
  doublyFedMachine: { width: 40, height: 40 },
  earthingSwitch: { width: 24, height: 40 },
  voltageTransformer: { width: 24, height: 40 },
  load: { width: 20, height: 40 },
  shunt: { width: 30, height: 40 },
  earthingTransformer: { width: 40, height: 40 },
  battery: { width: 30, height: 40 },
  rectifier: { width: 30, height: 60 },
  directMotor: { width: 40, height: 40 },
  directCapacitor: { width: 30, height: 40 },
  directLoad: { width: 20, height: 40 },
  directCable: { width: 20, height: 60 },
  relay: { width: 52, height: 22 },
};

/** Bar of a bus, thin but easy to hit. */
export const busHeight = 14;

/** Box of an element around its place; a bus starts at its place. */
export function boxOf(element: Placed): Box {
  if (element.kind === 'textNote') return noteBox(element);
  if (element.kind === 'chartPicture')
    return { x: element.x, y: element.y, width: element.width, height: element.height };
  if (element.kind === 'panel')
    return { x: element.x - element.width / 2, y: element.y, width: element.width, height: element.height };
  if (element.kind === 'bus')
    return { x: element.x, y: element.y - busHeight / 2, width: element.length, height: busHeight };
  const size = sizes[element.kind] ?? { width: 20, height: 20 };
  const lying = element.turn === 90 || element.turn === 270;
  const [width, height] = lying ? [size.height, size.width] : [size.width, size.height];
  return { x: element.x - width / 2, y: element.y - height / 2, width, height };
}

export const noteSizes = { small: 11, normal: 14, large: 20 } as const;

/** About the size of a note: exact widths would need the font. */
function noteBox({ x, y, text, size }: Extract<Placed, { kind: 'textNote' }>): Box {
  const lines = text.split('\n');
  const em = noteSizes[size];
  const widest = Math.max(...lines.map((line) => line.length));
  return {
    x,
    y,
    width: Math.max(20, Math.ceil(widest * em * 0.56) + 8),
    height: Math.ceil(lines.length * em * 1.3) + 4,
  };
}

/** Place of the end of a connection, and the direction in which it leaves. */
export function endPoint(element: Drawn, end: ConnectionEnd): { at: Point; out: Point | null } {
  if (element.kind === 'bus')
    return { at: { x: element.x + Math.min(end.at ?? element.length / 2, element.length), y: element.y }, out: null };
  const offset = terminalsOf(element)[end.terminal] ?? { x: 0, y: 0 };
  const size = Math.hypot(offset.x, offset.y) || 1;
  return { at: { x: element.x + offset.x, y: element.y + offset.y }, out: { x: offset.x / size, y: offset.y / size } };
}
