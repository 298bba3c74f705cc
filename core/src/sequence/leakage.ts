/** What two- and three-winding transformers and power-station units share: leakage impedance, correction KT, tap ratio, magnetising path. IEC 60909-0:2016, 6.3. */
import type { CoreType, Tap } from '../model/branches';
import type { ElementId } from '../model/fields';
import { assumed, formula, given, quantityOf, type Quantity } from '../working/trace';
import { impedance, scaled, withoutFactors, withoutFactorsClause, type Impedance, type SequenceContext } from './stamp';

export interface LeakageData {
  readonly ratedMva: number;
  readonly ukPercent: number;
  readonly uRPercent: number;
}

type Value = Quantity & { readonly value: number };

export interface Leakage {
  readonly z: Impedance;
  readonly x: Value;
  readonly r: Value;
  /** Related reactance xT on the rating. */
  readonly relativeX: Value;
}

/** ZT, RT, XT in ohms at `kv`; `suffix` tells pairs of windings apart, `path` leads to the fields. */
export function leakage(
  id: ElementId,
  data: LeakageData,
  voltage: Quantity,
  context: SequenceContext,
  suffix = '',
  path = '',
  clause = 'IEC 60909-0, 6.3.1',
): Leakage {
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, id, `${path}${field}`);
  const kv = voltage.value as number;
  const uk = at('ukr', data.ukPercent, '%', 'ukPercent');
  const uR = at('uRr', data.uRPercent, '%', 'uRPercent');
  const s = at('SrT', data.ratedMva, 'MVA', 'ratedMva');
  const base = kv ** 2 / data.ratedMva / 100;
  const z = trace.step(`ZT${suffix}`, formula`${uk} / 100 · ${voltage}^2 / ${s}`, data.ukPercent * base, 'Ω', clause);
  const r = trace.step(`RT${suffix}`, formula`${uR} / 100 · ${voltage}^2 / ${s}`, data.uRPercent * base, 'Ω', clause);
  const x = trace.step(
    `XT${suffix}`,
    formula`√(${z}^2 - ${r}^2)`,
    Math.sqrt(Math.max(z.value ** 2 - r.value ** 2, 0)),
    'Ω',
    clause,
  );
  const relativeX = trace.step(
    `xT${suffix}`,
    formula`${x} · ${s} / ${voltage}^2`,
    (x.value * data.ratedMva) / kv ** 2,
    '',
    'IEC 60909-0, 6.3.3',
  );
  return { z: impedance(r.value, x.value), x, r, relativeX };
}

/** KT by itself (IEC 60909-0, 6.3.3). */
export const transformerFactor = (relativeX: number, cMax: number): number => (0.95 * cMax) / (1 + 0.6 * relativeX);

/** KT = 0.95·cmax/(1 + 0.6·xT), with cmax of the nominal voltage `kv` of the lower side; 1 outside IEC 60909. */
export function correction(relativeX: Value, kv: number, context: SequenceContext, suffix = ''): Value {
  if (context.basis !== 'iec60909') return { ...quantityOf(`KT${suffix}`, 1), value: 1 };
  if (withoutFactors(context))
    return context.trace.step(`KT${suffix}`, ['1'], 1, '', withoutFactorsClause, 'minimum current');
  const c = quantityOf('cmax', context.cFactor(kv, 'max'));
  return context.trace.step(
    `KT${suffix}`,
    formula`0.95 · ${c} / (1 + 0.6 · ${relativeX})`,
    transformerFactor(relativeX.value, c.value as number),
    '',
    'IEC 60909-0, 6.3.3',
  );
}

/** Ratios that a tap changer puts on its side, HV and LV; main position unless the network is taken as it runs. */
export function tapRatio(tap: Tap, context: SequenceContext): { hv: number; lv: number } {
  const step = context.basis === 'operating' && tap.side !== 'none' ? 1 + (tap.position * tap.stepPercent) / 100 : 1;
  return { hv: tap.side === 'hv' ? step : 1, lv: tap.side === 'lv' ? step : 1 };
}

/** Zero-sequence magnetising reactance of a three-limb core where none is given: the flux returns through tank and air. Typical, 30 to 100 %. */
export const threeLimbMagnetisingPercent = 60;

/**
 * Zero-sequence magnetising reactance in ohms at `kv` of a unit without delta winding. `open`: the core leads the flux back (five limbs, three single-phase
 * units) and no current worth counting flows; `unknown`: neither data nor core are given.
 */
export function magnetising(
  id: ElementId,
  core: CoreType,
  x0mPercent: number | null,
  kv: number,
  ratedMva: number,
  context: SequenceContext,
): Impedance | 'open' | 'unknown' {
  if (x0mPercent === null && core !== 'threeLimb') return core === 'unspecified' ? 'unknown' : 'open';
  const value = x0mPercent ?? threeLimbMagnetisingPercent;
  const percent =
    x0mPercent === null ? assumed('x0m', value, '%', id, 'x0mPercent') : given('x0m', value, '%', id, 'x0mPercent');
  const [u, s] = [quantityOf('UrT', kv, 'kV'), quantityOf('SrT', ratedMva, 'MVA')];
  const x = context.trace.step(
    'X0m',
    formula`${percent} / 100 · ${u}^2 / ${s}`,
    ((value / 100) * kv ** 2) / ratedMva,
    'Ω',
  );
  return impedance(0, x.value);
}

/** Ohms taken to another voltage level. */
export const referred = (z: Impedance, ratio: number): Impedance => scaled(z, ratio * ratio);

/**
 * Star windings 2, 6 or 10 steps of the clock apart stand on the core in opposite sense, and the zero-sequence voltage reverses between them. `steps`: from
 * one star winding to the other, of either sign.
 */
export const zeroSequenceSign = (steps: number): 1 | -1 => (Math.abs(steps) % 4 === 2 ? -1 : 1);
