/** Sizes of symbols and the paths of connections, in drawing units. Pure functions. */
import { terminalsOf, turned, type Point } from '@mesura/core/model/drawing';
import type { Element } from '@mesura/core/model/element';
import type { ConnectionEnd } from '@mesura/core/model/switching';

export const grid = 10;
export const snapToGrid = (value: number): number => Math.round(value / grid) * grid;

/** Kinds that stand on the drawing. */
export type Drawn = Extract<Element, { x: number; y: number }>;
export const isDrawn = (element: Element): element is Drawn => 'x' in element;

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
  load: { width: 20, height: 40 },
  shunt: { width: 30, height: 40 },
  earthingTransformer: { width: 40, height: 40 },
  relay: { width: 52, height: 22 },
};

/** Bar of a bus, thin but easy to hit. */
export const busHeight = 14;

/** Box of an element around its place; a bus starts at its place. */
export function boxOf(element: Drawn): { x: number; y: number; width: number; height: number } {
  if (element.kind === 'bus')
    return { x: element.x, y: element.y - busHeight / 2, width: element.length, height: busHeight };
  const size = sizes[element.kind] ?? { width: 20, height: 20 };
  const lying = element.turn === 90 || element.turn === 270;
  const [width, height] = lying ? [size.height, size.width] : [size.width, size.height];
  return { x: element.x - width / 2, y: element.y - height / 2, width, height };
}

/** Place of the end of a connection, and the direction in which it leaves. */
export function endPoint(element: Drawn, end: ConnectionEnd): { at: Point; out: Point | null } {
  if (element.kind === 'bus')
    return { at: { x: element.x + Math.min(end.at ?? element.length / 2, element.length), y: element.y }, out: null };
  const offset = terminalsOf(element)[end.terminal] ?? { x: 0, y: 0 };
  const size = Math.hypot(offset.x, offset.y) || 1;
  return { at: { x: element.x + offset.x, y: element.y + offset.y }, out: { x: offset.x / size, y: offset.y / size } };
}

/**
 * Orthogonal run between two ends. Straight where it can be; else it leaves each symbol along its axis and turns in the middle; from
 * a bus it leaves at a right angle.
 */
export function route(a: ReturnType<typeof endPoint>, b: ReturnType<typeof endPoint>): Point[] {
  const [p, q] = [a.at, b.at];
  if (p.x === q.x || p.y === q.y) return [p, q];
  const isUpright = (out: Point | null) => out === null || Math.abs(out.y) >= Math.abs(out.x);
  const [first, last] = [isUpright(a.out), isUpright(b.out)];
  if (first && last) {
    const y =
      a.out === null ? q.y + (b.out ? b.out.y : 0) * grid : b.out === null ? p.y + a.out.y * grid : (p.y + q.y) / 2;
    return [p, { x: p.x, y }, { x: q.x, y }, q];
  }
  if (!first && !last) {
    const x = (p.x + q.x) / 2;
    return [p, { x, y: p.y }, { x, y: q.y }, q];
  }
  return first ? [p, { x: p.x, y: q.y }, q] : [p, { x: q.x, y: p.y }, q];
}

export const pathOf = (points: readonly Point[]): string =>
  points.map((point, k) => `${k === 0 ? 'M' : 'L'}${point.x} ${point.y}`).join(' ');

export { terminalsOf, turned };
