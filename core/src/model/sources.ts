/** Elements that feed or take current at one terminal. */
import { z } from 'zod';
import { choice, neutralSchema, optionalQuantity, placed, quantity } from './fields';

const feederLevelSchema = z
  .object({
    given: choice('Given as', ['current', 'power']),
    ikKa: optionalQuantity(
      'Ik″',
      'kA',
      { above: 0 },
      { shownWhen: { field: 'given', is: ['current'] }, symbol: 'Ik″Q' },
    ),
    skMva: optionalQuantity(
      'Sk″',
      'MVA',
      { above: 0 },
      { shownWhen: { field: 'given', is: ['power'] }, symbol: 'Sk″Q' },
    ),
    rOverX: quantity('R/X', '', { min: 0, max: 10 }, { symbol: 'RQ/XQ' }),
    x0OverX1: optionalQuantity('X0/X1', '', { above: 0 }, { symbol: 'X0/X1' }),
    r0OverX0: optionalQuantity('R0/X0', '', { min: 0, max: 10 }, { symbol: 'R0/X0' }),
  })
  .superRefine((level, context) => {
    const field = level.given === 'current' ? 'ikKa' : 'skMva';
    if (level[field] === null) context.addIssue({ code: 'custom', path: [field], message: 'must be given' });
  });

/** Infeed from a network that is not modelled: its fault level at the point of connection (IEC 60909-0, 6.2). */
export const networkFeederSchema = z.object({
  kind: z.literal('networkFeeder'),
  ...placed,
  earthed: z.boolean().meta({ title: 'Neutral of the network earthed' }),
  max: feederLevelSchema.meta({ title: 'Maximum sources' }),
  min: feederLevelSchema.meta({ title: 'Minimum sources' }),
});

/** Synchronous generator, compensator or motor connected to the network directly (IEC 60909-0, 6.6). */
export const synchronousMachineSchema = z.object({
  kind: z.literal('synchronousMachine'),
  ...placed,
  ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrG' }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrG' }),
  powerFactor: quantity('Rated power factor', '', { above: 0, max: 1 }, { symbol: 'cos φrG' }),
  xd2Percent: quantity('Subtransient reactance x″d', '%', { above: 0, max: 200 }, { symbol: 'x″d' }),
  x2Percent: optionalQuantity('Negative-sequence reactance x2', '%', { above: 0 }, { symbol: 'x2' }),
  x0Percent: optionalQuantity('Zero-sequence reactance x0', '%', { above: 0 }, { symbol: 'x0' }),
  rOhm: optionalQuantity(
    'Stator resistance',
    'Ω',
    { min: 0 },
    { symbol: 'RG', help: 'Empty: RGf of IEC 60909-0, 6.6.1' },
  ),
  regulationPercent: quantity('Voltage regulation pG', '%', { min: 0, max: 20 }, { symbol: 'pG' }),
  neutral: neutralSchema.meta({ title: 'Neutral' }),
  runsAtMinimum: z.boolean().meta({ title: 'Runs at minimum sources' }),
});

/** Asynchronous motor, or a group of like motors (IEC 60909-0, 6.10). */
export const asynchronousMotorSchema = z.object({
  kind: z.literal('asynchronousMotor'),
  ...placed,
  ratedMw: quantity('Rated power (shaft)', 'MW', { above: 0 }, { symbol: 'PrM' }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }, { symbol: 'UrM' }),
  powerFactor: quantity('Power factor', '', { above: 0, max: 1 }, { symbol: 'cos φrM' }),
  efficiencyPercent: quantity('Efficiency', '%', { above: 0, max: 100 }, { symbol: 'η' }),
  startingRatio: quantity('Starting current ILR/IrM', '', { above: 0, max: 20 }, { symbol: 'ILR/IrM' }),
  polePairs: z.int().min(1).max(60).meta({ title: 'Pole pairs' }),
  count: z.int().min(1).max(500).meta({ title: 'Like motors' }),
  rOverX: optionalQuantity(
    'R/X',
    '',
    { above: 0, max: 5 },
    { symbol: 'RM/XM', help: 'Empty: by rating, IEC 60909-0, 6.10' },
  ),
});

/** Passive load; gives no fault current (IEC 60909-0, 6.12). */
export const loadSchema = z.object({
  kind: z.literal('load'),
  ...placed,
  ratedMva: quantity('Apparent power', 'MVA', { min: 0 }),
  powerFactor: quantity('Power factor', '', { above: 0, max: 1 }),
});

/** Shunt capacitor or reactor; left out of fault calculations by the equivalent voltage source (IEC 60909-0, 6.12). */
export const shuntSchema = z.object({
  kind: z.literal('shunt'),
  ...placed,
  type: choice('Type', ['capacitor', 'reactor']),
  ratedMvar: quantity('Rated power', 'Mvar', { above: 0 }),
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }),
});

/** Earthing (zigzag) transformer with its neutral impedance: an earth path of the zero sequence and nothing else. */
export const earthingTransformerSchema = z.object({
  kind: z.literal('earthingTransformer'),
  ...placed,
  ratedKv: quantity('Rated voltage', 'kV', { above: 0 }),
  r0Ohm: quantity('R0 per phase', 'Ω', { min: 0 }, { symbol: 'R0' }),
  x0Ohm: quantity('X0 per phase', 'Ω', { above: 0 }, { symbol: 'X0' }),
  neutral: neutralSchema.meta({ title: 'Neutral' }),
});

export type NetworkFeeder = z.infer<typeof networkFeederSchema>;
export type SynchronousMachine = z.infer<typeof synchronousMachineSchema>;
export type AsynchronousMotor = z.infer<typeof asynchronousMotorSchema>;
export type Load = z.infer<typeof loadSchema>;
export type Shunt = z.infer<typeof shuntSchema>;
export type EarthingTransformer = z.infer<typeof earthingTransformerSchema>;
