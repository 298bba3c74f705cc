/**
 * Typical values by voltage, for elements that have just been drawn: careful starting points, each marked as assumed until somebody
 * confirms it. Short-circuit voltages are the minima of IEC 60076-5, Table 1; the rest is experience, not a standard.
 */
import type { PlaceableKind } from '../../model/defaults';
import type { Element, ElementKind } from '../../model/element';
import { usualFunctions } from '../../model/feederFunctions';

/** Fields that a calculation rests on and that a new element gets without anybody having said so. */
const restsOn: Partial<Record<ElementKind, readonly string[]>> = {
  networkFeeder: ['max.ikKa', 'max.rOverX', 'min.ikKa', 'min.rOverX'],
  line: ['lengthKm', 'r1OhmPerKm', 'x1OhmPerKm'],
  transformer: ['ratedMva', 'hvKv', 'lvKv', 'ukPercent', 'uRPercent', 'vectorGroup'],
  threeWindingTransformer: [
    'hvKv',
    'mvKv',
    'lvKv',
    'vectorGroup',
    ...['hvMv', 'hvLv', 'mvLv'].flatMap((pair) => [`${pair}.ratedMva`, `${pair}.ukPercent`, `${pair}.uRPercent`]),
  ],
  seriesReactor: ['ratedKv', 'ratedA', 'ukPercent', 'rOverX'],
  synchronousMachine: ['ratedMva', 'ratedKv', 'powerFactor', 'xd2Percent'],
  powerStationUnit: [
    'generator.ratedMva',
    'generator.ratedKv',
    'generator.xd2Percent',
    'transformer.ratedMva',
    'transformer.hvKv',
    'transformer.lvKv',
    'transformer.ukPercent',
  ],
  asynchronousMotor: ['ratedMw', 'ratedKv', 'powerFactor', 'efficiencyPercent', 'startingRatio', 'polePairs'],
  staticDrive: ['ratedMva', 'ratedKv'],
  converterSource: ['ratedMva', 'ratedKv'],
  doublyFedMachine: ['ratedMva', 'ratedKv'],
  load: ['ratedMva', 'powerFactor'],
  shunt: ['ratedMvar', 'ratedKv'],
  earthingTransformer: ['ratedKv', 'x0Ohm'],
  currentTransformer: ['primaryA', 'secondaryA'],
  voltageTransformer: ['primaryKv', 'secondaryV'],
  battery: ['cells', 'cellV', 'cellMohm', 'dischargedV', 'connectorMohm'],
  rectifier: ['ratedA', 'floatV', 'limitPercent', 'acV', 'transformerKva', 'ukPercent', 'uRPercent'],
  directMotor: ['ratedV', 'ratedA', 'armatureMohm', 'armatureMh', 'fieldShare'],
  directCapacitor: ['capacitanceMf', 'seriesMohm', 'seriesUh'],
  directLoad: ['powerW'],
  directCable: ['lengthM', 'sectionMm2'],
  relay: ['functions'],
};

/** Paths of the assumed fields of an element that has just been made; those without a value are missing, not assumed. */
export const assumedOf = (element: Element): string[] =>
  (restsOn[element.kind] ?? []).filter((path) => {
    const value = path
      .split('.')
      .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], element);
    return value !== null && value !== undefined && !(Array.isArray(value) && value.length === 0);
  });

/** The level that a transformer of a plant steps down to, in kV; never above the one given. */
export const levelBelow = (kv: number): number =>
  kv >= 100 ? 33 : kv >= 20 ? 11 : kv > 0.5 ? 0.4 : Math.min(0.23, kv);
/** The level that a transformer steps up to from here, in kV; never below the one given. */
export const levelAbove = (kv: number): number =>
  kv < 1 ? 11 : kv < 20 ? 33 : kv < 100 ? 132 : kv < 300 ? 400 : Math.max(765, kv);

/** Nominal voltages in use, in kV (IEC 60038, Tables 1 to 5). */
const nominalLevels = [
  0.23, 0.4, 0.69, 1, 3, 3.3, 6, 6.6, 10, 11, 15, 20, 22, 30, 33, 45, 66, 110, 132, 150, 220, 275, 400, 765,
];

