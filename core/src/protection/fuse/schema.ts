/** Stored data of a fuse link. Its curves follow from class and rated current. */
import { z } from 'zod';
import { choice, functionBase, quantity } from '../../model/deviceFunction';

/** Utilisation categories of IEC 60269-1 (gG, aM); back-up links of IEC 60282-1; expulsion links of types K and T (IEEE C37.42). */
export const fuseClasses = ['gG', 'aM', 'backup', 'expulsionK', 'expulsionT'] as const;

export const fuseFunctionSchema = z.object({
  family: z.literal('fuse'),
  ...functionBase,
  class: choice('Class', fuseClasses),
  linkA: quantity('Rated current of the link', 'A', { above: 0, max: 6300 }),
});
export type FuseFunction = z.infer<typeof fuseFunctionSchema>;
