/** What a cable may carry as it is laid: tables and factors of IEC 60364-5-52, annex B, as remembered; conductors of IEC 60228; k of IEC 60364-5-54. */
import {
  bunchings,
  groundClearances,
  layingMethods,
  type Bunching,
  type GroundClearance,
  type LayingMethod,
} from '../model/circuit';
import { ampacityTable, tableSections } from './ampacityTable';

export const cableMetals = ['Cu', 'Al'] as const;
export type CableMetal = (typeof cableMetals)[number];
export const cableInsulations = ['PVC', 'XLPE'] as const;
export type CableInsulation = (typeof cableInsulations)[number];

export { bunchings, groundClearances, layingMethods, type Bunching, type GroundClearance, type LayingMethod };

/** How sure a value of a table is. */
export type Sure = 'verified' | 'plausible' | 'recalled';
const sureBy: Readonly<Record<string, Sure>> = { v: 'verified', p: 'plausible', r: 'recalled' };

export interface TableValue {
  readonly ampere: number;
  readonly sure: Sure;
}

/** Current of a table; null where the section is not listed. */
export function tableCurrent(
  metal: CableMetal,
  insulation: CableInsulation,
  loaded: 2 | 3,
  method: LayingMethod,
  sectionMm2: number,
): TableValue | null {
  const column = ampacityTable[`${metal} ${insulation} ${loaded} ${method}`];
  const k = tableSections.findIndex((each) => each === sectionMm2);
  if (!column || k < 0) return null;
  const ampere = column[k + 1] as number;
  return ampere > 0 ? { ampere, sure: sureBy[column[0][k]] } : null;
}

const hottest: Readonly<Record<CableInsulation, number>> = { PVC: 70, XLPE: 90 };
export const isInGround = (method: LayingMethod): boolean => method === 'D1' || method === 'D2';

/** Tables B.52.14 (air, 30 °C) and B.52.15 (ground, 20 °C), in steps of 5 K from 10 °C. */
const ambientTable = {
  'air PVC': [1.22, 1.17, 1.12, 1.06, 1, 0.94, 0.87, 0.79, 0.71, 0.61, 0.5],
  'air XLPE': [1.15, 1.12, 1.08, 1.04, 1, 0.96, 0.91, 0.87, 0.82, 0.76, 0.71, 0.65, 0.58, 0.5, 0.41],
  'ground PVC': [1.1, 1.05, 1, 0.95, 0.89, 0.84, 0.77, 0.71, 0.63, 0.55, 0.45],
  'ground XLPE': [1.07, 1.04, 1, 0.96, 0.93, 0.89, 0.85, 0.8, 0.76, 0.71, 0.65, 0.6, 0.53, 0.46, 0.38],
} as const;

/** By the table where the temperature stands in it, else by the formula that it was made of: √((θ − θa)/(θ − θ0)); nought where the surroundings are as hot as the conductor may be. */
export function ambientFactor(insulation: CableInsulation, method: LayingMethod, celsius: number): number {
  const where = isInGround(method) ? 'ground' : 'air';
  const k = (celsius - 10) / 5;
  const listed = Number.isInteger(k) && k >= 0 ? ambientTable[`${where} ${insulation}`].at(k) : undefined;
  if (listed !== undefined && k < ambientTable[`${where} ${insulation}`].length) return listed;
  const top = hottest[insulation];
  return Math.sqrt(Math.max(0, top - celsius) / (top - (where === 'air' ? 30 : 20)));
}

/** Circuits beside each other, table B.52.17; the numbers are remembered. */
const listedCounts = [1, 2, 3, 4, 5, 6, 7, 8, 9, 12, 16, 20] as const;
const bunchingTable: Readonly<Record<Bunching, readonly number[]>> = {
  bunched: [1, 0.8, 0.7, 0.65, 0.6, 0.57, 0.54, 0.52, 0.5, 0.45, 0.41, 0.38],
  layer: [1, 0.85, 0.79, 0.75, 0.73, 0.72, 0.72, 0.71, 0.7],
  ceiling: [0.95, 0.81, 0.72, 0.68, 0.66, 0.64, 0.63, 0.62, 0.61],
  tray: [1, 0.88, 0.82, 0.77, 0.75, 0.73, 0.73, 0.72, 0.72],
  ladder: [1, 0.87, 0.82, 0.8, 0.8, 0.79, 0.79, 0.78, 0.78],
};

/** Cables in the ground, tables B.52.18 and B.52.19. */
const directTable: Partial<Readonly<Record<GroundClearance, readonly number[]>>> = {
  touching: [1, 0.75, 0.65, 0.6, 0.55, 0.5, 0.45, 0.43, 0.41, 0.36, 0.32, 0.29],
  diameter: [1, 0.8, 0.7, 0.6, 0.55, 0.55, 0.51, 0.48, 0.46, 0.42, 0.38, 0.35],
  '0.125 m': [1, 0.85, 0.75, 0.7, 0.65, 0.6, 0.59, 0.57, 0.55, 0.51, 0.47, 0.44],
  '0.25 m': [1, 0.9, 0.8, 0.75, 0.7, 0.7, 0.67, 0.65, 0.63, 0.59, 0.56, 0.53],
  '0.5 m': [1, 0.9, 0.85, 0.8, 0.8, 0.8, 0.76, 0.75, 0.74, 0.71, 0.68, 0.66],
};
const ductTable: Partial<Readonly<Record<GroundClearance, readonly number[]>>> = {
  touching: [1, 0.85, 0.75, 0.7, 0.65, 0.6],
  '0.25 m': [1, 0.9, 0.85, 0.8, 0.8, 0.8],
  '0.5 m': [1, 0.95, 0.9, 0.85, 0.85, 0.8],
  '1 m': [1, 0.95, 0.95, 0.9, 0.9, 0.9],
};