/** The nominal voltage of the network that a winding of this rated voltage feeds: up to 6 % below it; itself when none is near. */
export function nominalFor(ratedKv: number): number {
  const near = nominalLevels.filter((nominal) => ratedKv >= nominal * 0.995 && ratedKv <= nominal * 1.06);
  return near.length > 0 ? near.reduce((p, q) => (Math.abs(ratedKv - p) < Math.abs(ratedKv - q) ? p : q)) : ratedKv;
}

/** Least short-circuit voltage by rated power in MVA: IEC 60076-5, Table 1. */
export function leastUkPercent(ratedMva: number): number {
  const steps: readonly [number, number][] = [
    [0.63, 4],
    [1.25, 5],
    [2.5, 6],
    [6.3, 7],
    [25, 8],
    [40, 10],
    [63, 11],
    [100, 12.5],
  ];
  return steps.find(([upTo]) => ratedMva <= upTo)?.[1] ?? 12.5;
}

/** Values by which an element differs from its plain default at this voltage. */
export function typicalAt(kind: PlaceableKind, kv: number): Record<string, unknown> {
  const low = kv < 1;
  switch (kind) {
    // Two volts a cell, held at 2.23.
    case 'battery':
      return { cells: Math.min(2000, Math.max(1, Math.round((1000 * kv) / 2.04))) };
    case 'rectifier':
      // Below an a.c. busbar nothing tells the voltage of its other side.
      return kv > 0.3 ? {} : { floatV: Math.round(1000 * kv * 1.09), acV: Math.round((1000 * kv * 1.15) / 1.35) };
    case 'directMotor':
      return { ratedV: Math.min(5000, 1000 * kv) };
    case 'bus':
      return { nominalKv: kv };
    case 'transformer':
      return stepDown(kv, levelBelow(kv));
    case 'threeWindingTransformer':
      return { hvKv: kv, mvKv: levelBelow(kv), lvKv: Math.min(levelBelow(kv), 11) };
    case 'line':
      if (low) return { type: 'cable', lengthKm: 0.05, r1OhmPerKm: 0.16, x1OhmPerKm: 0.08 };
      if (kv <= 40) return { type: 'cable', lengthKm: 0.5, r1OhmPerKm: 0.12, x1OhmPerKm: 0.11 };
      return { type: 'overhead', lengthKm: 10, r1OhmPerKm: 0.12, x1OhmPerKm: 0.4 };
    case 'networkFeeder': {
      const ikKa = kv >= 100 ? 20 : kv >= 20 ? 15 : low ? 25 : 10;
      const level = { given: 'current', skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
      return { max: { ...level, ikKa }, min: { ...level, ikKa: Math.round(ikKa * 0.8 * 10) / 10 } };
    }
    case 'asynchronousMotor':
      return low
        ? { ratedKv: kv, ratedMw: 0.11, efficiencyPercent: 94, powerFactor: 0.86, startingRatio: 6 }
        : { ratedKv: kv, ratedMw: 1 };
    case 'load':
      return { ratedMva: low ? 0.1 : 1 };
    case 'shunt':
      return { ratedKv: kv, ratedMvar: low ? 0.1 : 1 };
    case 'synchronousMachine':
      return low ? { ratedKv: kv, ratedMva: 0.8, xd2Percent: 15 } : { ratedKv: kv };
    case 'relay':
      return { functions: usualFunctions };
    case 'voltageTransformer':
      return { primaryKv: kv };
    case 'seriesReactor':
    case 'staticDrive':
    case 'converterSource':
    case 'doublyFedMachine':
    case 'earthingTransformer':
      return { ratedKv: kv };
    default:
      return {};
  }
}

/** A transformer between two levels, as plants usually have it. */
export function stepDown(hvKv: number, lowerKv: number): Record<string, unknown> {
  const ratedMva = hvKv >= 100 ? 40 : lowerKv >= 1 ? 10 : hvKv >= 20 ? 1.6 : hvKv >= 1 ? 1 : 0.1;
  return {
    hvKv,
    lvKv: lowerKv < 1 ? Math.min(hvKv, Math.round(lowerKv * 1.05 * 1000) / 1000) : lowerKv,
    ratedMva,
    ukPercent: leastUkPercent(ratedMva),
    uRPercent: ratedMva <= 2.5 ? 1 : 0.5,
    vectorGroup: hvKv >= 100 ? 'YNd11' : 'Dyn11',
  };
}
