/** Series reactors, shunt reactors and capacitors, earthing switches. IEC 60909-0:2016, 6.5 and 6.12. */
import type { SeriesReactor } from '../model/branches';
import type { Shunt as ShuntElement } from '../model/sources';
import type { EarthingSwitch } from '../model/switching';
import { formula, given } from '../working/trace';
import { earthRole, inSeries, tripledNeutral } from './neutral';
import { impedance, nothing, series, shunt, type SequenceContext, type SequenceModel } from './stamp';

export function seriesReactor(reactor: SeriesReactor, context: SequenceContext): SequenceModel {
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, reactor.id, field);
  trace.section(`Series reactor ${reactor.name}`, reactor.id);
  const z = trace.step(
    'ZR',
    formula`${at('ukR', reactor.ukPercent, '%', 'ukPercent')} / 100 · ${at('Un', reactor.ratedKv, 'kV', 'ratedKv')} / (√(3) · ${at('IrR', reactor.ratedA, 'A', 'ratedA')} / 1000)`,
    ((reactor.ukPercent / 100) * reactor.ratedKv) / ((Math.sqrt(3) * reactor.ratedA) / 1000),
    'Ω',
    'IEC 60909-0, 6.5',
  );
  const ratio = at('RR/XR', reactor.rOverX, '', 'rOverX');
  const x = trace.step('XR', formula`${z} / √(1 + ${ratio}^2)`, z.value / Math.hypot(1, reactor.rOverX), 'Ω');
  const r = trace.step('RR', formula`${ratio} · ${x}`, reactor.rOverX * x.value, 'Ω');
  const x0 = trace.step(
    'X0R',
    formula`${at('X0/X1', reactor.x0OverX1, '', 'x0OverX1')} · ${x}`,
    reactor.x0OverX1 * x.value,
    'Ω',
  );
  return {
    positive: [series(impedance(r.value, x.value))],
    zero: [series(impedance(r.value, x0.value))],
  };
}

/** Shunt reactor or capacitor: counts where the network is taken as it runs; an earthed star point is an earth path there. */
export function shuntElement(unit: ShuntElement, context: SequenceContext): SequenceModel {
  if (context.basis !== 'operating') return nothing;
  const x = ((unit.type === 'capacitor' ? -1 : 1) * unit.ratedKv ** 2) / unit.ratedMvar;
  const positive = [shunt(0, impedance(0, x), 'passive', false)];
  const neutral = tripledNeutral(unit.neutral);
  if (!neutral) return { positive, zero: [] };
  return { positive, zero: [shunt(0, inSeries(impedance(0, x), neutral), earthRole(unit.neutral), false)] };
}

export function earthingSwitch(unit: EarthingSwitch): SequenceModel {
  if (!unit.closed) return nothing;
  const toEarth = [shunt(0, impedance(0, 0), 'earth', false)];
  return { positive: toEarth, zero: toEarth };
}
