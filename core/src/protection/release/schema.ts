/** Stored settings of the release of a low-voltage breaker (IEC 60947-2), in its own terms: multiples of the rated current, and of Ir. */
import { z } from 'zod';
import { choice, functionBase, quantity } from '../../model/deviceFunction';

/** Parts of a release: overload, short-time delayed, instantaneous, earth fault. */
export const releaseParts = ['longTime', 'shortTime', 'instantaneous', 'earthFault'] as const;

export const releaseFunctionSchema = z.object({
  family: z.literal('release'),
  ...functionBase,
  ratedA: quantity('Rated current of the release', 'A', { above: 0, max: 6300 }, { symbol: 'In' }),
  parts: z.array(z.enum(releaseParts)).max(4).meta({ title: 'Parts in use' }),
  ir: quantity('Overload setting', '× In', { above: 0, max: 2 }, { symbol: 'Ir' }),
  trS: quantity('Overload delay at 6 × Ir', 's', { above: 0, max: 60 }, { symbol: 'tr' }),
  isd: quantity('Short-time setting', '× Ir', { above: 0, max: 20 }, { symbol: 'Isd' }),
  tsdS: quantity('Short-time delay', 's', { min: 0, max: 1 }, { symbol: 'tsd' }),
  shortTime: choice('Short-time curve', ['definite', 'i2t']),
  ii: quantity('Instantaneous setting', '× In', { above: 0, max: 40 }, { symbol: 'Ii' }),
  ig: quantity('Earth-fault setting', '× In', { above: 0, max: 2 }, { symbol: 'Ig' }),
  tgS: quantity('Earth-fault delay', 's', { min: 0, max: 1 }, { symbol: 'tg' }),
});
export type ReleaseFunction = z.infer<typeof releaseFunctionSchema>;
