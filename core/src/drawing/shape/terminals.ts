/** Where the terminals of an element stand on the drawing: offsets from its place, turned with it. Shared by the drawing and by whatever lays it out. */
import type { Element } from '../../model/element';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Half the distance between the terminals of a symbol that stands in a run. */
const halfLength: Partial<Record<Element['kind'], number>> = {
  switch: 10,
  currentTransformer: 10,
  transformer: 30,
  line: 30,
  seriesReactor: 30,
  powerStationUnit: 40,
  rectifier: 30,
  directCable: 30,
};

/** Symbols with one terminal: its offset. */
const single: Partial<Record<Element['kind'], Point>> = {
  bus: { x: 0, y: 0 },
  networkFeeder: { x: 0, y: 20 },
  synchronousMachine: { x: 0, y: -20 },
  asynchronousMotor: { x: 0, y: -20 },
  load: { x: 0, y: -20 },
  shunt: { x: 0, y: -20 },
  earthingTransformer: { x: 0, y: -20 },
  staticDrive: { x: 0, y: -20 },
  converterSource: { x: 0, y: -20 },
  doublyFedMachine: { x: 0, y: -20 },
  earthingSwitch: { x: 0, y: -20 },
  voltageTransformer: { x: 0, y: -20 },
  battery: { x: 0, y: -20 },
  directMotor: { x: 0, y: -20 },
  directCapacitor: { x: 0, y: -20 },
  directLoad: { x: 0, y: -20 },
};

/** Terminal offsets in drawing units, in the order of the terminals; a bus has its start, connections tell how far along they attach. */
export function terminalsOf(element: Element): Point[] {
  const turn = 'turn' in element ? element.turn : 0;
  const side = 'mirrored' in element && element.mirrored ? -1 : 1;
  if (element.kind === 'threeWindingTransformer')
    return [
      { x: 0, y: -30 },
      { x: -20 * side, y: 30 },
      { x: 20 * side, y: 30 },
    ].map((point) => turned(point, turn));
  const half = halfLength[element.kind];
  const points =
    half !== undefined
      ? [
          { x: 0, y: -half },
          { x: 0, y: half },
        ]
      : single[element.kind]
        ? [single[element.kind]!]
        : [];
  return points.map((point) => turned(point, turn));
}

/** A point turned clockwise, as on the screen where y points down. */
export function turned({ x, y }: Point, degrees: number): Point {
  switch (degrees) {
    case 90:
      return { x: 0 - y, y: x };
    case 180:
      return { x: 0 - x, y: 0 - y };
    case 270:
      return { x: y, y: 0 - x };
    default:
      return { x, y };
  }
}
