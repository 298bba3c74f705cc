/** A low-voltage board of the demo: the filter gallery at Brackwater, a dozen circuits on a page of their own. The flocculation pump's cable is too long for its fuse. */
import { newElement, type PlaceableKind } from '../core/src/model/defaults';
import { usualConsumer, usualInstallation, usualLaying, type Consumer, type Laying } from '../core/src/model/circuit';
import type { Element, ElementOf } from '../core/src/model/element';
import { elementId, type ElementId } from '../core/src/model/fields';
import { familyNamed } from '../core/src/protection/registry';
import { cableValues } from '../core/src/lowVoltage/cable';
import { withDeviceText } from '../core/src/lowVoltage/cells';
import type { Switch } from '../core/src/model/switching';

const idOf = (name: string): ElementId => elementId(name.replace(/[^A-Za-z0-9]+/g, '-').toLowerCase());
const page = elementId('page-brackwater-lv');

interface Row {
  readonly name: string;
  readonly motorKw?: number;
  readonly kw?: number;
  readonly powerFactor: number;
  readonly efficiency?: number;
  readonly metres: number;
  readonly section: number;
  readonly device: string;
  readonly consumer?: Partial<Consumer>;
  readonly laying?: Partial<Laying>;
  readonly note?: string;
}

const tray = { method: 'E', bunching: 'tray', together: 4, ambientC: 35 } as const;
const wall = { method: 'C', together: 2 } as const;

const rows: readonly Row[] = [
  {
    name: 'Flocculation pump',
    motorKw: 5.5,
    powerFactor: 0.83,
    efficiency: 89.6,
    metres: 60,
    section: 2.5,
    device: 'gG 20',
    laying: { method: 'E', ambientC: 30 },
    consumer: { startS: 0.5 },
    note: 'The cable is too long: a fault at the motor is cut off too late.',
  },
  {
    name: 'Lime slurry pump',
    motorKw: 7.5,
    powerFactor: 0.84,
    efficiency: 90.1,
    metres: 38,
    section: 10,
    device: 'gG 32',
    laying: tray,
    consumer: { startS: 1 },
  },
  {
    name: 'Backwash blower',
    motorKw: 15,
    powerFactor: 0.86,
    efficiency: 92,
    metres: 42,
    section: 25,
    device: 'gG 63',
    laying: tray,
    consumer: { startS: 3 },
  },
  {
    name: 'Sludge scraper',
    motorKw: 2.2,
    powerFactor: 0.78,
    efficiency: 84,
    metres: 55,
    section: 4,
    device: 'gG 16',
    laying: tray,
  },
  {
    name: 'Gallery crane',
    motorKw: 3,
    powerFactor: 0.8,
    efficiency: 86,
    metres: 30,
    section: 4,
    device: 'gG 16',
    laying: tray,
    consumer: { startS: 1, demandPercent: 60 },
  },
  { name: 'Air handling', kw: 9, powerFactor: 0.92, metres: 25, section: 4, device: 'C16', laying: wall },
  {
    name: 'Frost heating',
    kw: 6,
    powerFactor: 1,
    metres: 40,
    section: 4,
    device: 'C13',
    laying: wall,
    consumer: { demandPercent: 70 },
  },
  {
    name: 'Welding socket',
    kw: 12,
    powerFactor: 0.8,
    metres: 22,
    section: 10,
    device: 'C32 + 30 mA',
    laying: wall,
    consumer: { use: 'sockets', demandPercent: 60 },
  },
  {
    name: 'Gallery lights',
    kw: 1.4,
    powerFactor: 0.95,
    metres: 48,
    section: 2.5,
    device: 'B10',
    laying: wall,
    consumer: { phases: 'L1' },
  },
  {
    name: 'Sockets east',
    kw: 2.8,
    powerFactor: 0.95,
    metres: 24,
    section: 4,
    device: 'B16 + 30 mA',
    laying: wall,
    consumer: { phases: 'L2', use: 'sockets', demandPercent: 80 },
  },
  {
    name: 'Sockets west',
    kw: 2.8,
    powerFactor: 0.95,
    metres: 28,
    section: 4,
    device: 'B16 + 30 mA',
    laying: wall,
    consumer: { phases: 'L3', use: 'sockets', demandPercent: 80 },
  },
  {
    name: 'Control supply',
    kw: 0.6,
    powerFactor: 0.9,
    metres: 12,
    section: 2.5,
    device: 'B6',
    laying: wall,
    consumer: { phases: 'L1' },
  },
];

