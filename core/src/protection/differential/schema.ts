/** Stored settings of differential protection (IEEE C37.2, 87 with a letter for what is protected), in per unit of the base current of each side. */
import { z } from 'zod';
import { choice, functionBase, quantity, settingRangeSchema } from '../../model/deviceFunction';
import { elementIdSchema, reference, withDefault } from '../../model/fields';
import { restraints } from './characteristic';

/** L line, T transformer, N restricted earth fault, B busbar, G generator, M motor. */
export const differentialCodes = ['87L', '87T', '87N', '87B', '87G', '87M'] as const;
export type DifferentialCode = (typeof differentialCodes)[number];

/** What is taken of the current of one input of the relay. */
export const differentialSideSchema = z.object({
  input: elementIdSchema,
  /** Primary amperes that are 1 per unit. */
  baseA: quantity('Base current', 'A', { above: 0, max: 1e6 }),
  /** By how many times 30° its positive sequence is turned forward. */
  clock: z.number().int().min(-11).max(11).default(0).meta({ title: 'Turned by' }),
  zero: withDefault(choice('Zero sequence', ['kept', 'removed']), 'kept'),
});
export type DifferentialSide = z.infer<typeof differentialSideSchema>;

const perUnit = (title: string) => quantity(title, '× base', { min: 0, max: 100 });

export const differentialFunctionSchema = z.object({
  family: z.literal('differential'),
  ...functionBase,
  code: choice('Function', differentialCodes),
  scheme: withDefault(choice('Scheme', ['biased', 'highImpedance']), 'biased'),
  sides: z.array(differentialSideSchema).max(12).default([]).meta({ title: 'Sides', hidden: true }),
  /** Of a line: relays at its other ends, which send the currents that they measure. */
  partners: z
    .array(reference(['relay'], 'entry'))
    .max(3)
    .default([])
    .meta({ title: 'Other ends' }),
  /** Of busbars: each a zone of its own, of the bays that are connected to it. */
  buses: z
    .array(reference(['bus'], 'entry'))
    .max(12)
    .default([])
    .meta({ title: 'Busbars' }),
  restraint: choice('Restrained by', restraints),
  pickup: perUnit('Pickup'),
  slope1Percent: quantity('First slope', '%', { min: 0, max: 200 }),
  knee: perUnit('Knee'),
  slope2Percent: quantity('Second slope', '%', { min: 0, max: 200 }),
  /** Without restraint from here on; none: not in use. */
  unrestrained: withDefault(perUnit('Unrestrained').nullable(), null),
  /** Of 3I0 and of I2, which see what the phases do not; none: not in use. */
  residualPickup: withDefault(perUnit('Pickup of 3I0').nullable(), null),
  negativePickup: withDefault(perUnit('Pickup of I2').nullable(), null),
  sequenceSlopePercent: withDefault(quantity('Slope of 3I0 and I2', '%', { min: 0, max: 200 }), 50),
  /** Charging current of the line at rated voltage, taken out by the measured voltage; none: not. */
  chargingA: withDefault(quantity('Charging current', 'A', { min: 0, max: 5000 }).nullable(), null),
  /** Second and fifth harmonic over the fundamental, above which a transformer's inrush or overexcitation blocks. */
  secondHarmonicPercent: withDefault(quantity('Inrush: second harmonic', '%', { above: 0, max: 100 }).nullable(), null),
  fifthHarmonicPercent: withDefault(
    quantity('Overexcitation: fifth harmonic', '%', { above: 0, max: 100 }).nullable(),
    null,
  ),
  delayS: quantity('Delay', 's', { min: 0, max: 10 }),
  /** Of the residual and negative-sequence elements. */
  sequenceDelayS: withDefault(quantity('Delay of 3I0 and I2', 's', { min: 0, max: 10 }), 0.1),
  operatingS: withDefault(quantity('Own time', 's', { min: 0, max: 1 }), 0.025),
  /** High impedance: secondary amperes and ohms; the current at which current transformers and varistor are fed too. */
  relayA: withDefault(quantity('Relay current', 'A', { above: 0, max: 100 }), 0.1),
  resistorOhm: withDefault(quantity('Stabilising resistor', 'Ω', { min: 0, max: 1e5 }), 500),
  relayOhm: withDefault(quantity('Relay', 'Ω', { min: 0, max: 1e4 }), 0),
  magnetisingA: withDefault(quantity('Magnetising current of a current transformer', 'A', { min: 0, max: 10 }), 0.01),
  varistorA: withDefault(quantity('Varistor current', 'A', { min: 0, max: 10 }), 0),
  ranges: withDefault(
    z.object({ perUnit: settingRangeSchema, slopePercent: settingRangeSchema, delayS: settingRangeSchema }),
    {
      perUnit: { min: 0.05, max: 30, step: 0.01 },
      slopePercent: { min: 5, max: 120, step: 1 },
      delayS: { min: 0, max: 10, step: 0.01 },
    },
  ),
});
export type DifferentialFunction = z.infer<typeof differentialFunctionSchema>;
