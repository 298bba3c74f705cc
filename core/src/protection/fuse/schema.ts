/** Stored data of a fuse link. Its curves follow from class and rated current, or are those of its data sheet. */
import { z } from 'zod';
import { choice, functionBase, quantity } from '../../model/deviceFunction';
import { withDefault } from '../../model/fields';
import { curvePointsSchema } from '../../model/curvePoints';

/** Utilisation categories of IEC 60269-1 (gG, aM); back-up links of IEC 60282-1; expulsion links of types K and T (IEEE C37.42). */
export const fuseClasses = ['gG', 'aM', 'backup', 'expulsionK', 'expulsionT'] as const;

export const fuseFunctionSchema = z.object({
  family: z.literal('fuse'),
  ...functionBase,
  class: choice('Class', fuseClasses),
  linkA: quantity('Rated current of the link', 'A', { above: 0, max: 6300 }),
  /** Load before the fault takes so much off the melting time. */
  preloadPercent: withDefault(quantity('Melting time less, by load before', '%', { min: 0, max: 50 }), 0),
  points: z
    .object({ melting: curvePointsSchema, clearing: curvePointsSchema })
    .nullable()
    .default(null)
    .meta({ title: 'Curves of the data sheet' }),
});
export type FuseFunction = z.infer<typeof fuseFunctionSchema>;
