/** Stored settings of thermal protection (IEC 60255-149; IEEE C37.2, 49). */
import { z } from 'zod';
import { functionBase, quantity, settingRangeSchema } from '../../model/deviceFunction';

export const thermalFunctionSchema = z.object({
  family: z.literal('thermal'),
  ...functionBase,
  pickup: quantity('Basic current', '× In', { above: 0, max: 10 }, { symbol: 'Ib' }),
  k: quantity('Factor k', '', { min: 1, max: 1.5 }),
  tauS: quantity('Heating time constant', 's', { above: 0, max: 36000 }, { symbol: 'τ' }),
  tauCoolingS: quantity('Cooling time constant', 's', { above: 0, max: 72000 }),
  /** Load that the hot curve is drawn after. */
  preloadPercent: quantity('Load before, of Ib', '%', { min: 0, max: 100 }),
  ranges: z.object({ pickup: settingRangeSchema }),
});
export type ThermalFunction = z.infer<typeof thermalFunctionSchema>;
