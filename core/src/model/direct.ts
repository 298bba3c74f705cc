/** What direct current is made of: batteries, chargers and rectifiers, motors, capacitors, loads and cables. Busbars, switches and fuses are those of every network. */
import { z } from 'zod';
import { choice, optionalQuantity, placed, quantity, rating } from './fields';

/** Stationary battery: strings of like cells in parallel (IEC 61660-1, 2.3). */
export const batterySchema = z.object({
  kind: z.literal('battery'),
  ...placed,
  cells: z.int().min(1).max(2000).meta({ title: 'Cells in series' }),
  strings: z.int().min(1).max(50).meta({ title: 'Strings in parallel' }),
  capacityAh: optionalQuantity('Capacity of a string', 'Ah', { above: 0 }, { symbol: 'C10' }),
  cellV: quantity('Open-circuit voltage, charged', 'V/cell', { above: 0 }, { symbol: 'EB' }),
  cellMohm: quantity('Resistance, charged', 'mΩ/cell', { above: 0 }, { symbol: 'RB' }),
  dischargedV: quantity('Open-circuit voltage at the end of discharge', 'V/cell', { above: 0 }),
  dischargedMohm: optionalQuantity('Resistance at the end of discharge', 'mΩ/cell', { above: 0 }),
  connectorMohm: quantity('Connectors', 'mΩ/cell', { min: 0 }),
  inductanceUh: optionalQuantity('Inductance', 'µH', { above: 0 }, { symbol: 'LB' }),
});
export type Battery = z.infer<typeof batterySchema>;

const bridge = { shownWhen: { field: 'type', is: ['bridge'] } };
const limited = { shownWhen: { field: 'type', is: ['limited'] } };

/** Charger or rectifier; terminal 0 on the a.c. side, terminal 1 on the d.c. side. */
export const rectifierSchema = z.object({
  kind: z.literal('rectifier'),
  ...placed,
  type: choice('Type', ['limited', 'bridge']),
  ratedA: quantity('Rated direct current', 'A', { above: 0 }, { symbol: 'Ir' }),
  floatV: quantity('Voltage held', 'V', { above: 0, max: 5000 }, limited),
  limitPercent: quantity('Current limit', '% of Ir', { min: 50, max: 300 }, limited),
  /** Of the transformer of a bridge, referred to its secondary side. */
  acV: quantity('No-load voltage of the valve side', 'V', { above: 0, max: 5000 }, { symbol: 'Un', ...bridge }),
  transformerKva: quantity('Transformer', 'kVA', { above: 0 }, { symbol: 'SrT', ...bridge }),
  ukPercent: quantity('Short-circuit voltage uk', '%', { above: 0, max: 100 }, { symbol: 'ukr', ...bridge }),
  uRPercent: quantity('Its resistive part uR', '%', { min: 0, max: 100 }, { symbol: 'uRr', ...bridge }),
  skMva: optionalQuantity('Sk″ of the a.c. network', 'MVA', { above: 0 }, { symbol: 'Sk″', ...bridge }),
  smoothingMohm: quantity('Smoothing reactor, R', 'mΩ', { min: 0 }, { symbol: 'RS', ...bridge }),
  smoothingMh: quantity('Smoothing reactor, L', 'mH', { min: 0 }, { symbol: 'LS', ...bridge }),
  efficiencyPercent: quantity('Efficiency', '%', { above: 10, max: 100 }, { symbol: 'η' }),
  powerFactor: quantity('Power factor of the a.c. side', '', { above: 0, max: 1 }, { symbol: 'cos φ' }),
});
export type Rectifier = z.infer<typeof rectifierSchema>;

/** Direct-current motor with independent excitation (IEC 61660-1, 2.5). */
export const directMotorSchema = z.object({
  kind: z.literal('directMotor'),
  ...placed,
  ratedV: quantity('Rated voltage', 'V', { above: 0, max: 5000 }, { symbol: 'UrM' }),
  ratedA: quantity('Rated current', 'A', { above: 0 }, { symbol: 'IrM' }),
  armatureMohm: quantity('Armature circuit, R', 'mΩ', { above: 0 }, { symbol: 'RM' }),
  armatureMh: quantity('Armature circuit, L', 'mH', { above: 0 }, { symbol: 'LM' }),
  fieldShare: quantity('LF/L0F', '', { min: 0, max: 1 }),
  fieldS: quantity('Field time constant', 's', { above: 0, max: 100 }, { symbol: 'τF' }),
});
export type DirectMotor = z.infer<typeof directMotorSchema>;

/** Smoothing or energy-storing capacitor (IEC 61660-1, 2.4). */
export const directCapacitorSchema = z.object({
  kind: z.literal('directCapacitor'),
  ...placed,
  capacitanceMf: quantity('Capacitance', 'mF', { above: 0 }, { symbol: 'C' }),
  seriesMohm: quantity('Series resistance', 'mΩ', { above: 0 }, { symbol: 'RC' }),
  seriesUh: quantity('Series inductance', 'µH', { above: 0 }, { symbol: 'LC' }),
});
export type DirectCapacitor = z.infer<typeof directCapacitorSchema>;

/** Load of direct current; gives no fault current. */
export const directLoadSchema = z.object({
  kind: z.literal('directLoad'),
  ...placed,
  powerW: quantity('Power at nominal voltage', 'W', { min: 0 }, { symbol: 'P' }),
  behaves: choice('Behaves as', ['constantPower', 'constantCurrent', 'constantImpedance']),
  lowestPercent: quantity('Lowest voltage', '% Un', { min: 10, max: 100 }),
});
export type DirectLoad = z.infer<typeof directLoadSchema>;

/** Two-core cable or pair of conductors, or a busbar run: go and return. */
export const directCableSchema = z.object({
  kind: z.literal('directCable'),
  ...placed,
  lengthM: quantity('Length, one way', 'm', { above: 0, max: 1e5 }, { symbol: 'l' }),
  sectionMm2: quantity('Cross-section', 'mm²', { above: 0, max: 5000 }, { symbol: 'S' }),
  metal: choice('Conductor', ['copper', 'aluminium']),
  parallel: z.int().min(1).max(20).meta({ title: 'Cables in parallel' }),
  inductanceUhPerM: quantity('Inductance of the loop', 'µH/m', { above: 0, max: 10 }, { symbol: 'L′' }),
  serviceTemperatureC: quantity('Conductor in service', '°C', { min: 20, max: 150 }, { symbol: 'θ' }),
  ratedA: rating('Rated current', 'A', 1e5, { symbol: 'Iz' }),
});
export type DirectCable = z.infer<typeof directCableSchema>;

export const directKinds = [
  'battery',
  'rectifier',
  'directMotor',
  'directCapacitor',
  'directLoad',
  'directCable',
] as const;
export type DirectKind = (typeof directKinds)[number];
