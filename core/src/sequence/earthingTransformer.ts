/** Earthing (zigzag) transformers: a zero-sequence path to earth through the neutral impedance. */
import type { EarthingTransformer } from '../model/sources';
import { formula, given } from '../working/trace';
import { earthRole, inSeries, tripledNeutral } from './neutral';
import { impedance, nothing, shunt, type SequenceContext, type SequenceModel } from './stamp';

export function earthingTransformer(unit: EarthingTransformer, context: SequenceContext): SequenceModel {
  const neutral = tripledNeutral(unit.neutral);
  if (!neutral) return nothing;
  const { trace } = context;
  const at = (symbol: string, value: number, field: string) => given(symbol, value, 'Ω', unit.id, field);
  trace.section(`Earthing transformer ${unit.name}`, unit.id);
  const [rN, xN] = [neutral.rOhm / 3, neutral.xOhm / 3];
  const z = inSeries(impedance(unit.r0Ohm, unit.x0Ohm), neutral);
  trace.step(
    'R0E',
    formula`${at('R0', unit.r0Ohm, 'r0Ohm')} + 3 · ${at('RN', rN, 'neutral.rOhm')}`,
    z.rOhm,
    'Ω',
    'IEC 60909-0, 5.3.2',
  );
  trace.step(
    'X0E',
    formula`${at('X0', unit.x0Ohm, 'x0Ohm')} + 3 · ${at('XN', xN, 'neutral.xOhm')}`,
    z.xOhm,
    'Ω',
    'IEC 60909-0, 5.3.2',
  );
  return { positive: [], zero: [shunt(0, z, earthRole(unit.neutral), false)] };
}
