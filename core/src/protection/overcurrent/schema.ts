/** Stored settings of overcurrent functions, in the relay's terms: pickup in multiples of the CT's rated current. */
import { z } from 'zod';
import { choice, functionBase, quantity, settingRangeSchema } from '../../model/deviceFunction';
import { withDefault } from '../../model/fields';
import { curvePointsSchema } from '../../model/curvePoints';

/** Characteristics of dependent-time functions, by the standard's letters; constants in `characteristics`. `own`: constants given; `points`: a table. */
export const characteristicNames = [
  'definite',
  'iecA',
  'iecB',
  'iecC',
  'ieeeD',
  'ieeeE',
  'ieeeF',
  'longTime',
  'own',
  'points',
] as const;
export type CharacteristicName = (typeof characteristicNames)[number];

/**
 * IEEE C37.2 function numbers: 51/50 phase, 51N/50N residual (3I0 of the phase currents), 51G/50G of a transformer around all conductors or in the neutral, 46
 * negative sequence, 67/67N directional, 51V with voltage, 48 start too long, 51LR locked rotor.
 */
export const functionCodes = ['51', '50', '51N', '50N', '51G', '50G', '46', '67', '67N', '51V', '48', '51LR'] as const;
export type FunctionCode = (typeof functionCodes)[number];

/** What a travel that was begun does when the current falls below pickup. */
export const resetKinds = ['instant', 'definite', 'dependent'] as const;

/** Constants of t = TM·(k/(M^α − 1) + c), and of the reset tr·TM/(1 − M²). */
const ownConstantsSchema = z.object({
  k: quantity('k', 's', { min: 0, max: 1e5 }),
  alpha: quantity('α', '', { above: 0, max: 10 }),
  c: quantity('c', 's', { min: 0, max: 1e3 }),
  tr: quantity('tr', 's', { min: 0, max: 1e4 }),
});

/** For directional functions: the current counts while it lies within the sector around the characteristic angle, ahead of the polarising voltage. */
const directionSchema = z.object({
  looks: choice('Looks', ['forward', 'reverse']),
  characteristicAngleDeg: quantity('Characteristic angle', '°', { min: -180, max: 180 }),
  sectorDeg: quantity('Half of the sector', '°', { above: 0, max: 90 }),
  /** In per cent of the rated voltage. */
  minPolarisingPercent: quantity('Least polarising voltage', '%', { min: 0, max: 100 }),
  /** Without enough voltage: by that before the fault, or not at all. */
  withoutVoltage: choice('Without voltage', ['memory', 'block']),
});

/** For 51V: what the voltage does to the pickup. */
const voltageSchema = z.object({
  mode: choice('Voltage', ['restrained', 'controlled']),
  /** Controlled: below this voltage the pickup is lowered by the factor. */
  belowPercent: quantity('Below', '%', { above: 0, max: 100 }),
  factor: quantity('Pickup factor', '', { above: 0, max: 1 }),
});

export const overcurrentFunctionSchema = z.object({
  family: z.literal('overcurrent'),
  ...functionBase,
  code: choice('Function', functionCodes),
  characteristic: choice('Characteristic', characteristicNames),
  pickup: quantity('Pickup', '× In', { above: 0, max: 100 }),
  timeMultiplier: quantity('Time multiplier', '', { above: 0, max: 100 }),
  delayS: quantity('Delay', 's', { min: 0, max: 600 }),
  ranges: z.object({ pickup: settingRangeSchema, timeMultiplier: settingRangeSchema, delayS: settingRangeSchema }),
  own: withDefault(ownConstantsSchema.nullable().meta({ title: 'Own constants' }), null),
  /** Multiples of pickup and seconds at time multiplier 1. */
  points: withDefault(curvePointsSchema.nullable().meta({ title: 'Points of the curve' }), null),
  reset: withDefault(choice('Reset', resetKinds), 'instant'),
  resetS: withDefault(quantity('Reset time', 's', { min: 0, max: 600 }), 0),
  /** Above this multiple of pickup the dependent time stays; null: never. */
  dependentTo: withDefault(quantity('Dependent time up to', '× pickup', { above: 1, max: 1000 }).nullable(), 20),
  errorPercent: withDefault(quantity('Error of the time', '%', { min: 0, max: 50 }), 5),
  errorS: withDefault(quantity('Fixed error', 's', { min: 0, max: 1 }), 0.01),
  overshootS: withDefault(quantity('Overshoot', 's', { min: 0, max: 1 }), 0.03),
  direction: withDefault(directionSchema.nullable().meta({ title: 'Direction' }), null),
  voltage: withDefault(voltageSchema.nullable().meta({ title: 'Voltage' }), null),
  /** Of a device that recloses: the operations in which it is in use. */
  operations: withDefault(choice('Operations', ['all', 'fast', 'slow']), 'all'),
});
export type OvercurrentFunction = z.infer<typeof overcurrentFunctionSchema>;
export type Direction = NonNullable<OvercurrentFunction['direction']>;
