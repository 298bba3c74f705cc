/** Asynchronous motors: impedance at standstill; left out of minimum currents. IEC 60909-0:2016, 6.10 and 7.1.2; IEEE C37.010 multipliers. */
import type { AsynchronousMotor } from '../model/sources';
import { assumed, formula, given, quantityOf } from '../working/trace';
import { motorMultiplier } from './c37';
import { impedance, nothing, scaled, shunt, type SequenceContext, type SequenceModel } from './stamp';

/** RM/XM: 0.10 for MV motors from 1 MW per pole pair, 0.15 below, 0.42 for LV motors with their cables. */
export function motorResistanceRatio(ratedKv: number, mwPerPolePair: number): number {
  if (ratedKv <= 1) return 0.42;
  return mwPerPolePair >= 1 ? 0.1 : 0.15;
}

export function asynchronousMotor(motor: AsynchronousMotor, context: SequenceContext): SequenceModel {
  const { trace, basis } = context;
  if (context.faultCase === 'min' && basis !== 'operating') return nothing;
  const multiplier =
    basis === 'iec60909' || basis === 'operating' ? 1 : motorMultiplier(basis, motor.ratedMw, motor.polePairs);
  if (multiplier === null) return nothing;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, motor.id, field);
  const p = at('PrM', motor.ratedMw, 'MW', 'ratedMw');
  const cosPhi = at('cos φrM', motor.powerFactor, '', 'powerFactor');
  const eta = at('η', motor.efficiencyPercent, '%', 'efficiencyPercent');
  const u = at('UrM', motor.ratedKv, 'kV', 'ratedKv');
  const start = at('ILR/IrM', motor.startingRatio, '', 'startingRatio');
  const n = at('n', motor.count, '', 'count');

  trace.section(`${motor.count > 1 ? `${motor.count} motors` : 'Motor'} ${motor.name}`, motor.id);
  const s = trace.step(
    'SrM',
    formula`${p} / (${cosPhi} · ${eta} / 100)`,
    ratedMvaOf(motor),
    'MVA',
    'IEC 60909-0, 6.10',
  );
  const z = trace.step(
    'ZM',
    formula`1 / ${start} · ${u}^2 / ${s} / ${n}`,
    motor.ratedKv ** 2 / s.value / motor.startingRatio / motor.count,
    'Ω',
    'IEC 60909-0, 6.10',
  );
  const typical = motorResistanceRatio(motor.ratedKv, motor.ratedMw / motor.polePairs);
  const ratio =
    motor.rOverX === null ? assumed('RM/XM', typical, '', motor.id, 'rOverX') : at('RM/XM', motor.rOverX, '', 'rOverX');
  const rOverX = ratio.value as number;
  const x = trace.step(
    'XM',
    formula`${z} / √(1 + ${ratio}^2)`,
    z.value / Math.hypot(1, rOverX),
    'Ω',
    'IEC 60909-0, 6.10',
  );
  const r = trace.step('RM', formula`${ratio} · ${x}`, rOverX * x.value, 'Ω', 'IEC 60909-0, 6.10');
  const own = impedance(r.value, x.value);
  if (multiplier === 1) return { positive: [shunt(0, own, 'source', false)], zero: [] };
  const factor = quantityOf('m', multiplier);
  trace.step('XM adjusted', formula`${factor} · ${x}`, multiplier * x.value, 'Ω', 'IEEE C37.010');
  return { positive: [shunt(0, scaled(own, multiplier), 'source', false)], zero: [] };
}

/** SrM of one motor in MVA. */
export const ratedMvaOf = (motor: AsynchronousMotor): number =>
  motor.ratedMw / ((motor.powerFactor * motor.efficiencyPercent) / 100);
