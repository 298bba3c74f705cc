/**
 * Three-winding transformers and autotransformers with tertiary: one KT for each pair of windings, then the star, in ohms of the MV side.
 * IEC 60909-0:2016, 6.3.2 and 6.3.3.
 */
import type { ThreeWindingTransformer } from '../model/branches';
import type { Neutral } from '../model/fields';
import { parseVectorGroup3 } from '../model/vectorgroup';
import { formula, given, quantityOf, type Quantity } from '../working/trace';
import { correction, leakage, magnetising, referred, tapRatio, zeroSequenceSign } from './leakage';
import { earthRole, inSeries, isEarthed, tripledNeutral } from './neutral';
import {
  impedance,
  scaled,
  series,
  shunt,
  type Impedance,
  type Primitive,
  type SequenceContext,
  type SequenceModel,
} from './stamp';

/** Local node of the star point, after the terminals HV, MV, LV. */
const star = 3;

type PairName = 'hvMv' | 'hvLv' | 'mvLv';
type Value = Quantity & { readonly value: number };

export function threeWindingTransformer(unit: ThreeWindingTransformer, context: SequenceContext): SequenceModel {
  const { trace } = context;
  trace.section(`Three-winding transformer ${unit.name}`, unit.id);
  const { windings, clocks } = parseVectorGroup3(unit.vectorGroup)!;
  const voltage = given('UrTMV', unit.mvKv, 'kV', unit.id, 'mvKv');
  const pairs = {
    hvMv: corrected(unit, 'hvMv', 'HVMV', voltage, 1, context),
    hvLv: corrected(unit, 'hvLv', 'HVLV', voltage, 2, context),
    mvLv: corrected(unit, 'mvLv', 'MVLV', voltage, 2, context),
  };
  const legs = starLegs(pairs.hvMv.z, pairs.hvLv.z, pairs.mvLv.z);
  const half = (symbol: string, p: PairName, q: PairName, o: PairName, leg: Impedance) =>
    trace.step(
      symbol,
      formula`1 / 2 · (${pairs[p].quantity} + ${pairs[q].quantity} - ${pairs[o].quantity})`,
      { re: leg.rOhm, im: leg.xOhm },
      'Ω',
      'IEC 60909-0, 6.3.2',
    );
  half('ZA', 'hvMv', 'hvLv', 'mvLv', legs[0]);
  half('ZB', 'hvMv', 'mvLv', 'hvLv', legs[1]);
  half('ZC', 'hvLv', 'mvLv', 'hvMv', legs[2]);

  const tap = tapRatio(unit.tap, context);
  const kv = [unit.hvKv * tap.hv, unit.mvKv, unit.lvKv * tap.lv];
  const positive = legs.map((z, k) => leg(z, k, kv, clocks[k]));
  return { positive, ...zeroSequence(unit, windings, clocks, pairs, kv, context) };
}

/** A leg of the star: HV towards the star, the others away from it, so that the ohms always stand on the side `to`. */
function leg(z: Impedance, k: number, kv: readonly number[], clock: number, sign = 1): Primitive {
  if (k === 0) return series(z, (sign * kv[0]) / kv[1], 0, { from: 0, to: star });
  return series(referred(z, kv[k] / kv[1]), (sign * kv[1]) / kv[k], clock, { from: star, to: k });
}

function corrected(
  unit: ThreeWindingTransformer,
  name: PairName,
  suffix: string,
  voltage: Quantity,
  lowerTerminal: number,
  context: SequenceContext,
) {
  const own = leakage(unit.id, unit[name], voltage, context, suffix, `${name}.`, 'IEC 60909-0, 6.3.2');
  const k = correction(own.relativeX, context.nominalKv(unit.id, lowerTerminal), context, suffix);
  const z = scaled(own.z, k.value);
  const quantity = context.trace.step(
    `ZK${suffix}`,
    formula`${k} · ${quantityOf(`ZT${suffix}`, { re: own.z.rOhm, im: own.z.xOhm }, 'Ω')}`,
    { re: z.rOhm, im: z.xOhm },
    'Ω',
    'IEC 60909-0, 6.3.3',
  );
  return { z, quantity, k: k as Value };
}

/** Star that has these impedances between its ends, two and two. */
export function starLegs(hm: Impedance, hl: Impedance, ml: Impedance): [Impedance, Impedance, Impedance] {
  const half = (p: Impedance, q: Impedance, o: Impedance) =>
    impedance((p.rOhm + q.rOhm - o.rOhm) / 2, (p.xOhm + q.xOhm - o.xOhm) / 2);
  return [half(hm, hl, ml), half(hm, ml, hl), half(hl, ml, hm)];
}

/**
 * An autotransformer whose common neutral is isolated: the current that enters at HV leaves at MV, and the tertiary delta (or the core) balances it:
 * t²·ZA + ZB + (t − 1)²·ZC between the two, amperes alike on both sides. A star tertiary is taken as open.
 */
function throughIsolated(
  unit: ThreeWindingTransformer,
  hasDelta: boolean,
  pairs: Record<PairName, { z: Impedance }>,
  kv: readonly number[],
  context: SequenceContext,
): Pick<SequenceModel, 'zero' | 'zeroUnknown'> {
  const core = hasDelta ? null : magnetising(unit.id, unit.core, unit.x0mPercent, kv[1], unit.hvMv.ratedMva, context);
  if (core === 'open' || core === 'unknown') return { zero: [] };
  const zeroOf = (name: PairName) => {
    const { x0OverX1, r0OverR1 } = unit[name];
    const { z } = pairs[name];
    return x0OverX1 === null || r0OverR1 === null ? null : impedance(r0OverR1 * z.rOhm, x0OverX1 * z.xOhm);
  };
  const [hm, hl, ml] = [zeroOf('hvMv'), zeroOf('hvLv'), zeroOf('mvLv')];
  if (!hm || !hl || !ml) {
    const missing = (['hvMv', 'hvLv', 'mvLv'] as const).filter((name) => !zeroOf(name));
    return { zero: [], zeroUnknown: { fields: missing.map((name) => `${name}.x0OverX1`), terminals: [0, 1] } };
  }
  const legs = starLegs(hm, hl, ml);
  const t = kv[0] / kv[1];
  const z = inSeries(scaled(legs[0], t ** 2), legs[1], scaled(core ?? legs[2], (t - 1) ** 2));
  return { zero: [series(z, 1)] };
}

