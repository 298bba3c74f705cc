/** Network feeder: the impedance behind a fault level. IEC 60909-0:2016, 6.2. */
import type { NetworkFeeder } from '../model/sources';
import { formula, given, quantityOf } from '../working/trace';
import { impedance, shunt, type SequenceContext, type SequenceModel } from './stamp';

export function networkFeeder(feeder: NetworkFeeder, context: SequenceContext): SequenceModel {
  const { trace, faultCase } = context;
  const level = feeder[faultCase];
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, feeder.id, `${faultCase}.${field}`);
  const nominalKv = context.nominalKv(feeder.id, 0);
  const un = quantityOf('UnQ', nominalKv, 'kV');
  // The fault level was worked out with c when IEC 60909 is in use; IEEE C37.010 goes by nominal voltage.
  const byC = context.basis === 'iec60909' || context.basis === 'operating';
  const c = quantityOf(faultCase === 'max' ? 'cmax' : 'cmin', byC ? context.cFactor(nominalKv) : 1);

  trace.section(`Network feeder ${feeder.name}`, feeder.id);
  const z =
    level.given === 'current'
      ? trace.step(
          'ZQ',
          formula`${c} · ${un} / (√(3) · ${at('Ik″Q', level.ikKa!, 'kA', 'ikKa')})`,
          ((c.value as number) * nominalKv) / (Math.sqrt(3) * level.ikKa!),
          'Ω',
          'IEC 60909-0, 6.2',
        )
      : trace.step(
          'ZQ',
          formula`${c} · ${un}^2 / ${at('Sk″Q', level.skMva!, 'MVA', 'skMva')}`,
          ((c.value as number) * nominalKv ** 2) / level.skMva!,
          'Ω',
          'IEC 60909-0, 6.2',
        );
  const ratio = at('RQ/XQ', level.rOverX, '', 'rOverX');
  const x = trace.step(
    'XQ',
    formula`${z} / √(1 + ${ratio}^2)`,
    z.value / Math.hypot(1, level.rOverX),
    'Ω',
    'IEC 60909-0, 6.2',
  );
  const r = trace.step('RQ', formula`${ratio} · ${x}`, level.rOverX * x.value, 'Ω', 'IEC 60909-0, 6.2');
  const positive = [shunt(0, impedance(r.value, x.value), 'source')];
  if (!feeder.earthed) return { positive, zero: [] };

  const { x0OverX1, r0OverX0 } = level;
  if (x0OverX1 === null || r0OverX0 === null) {
    const fields = [x0OverX1 === null ? 'x0OverX1' : '', r0OverX0 === null ? 'r0OverX0' : ''].filter(Boolean);
    return { positive, zero: [], zeroUnknown: { fields: fields.map((f) => `${faultCase}.${f}`), terminals: [0] } };
  }
  const x0 = trace.step('X0Q', formula`${at('X0/X1', x0OverX1, '', 'x0OverX1')} · ${x}`, x0OverX1 * x.value, 'Ω');
  const r0 = trace.step('R0Q', formula`${at('R0/X0', r0OverX0, '', 'r0OverX0')} · ${x0}`, r0OverX0 * x0.value, 'Ω');
  return { positive, zero: [shunt(0, impedance(r0.value, x0.value), 'earth', true)] };
}