/** Of so many circuits side by side; between listed numbers the next larger one counts, beyond the last one the last. Null where the arrangement is not listed for the method. */
export function groupingFactor(
  method: LayingMethod,
  circuits: number,
  bunching: Bunching,
  clearance: GroundClearance,
): number | null {
  const row =
    method === 'D1' ? ductTable[clearance] : method === 'D2' ? directTable[clearance] : bunchingTable[bunching];
  if (!row) return null;
  const k = listedCounts.findIndex((count) => count >= circuits);
  return row[k < 0 ? row.length - 1 : Math.min(k, row.length - 1)];
}

/** Table B.52.16, remembered: K·m/W, then in ducts and directly in the ground. */
const soilTable = [
  [0.5, 1.28, 1.88],
  [0.7, 1.2, 1.62],
  [1, 1.18, 1.5],
  [1.5, 1.1, 1.28],
  [2, 1.05, 1.12],
  [2.5, 1, 1],
  [3, 0.96, 0.9],
] as const;

/** Straight between the values of the table, the nearest one beyond; 1 above ground. */
export function soilFactor(method: LayingMethod, kelvinMetrePerWatt: number): number {
  if (!isInGround(method)) return 1;
  const column = method === 'D1' ? 1 : 2;
  const at = Math.min(3, Math.max(0.5, kelvinMetrePerWatt));
  const k = Math.max(
    1,
    soilTable.findIndex(([each]) => each >= at),
  );
  const [low, high] = [soilTable[k - 1], soilTable[k]];
  return low[column] + ((high[column] - low[column]) * (at - low[0])) / (high[0] - low[0]);
}

/** IEC 60228, class 2, Ω/km at 20 °C, remembered: section, copper, aluminium. */
export const conductors: readonly (readonly [mm2: number, copper: number, aluminium: number | null])[] = [
  [1.5, 12.1, null],
  [2.5, 7.41, null],
  [4, 4.61, null],
  [6, 3.08, null],
  [10, 1.83, 3.08],
  [16, 1.15, 1.91],
  [25, 0.727, 1.2],
  [35, 0.524, 0.868],
  [50, 0.387, 0.641],
  [70, 0.268, 0.443],
  [95, 0.193, 0.32],
  [120, 0.153, 0.253],
  [150, 0.124, 0.206],
  [185, 0.0991, 0.164],
  [240, 0.0754, 0.125],
  [300, 0.0601, 0.1],
  [400, 0.047, 0.0778],
  [500, 0.0366, 0.0605],
  [630, 0.0283, 0.0469],
];

/** Standard sections, mm². */
export const sections: readonly number[] = conductors.map(([mm2]) => mm2);

/** Ω/km at 20 °C; null where the section is not made in this metal. */
export const resistanceAt20 = (metal: CableMetal, sectionMm2: number): number | null =>
  conductors.find(([mm2]) => mm2 === sectionMm2)?.[metal === 'Cu' ? 1 : 2] ?? null;

/** Typical of four-core cables at 50 Hz, Ω/km. */
const reactances = [
  0.115, 0.11, 0.107, 0.1, 0.094, 0.09, 0.086, 0.083, 0.083, 0.082, 0.082, 0.08, 0.08, 0.08, 0.079, 0.079,
];
export const typicalReactance = (sectionMm2: number): number =>
  reactances[
    Math.min(
      reactances.length - 1,
      Math.max(
        0,
        sections.findIndex((mm2) => mm2 >= sectionMm2),
      ),
    )
  ];

/** k of a conductor in a cable, A·√s/mm² (IEC 60364-4-43, table 43A; IEC 60364-5-54, annex A). */
export const adiabaticK = (metal: CableMetal, insulation: CableInsulation, sectionMm2: number): number =>
  insulation === 'XLPE'
    ? metal === 'Cu'
      ? 143
      : 94
    : sectionMm2 > 300
      ? metal === 'Cu'
        ? 103
        : 68
      : metal === 'Cu'
        ? 115
        : 76;

/** Protective conductor that goes with a phase: the same up to 16 mm², 16 up to 35, then the standard section from half of it on (IEC 60364-5-54, table 54.2). */
export function protectiveSection(phaseMm2: number): number {
  if (phaseMm2 <= 16) return phaseMm2;
  if (phaseMm2 <= 35) return 16;
  return sections.find((mm2) => mm2 >= phaseMm2 / 2) ?? phaseMm2;
}