/**
 * Zero sequence: an earthed star winding lets current through to the star point of the equivalent circuit, a delta joins it to the reference, an
 * unearthed star is open. The common neutral of an autotransformer carries 3·(I0H + I0M); with t = UrHV/UrMV that puts
 * 3·ZN·(1 − t)/t² into the HV leg, 3·ZN·(t − 1)/t into the MV leg and 3·ZN/t into the tertiary leg (ohms of the MV side).
 */
function zeroSequence(
  unit: ThreeWindingTransformer,
  windings: readonly string[],
  clocks: readonly number[],
  pairs: Record<PairName, { z: Impedance }>,
  kv: readonly number[],
  context: SequenceContext,
): Pick<SequenceModel, 'zero' | 'zeroUnknown'> {
  const auto = windings[1] === 'A';
  const neutrals: Neutral[] = [unit.hvNeutral, auto ? unit.hvNeutral : unit.mvNeutral, unit.lvNeutral];
  const role = windings.map((winding, k) => {
    if (winding === 'D') return 'delta';
    return (winding === 'YN' || winding === 'A') && isEarthed(neutrals[k]) ? 'through' : 'open';
  });
  if (auto && role[0] === 'open') return throughIsolated(unit, role[2] === 'delta', pairs, kv, context);
  const active = [0, 1, 2].filter((k) => role[k] !== 'open');
  const paths = active.filter((k) => role[k] === 'through');
  if (paths.length === 0) return { zero: [] };
  const hasDelta = role.includes('delta');
  const names: Record<string, PairName> = { '01': 'hvMv', '02': 'hvLv', '12': 'mvLv' };
  const zeroOf = (p: number, q: number): Impedance | null => {
    const { x0OverX1, r0OverR1 } = unit[names[`${p}${q}`]];
    const { z } = pairs[names[`${p}${q}`]];
    return x0OverX1 === null || r0OverR1 === null ? null : impedance(r0OverR1 * z.rOhm, x0OverX1 * z.xOhm);
  };
  const core = hasDelta
    ? ('open' as const)
    : magnetising(unit.id, unit.core, unit.x0mPercent, kv[1], unit.hvMv.ratedMva, context);
  const legs: Impedance[] = [impedance(0, 0), impedance(0, 0), impedance(0, 0)];
  const [hm, hl, ml] = [zeroOf(0, 1), zeroOf(0, 2), zeroOf(1, 2)];
  const known = hm && hl && ml ? starLegs(hm, hl, ml) : null;
  known?.forEach((z, k) => (legs[k] = z));
  if (active.length === 1) {
    if (core === 'open') return { zero: [] };
    if (core === 'unknown') return { zero: [], zeroUnknown: { fields: ['core'], terminals: paths } };
    return { zero: earthedAlone(paths[0], inSeries(legs[paths[0]], core)) };
  }

  const couples = active.flatMap((p, k) => active.slice(k + 1).map((q) => [p, q] as const));
  const missing = couples.filter(([p, q]) => zeroOf(p, q) === null).map(([p, q]) => `${names[`${p}${q}`]}.x0OverX1`);
  if (missing.length > 0) return { zero: [], zeroUnknown: { fields: missing, terminals: paths } };
  if (active.length === 2 && hasDelta) return { zero: earthedAlone(paths[0], zeroOf(active[0], active[1])!) };

  // Only the two windings that take part are known: the star point stands in the middle between them.
  if (!known) for (const k of active) legs[k] = scaled(zeroOf(active[0], active[1])!, 0.5);
  const third = { z: core === 'open' || core === 'unknown' ? null : core };
  if (auto && active.includes(0) && active.includes(1)) {
    const neutral = tripledNeutral(unit.hvNeutral)!;
    const t = kv[0] / kv[1];
    legs[0] = inSeries(legs[0], scaled(neutral, (1 - t) / t ** 2));
    legs[1] = inSeries(legs[1], scaled(neutral, (t - 1) / t));
    if (role[2] === 'delta') legs[2] = inSeries(legs[2], scaled(neutral, 1 / t));
    else if (third.z) third.z = inSeries(third.z, scaled(neutral, 1 / t));
  } else for (const k of paths) legs[k] = inSeries(legs[k], referred(tripledNeutral(neutrals[k])!, kv[1] / kv[k]));

  // Senses count between star windings; the first of them is the reference, whatever the HV winding is.
  const reference = clocks[paths[0]];
  const zero: Primitive[] = active.map((k) =>
    role[k] === 'delta'
      ? shunt(star, legs[k], 'earth', false)
      : leg(legs[k], k, kv, 0, zeroSequenceSign(clocks[k] - reference)),
  );
  if (third.z) zero.push(shunt(star, third.z, 'earth', false));
  return { zero };

  function earthedAlone(terminal: number, onMv: Impedance): Primitive[] {
    const z = inSeries(referred(onMv, kv[terminal] / kv[1]), tripledNeutral(neutrals[terminal])!);
    return [shunt(terminal, z, earthRole(neutrals[terminal]), false)];
  }
}
