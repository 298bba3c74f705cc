/** Usual gaps, enclosures and working distances of equipment, and what a place is taken to be. IEEE 1584-2018, Tables 8 to 10, and 2002, Tables 2 to 4, as remembered. */
import type { ArcEquipmentKind, ArcPlaceData } from '../model/arc';
import { usualArcPlace } from '../model/arc';
import type { Electrodes } from './coefficients';
import { isBoxed } from './coefficients';
import type { ArcPlace2018 } from './ieee2018';
import type { ArcPlace2002 } from './ieee2002';

export interface Equipment {
  readonly title: string;
  readonly electrodes: Electrodes;
  readonly gapMm: number;
  readonly distanceMm: number;
  readonly heightMm: number;
  readonly widthMm: number;
  readonly depthMm: number;
  /** Distance exponent of the 2002 edition. */
  readonly exponent: number;
}

export const equipment: Readonly<Record<Exclude<ArcEquipmentKind, 'byVoltage'>, Equipment>> = {
  switchgear15: {
    title: 'switchgear, up to 15 kV',
    electrodes: 'VCB',
    gapMm: 152,
    distanceMm: 914.4,
    heightMm: 1143,
    widthMm: 762,
    depthMm: 762,
    exponent: 0.973,
  },
  switchgear5: {
    title: 'switchgear, up to 5 kV',
    electrodes: 'VCB',
    gapMm: 104,
    distanceMm: 914.4,
    heightMm: 914.4,
    widthMm: 914.4,
    depthMm: 914.4,
    exponent: 0.973,
  },
  lowVoltageSwitchgear: {
    title: 'low-voltage switchgear',
    electrodes: 'VCB',
    gapMm: 32,
    distanceMm: 609.6,
    heightMm: 508,
    widthMm: 508,
    depthMm: 508,
    exponent: 1.473,
  },
  controlCentre: {
    title: 'motor control centre, distribution board',
    electrodes: 'VCB',
    gapMm: 25,
    distanceMm: 457.2,
    heightMm: 355.6,
    widthMm: 304.8,
    depthMm: 203.2,
    exponent: 1.641,
  },
  cableBox: {
    title: 'cable box',
    electrodes: 'VCB',
    gapMm: 13,
    distanceMm: 457.2,
    heightMm: 355.6,
    widthMm: 304.8,
    depthMm: 203.2,
    exponent: 2,
  },
  openAir: {
    title: 'open air',
    electrodes: 'VOA',
    gapMm: 152,
    distanceMm: 914.4,
    heightMm: 508,
    widthMm: 508,
    depthMm: 508,
    exponent: 2,
  },
};

export const equipmentOf = (kind: ArcEquipmentKind, voltageKv: number): Equipment => {
  if (kind !== 'byVoltage') return equipment[kind];
  if (voltageKv > 15) return equipment.openAir;
  if (voltageKv > 5) return equipment.switchgear15;
  return voltageKv > 1 ? equipment.switchgear5 : equipment.lowVoltageSwitchgear;
};

/** A place with every value, and which of them nobody has given. */
export interface ArcPlace extends ArcPlace2018 {
  readonly title: string;
  readonly exponent: number;
  readonly assumed: readonly (keyof ArcPlaceData)[];
}

const sizes = ['electrodes', 'gapMm', 'distanceMm', 'heightMm', 'widthMm', 'depthMm'] as const;

export function arcPlace(data: ArcPlaceData | undefined, voltageKv: number): ArcPlace {
  const given = data ?? usualArcPlace;
  const usual = equipmentOf(given.equipment, voltageKv);
  const electrodes = given.electrodes ?? usual.electrodes;
  return {
    title: usual.title,
    electrodes,
    voltageKv,
    gapMm: given.gapMm ?? usual.gapMm,
    distanceMm: given.distanceMm ?? usual.distanceMm,
    enclosure: {
      heightMm: given.heightMm ?? usual.heightMm,
      widthMm: given.widthMm ?? usual.widthMm,
      depthMm: given.depthMm ?? usual.depthMm,
    },
    exponent: usual.exponent,
    assumed: sizes.filter(
      (field) => given[field] === null && (isBoxed(electrodes) || !/height|width|depth/.test(field)),
    ),
  };
}

export const as2002 = (
  { electrodes, voltageKv, gapMm, distanceMm, exponent }: ArcPlace,
  earthed: boolean,
): ArcPlace2002 => ({
  inBox: isBoxed(electrodes),
  voltageKv,
  gapMm,
  distanceMm,
  distanceExponent: isBoxed(electrodes) ? exponent : 2,
  earthed,
});
