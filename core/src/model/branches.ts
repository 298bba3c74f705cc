/** Elements with two terminals and an impedance between them. Terminal 0 is the HV (or sending) side. */
import { z } from 'zod';
import { choice, neutralSchema, optionalQuantity, placed, quantity } from './fields';
import { parseVectorGroup } from './vectorgroup';

/** Overhead line or cable: per-length data of one circuit at 20 °C; `circuits` like ones in parallel (IEC 60909-0, 6.4). */
export const lineSchema = z.object({
  kind: z.literal('line'),
  ...placed,
  type: choice('Type', ['overhead', 'cable']),
  lengthKm: quantity('Length', 'km', { above: 0, max: 2000 }, { symbol: 'l' }),
  circuits: z.int().min(1).max(12).meta({ title: 'Parallel circuits' }),
  r1OhmPerKm: quantity('R1 at 20 °C', 'Ω/km', { min: 0 }, { symbol: 'R′' }),
  x1OhmPerKm: quantity('X1', 'Ω/km', { above: 0 }, { symbol: 'X′' }),
  r0OhmPerKm: optionalQuantity('R0 at 20 °C', 'Ω/km', { min: 0 }, { symbol: 'R′0' }),
  x0OhmPerKm: optionalQuantity('X0', 'Ω/km', { above: 0 }, { symbol: 'X′0' }),
  b1UsPerKm: quantity('B1', 'µS/km', { min: 0 }),
  b0UsPerKm: quantity('B0', 'µS/km', { min: 0 }),
  ratedA: optionalQuantity('Rated current', 'A', { above: 0 }, { help: 'Of one circuit' }),
  endTemperatureC: quantity('Conductor at end of fault', '°C', { min: 20, max: 400 }, { symbol: 'θe' }),
});

/** Two-winding transformer (IEC 60909-0, 6.3.1 and 6.3.3). */
export const transformerSchema = z
  .object({
    kind: z.literal('transformer'),
    ...placed,
    ratedMva: quantity('Rated power', 'MVA', { above: 0 }, { symbol: 'SrT' }),
    hvKv: quantity('Rated HV voltage', 'kV', { above: 0 }, { symbol: 'UrTHV' }),
    lvKv: quantity('Rated LV voltage', 'kV', { above: 0 }, { symbol: 'UrTLV' }),
    ukPercent: quantity('Short-circuit voltage uk', '%', { above: 0, max: 100 }, { symbol: 'ukr' }),
    uRPercent: quantity('Its resistive part uR', '%', { min: 0, max: 100 }, { symbol: 'uRr' }),
    vectorGroup: z
      .string()
      .refine((text) => parseVectorGroup(text) !== null, 'must be a vector group such as Dyn11 or YNd1')
      .meta({ title: 'Vector group' }),
    x0OverX1: optionalQuantity('X0/X1', '', { above: 0, max: 100 }, { symbol: 'X0T/XT' }),
    r0OverR1: optionalQuantity('R0/R1', '', { min: 0, max: 100 }, { symbol: 'R0T/RT' }),
    hvNeutral: neutralSchema.meta({ title: 'HV neutral' }),
    lvNeutral: neutralSchema.meta({ title: 'LV neutral' }),
    tap: z
      .object({
        side: choice('Tap changer on', ['none', 'hv', 'lv']),
        position: z
          .int()
          .min(-40)
          .max(40)
          .meta({ title: 'Position', shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
        steps: z
          .int()
          .min(0)
          .max(40)
          .meta({ title: 'Steps each way', shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
        stepPercent: quantity('Step', '%', { min: 0, max: 10 }, { shownWhen: { field: 'side', is: ['hv', 'lv'] } }),
      })
      .refine((tap) => Math.abs(tap.position) <= tap.steps || tap.side === 'none', {
        path: ['position'],
        message: 'must lie within the steps',
      })
      .meta({ title: 'Tap changer' }),
  })
  .refine((transformer) => transformer.uRPercent <= transformer.ukPercent, {
    path: ['uRPercent'],
    message: 'must not exceed the short-circuit voltage uk',
  })
  .refine((transformer) => transformer.hvKv >= transformer.lvKv, {
    path: ['hvKv'],
    message: 'must not lie below the LV voltage',
  });

export type Line = z.infer<typeof lineSchema>;
export type Transformer = z.infer<typeof transformerSchema>;
