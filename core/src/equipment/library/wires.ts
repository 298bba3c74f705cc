/** Wires by themselves: shield wires, conductors in the ground; what a place on a tower or beside a cable takes over. Generic. */

import { resistanceAt20 } from '../../circuits/ampacity';
import { steelCored } from './lines';

export interface Wire {
  readonly key: string;
  readonly title: string;
  readonly rOhmPerKm: number;
  /** Geometric mean radius, for the inductance. */
  readonly gmrMm: number;
  readonly radiusMm: number;
  readonly sectionMm2: number;
  readonly metal: 'copper' | 'aluminium' | 'steel';
  readonly source: string;
}

const round = (value: number): number => Number(value.toPrecision(3));

/** Stranded: a geometric mean radius of so much of its own. */
const strandedGmr = { seven: 0.726, nineteen: 0.758 };

const copper = ([mm2, diameterMm]: readonly [number, number]): Wire => ({
  key: `copper-${mm2}`,
  title: `Copper, stranded, ${mm2} mm²`,
  rOhmPerKm: resistanceAt20('Cu', mm2)!,
  gmrMm: round((diameterMm / 2) * (mm2 < 70 ? strandedGmr.seven : strandedGmr.nineteen)),
  radiusMm: diameterMm / 2,
  sectionMm2: mm2,
  metal: 'copper',
  source: 'R: IEC 60228, Table 2; diameter typical',
});

const steelCoredWire = ([mm2, diameterMm, ohm]: (typeof steelCored)[number]): Wire => ({
  key: `alst-${mm2}`,
  title: `Al/St ${mm2} mm²`,
  rOhmPerKm: ohm,
  gmrMm: round((diameterMm / 2) * 0.81),
  radiusMm: diameterMm / 2,
  sectionMm2: mm2,
  metal: 'aluminium',
  source: 'R: EN 50182; geometric mean radius typical',
});

/** The current of a fault magnetises it: it has more inductance than its strands by themselves. */
const steel = ([mm2, diameterMm, ohm]: readonly [number, number, number]): Wire => ({
  key: `steel-${mm2}`,
  title: `Steel, galvanised, ${mm2} mm²`,
  rOhmPerKm: ohm,
  gmrMm: round((diameterMm / 2) * 0.0025),
  radiusMm: diameterMm / 2,
  sectionMm2: mm2,
  metal: 'steel',
  source: 'typical, at some hundred amperes',
});

const withFibres = ([mm2, diameterMm, ohm]: readonly [number, number, number]): Wire => ({
  key: `fibre-${mm2}`,
  title: `Shield wire with fibres, ${mm2} mm² aluminium`,
  rOhmPerKm: ohm,
  gmrMm: round((diameterMm / 2) * 0.8),
  radiusMm: diameterMm / 2,
  sectionMm2: mm2,
  metal: 'aluminium',
  source: 'typical',
});

/** Sections that are strung as shield wires. */
const shielding: readonly number[] = [50, 70, 95, 120, 185, 240];

export const wires: readonly Wire[] = [
  ...steelCored.filter(([mm2]) => shielding.includes(mm2)).map(steelCoredWire),
  ...(
    [
      [60, 12.4, 0.47],
      [80, 13.8, 0.36],
      [120, 16.2, 0.24],
    ] as const
  ).map(withFibres),
  ...(
    [
      [35, 7.5, 5.4],
      [50, 9, 3.8],
      [70, 10.5, 2.8],
    ] as const
  ).map(steel),
  ...(
    [
      [35, 7.6],
      [50, 9],
      [70, 10.7],
      [95, 12.6],
      [120, 14.2],
    ] as const
  ).map(copper),
];