/** Distance of the circuits on the drawing. */
const pitch = 90;

export function withCircuits(list: readonly Element[]): Element[] {
  const elements: Element[] = [];
  const put = <K extends PlaceableKind>(kind: K, name: string, x: number, y: number, over: Partial<ElementOf<K>>) => {
    const element = newElement(kind, idOf(name), name, { x, y, page, ...over } as Partial<ElementOf<K>>);
    elements.push(element);
    return idOf(name);
  };
  let wires = 0;
  const join = (from: ElementId, fromTerminal: number, to: ElementId, toTerminal: number, at?: number) =>
    elements.push({
      kind: 'connection',
      id: elementId(`wire-lv-${++wires}`),
      from: { element: from, terminal: fromTerminal, ...(at !== undefined && { at }) },
      to: { element: to, terminal: toTerminal },
    });
  const cable = (section: number, metres: number, insulation: 'PVC' | 'XLPE', laying: Partial<Laying>) => ({
    ...cableValues('Cu', insulation, section)!,
    lengthKm: metres / 1000,
    laying: { ...usualLaying, ...laying },
  });

  elements.push({ kind: 'page', id: page, name: 'Brackwater gallery 0.4 kV' } as ElementOf<'page'>);
  const feeder = put('switch', 'BRA F72', 910, 980, {
    page: undefined,
    ratedA: 250,
    ratedKv: 0.69,
    breakingKa: 50,
    makingKa: 105,
    shortTimeKa: 50,
    openingTimeS: 0.01,
    functions: [
      {
        ...familyNamed('release').fresh(elementId('bra-f72-release'), 'release', null),
        ...{
          ratedA: 250,
          parts: ['longTime', 'shortTime'],
          ir: 0.9,
          trS: 8,
          isd: 6,
          tsdS: 0.1,
          ii: 12,
        },
      },
    ],
  });
  const board = put('bus', 'BRA DB1', 0, 240, {
    nominalKv: 0.4,
    ratedA: 250,
    ratedKv: 0.69,
    shortTimeKa: 16,
    peakKa: 32,
    length: pitch * rows.length,
    installation: { ...usualInstallation, dropPercent: 5, coincidencePercent: 75 },
  });
  const trunk = put('line', 'BRA WDB1', 60, 140, {
    ...cable(120, 155, 'XLPE', { method: 'E', bunching: 'tray', together: 2, ambientC: 35 }),
    note: '4 x 120 mm² copper on a tray from the transformer house.',
  });
  join(idOf('BRA 0.4-2'), 0, feeder, 0, 90);
  join(feeder, 1, trunk, 0);
  join(trunk, 1, board, 0, 60);
  rows.forEach((row, k) => {
    const x = pitch / 2 + pitch * k;
    const blank = newElement('switch', idOf(`BRA F${81 + k}`), `BRA F${81 + k}`, {
      x,
      y: 280,
      page,
      ratedKv: 0.415,
      breakingKa: row.device.startsWith('gG') ? 120 : 10,
      openingTimeS: 0.01,
    } as Partial<Switch>);
    const device = withDeviceText(blank, row.device);
    if (!device.ok) throw new Error(`${row.name}: ${device.message}`);
    elements.push(device.element);
    const line = put('line', `BRA W${81 + k}`, x, 360, {
      ...cable(row.section, row.metres, 'PVC', row.laying ?? {}),
      note: row.note ?? '',
    });
    const consumer: Consumer = { ...usualConsumer, given: 'kW', ...row.consumer };
    const end =
      row.motorKw === undefined
        ? put('load', row.name, x, 440, {
            ratedMva: Number((row.kw! / row.powerFactor / 1000).toPrecision(10)),
            powerFactor: row.powerFactor,
            circuit: consumer,
          })
        : put('asynchronousMotor', row.name, x, 440, {
            ratedMw: row.motorKw / 1000,
            ratedKv: 0.4,
            powerFactor: row.powerFactor,
            efficiencyPercent: row.efficiency!,
            startingRatio: 6.5,
            polePairs: 2,
            circuit: consumer,
          });
    join(board, 0, device.element.id, 0, x);
    join(device.element.id, 1, line, 0);
    join(line, 1, end, 0);
  });
  return [...list, ...elements];
}
