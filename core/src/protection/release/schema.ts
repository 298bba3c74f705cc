/** Stored settings of the release of a low-voltage breaker (IEC 60947-2), in its own terms: multiples of the rated current, and of Ir. */
import { z } from 'zod';
import { choice, functionBase, limitA2sField, quantity } from '../../model/deviceFunction';
import { withDefault } from '../../model/fields';

/** Parts of a release: overload, short-time delayed, instantaneous, earth fault. */
export const releaseParts = ['longTime', 'shortTime', 'instantaneous', 'earthFault'] as const;
export type ReleasePart = (typeof releaseParts)[number];

const tolerance = (title: string, usual: number) => withDefault(quantity(title, '%', { min: 0, max: 60 }), usual);

export const releaseFunctionSchema = z.object({
  family: z.literal('release'),
  ...functionBase,
  ratedA: quantity('Rated current of the release', 'A', { above: 0, max: 6300 }, { symbol: 'In' }),
  parts: z.array(z.enum(releaseParts)).max(4).meta({ title: 'Parts in use' }),
  ir: quantity('Overload setting', '× In', { above: 0, max: 2 }, { symbol: 'Ir' }),
  trS: quantity('Overload delay at 6 × Ir', 's', { above: 0, max: 60 }, { symbol: 'tr' }),
  isd: quantity('Short-time setting', '× Ir', { above: 0, max: 20 }, { symbol: 'Isd' }),
  /** The breaker certainly holds for so long. */
  tsdS: quantity('Short-time delay', 's', { min: 0, max: 1 }, { symbol: 'tsd' }),
  shortTime: choice('Short-time curve', ['definite', 'i2t']),
  ii: quantity('Instantaneous setting', '× In', { above: 0, max: 40 }, { symbol: 'Ii' }),
  ig: quantity('Earth-fault setting', '× In', { above: 0, max: 2 }, { symbol: 'Ig' }),
  tgS: quantity('Earth-fault delay', 's', { min: 0, max: 1 }, { symbol: 'tg' }),
  trTolerancePercent: tolerance('Tolerance of the overload delay', 20),
  isdTolerancePercent: tolerance('Tolerance of Isd and Ig', 10),
  iiTolerancePercent: tolerance('Tolerance of Ii', 20),
  clearingS: withDefault(
    quantity('From the release to the end of the current', 's', { min: 0, max: 0.5 }, { symbol: 'ta' }),
    0.03,
  ),
  limitA2s: limitA2sField,
});
export type ReleaseFunction = z.infer<typeof releaseFunctionSchema>;
