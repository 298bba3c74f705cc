/** Two-winding transformers: ZT, correction factor KT, and the zero sequence by vector group, core and earthing. IEC 60909-0:2016, 6.3. */
import type { Transformer } from '../model/branches';
import { parseVectorGroup } from '../model/vectorgroup';
import { formula, given, quantityOf } from '../working/trace';
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

/** Local node in the middle of the leakage impedance, where a magnetising path branches off. */
const middle = 2;

export function transformer(unit: Transformer, context: SequenceContext): SequenceModel {
  const { trace } = context;
  trace.section(`Transformer ${unit.name}`, unit.id);
  const { x, r, relativeX } = leakage(unit.id, unit, given('UrTLV', unit.lvKv, 'kV', unit.id, 'lvKv'), context);
  const k = correction(relativeX, context.nominalKv(unit.id, 1), context);
  const rK = trace.step('RTK', formula`${k} · ${r}`, k.value * r.value, 'Ω', 'IEC 60909-0, 6.3.3');
  const xK = trace.step('XTK', formula`${k} · ${x}`, k.value * x.value, 'Ω', 'IEC 60909-0, 6.3.3');

  // Ohms hold at the main position of the LV winding: a tap on that side moves them with the square of its turns.
  const tap = tapRatio(unit.tap, context);
  const onTap = tap.lv ** 2;
  const ratio = (unit.hvKv * tap.hv) / (unit.lvKv * tap.lv);
  const { clock } = parseVectorGroup(unit.vectorGroup)!;
  const shiftRad = (unit.shiftDegrees * Math.PI) / 180;
  const z1 = impedance(rK.value * onTap, xK.value * onTap);
  const positive = [series(z1, ratio, clock, { shiftRad })];

  const path = zeroSequencePath(unit);
  if (path === 'open') return { positive, zero: [] };
  const terminals = path === 'through' ? [0, 1] : [path.startsWith('hv') ? 0 : 1];
  if (path === 'hvCore' || path === 'lvCore') {
    const kv = path === 'hvCore' ? unit.hvKv : unit.lvKv;
    const own = magnetising(unit.id, unit.core, unit.x0mPercent, kv, unit.ratedMva, context);
    if (own === 'open') return { positive, zero: [] };
    if (own !== 'unknown') return { positive, zero: [toEarth(unit, terminals[0], own)] };
    // Without a word on the core a measured X0/X1 is taken for what it is.
  }
  if (unit.x0OverX1 === null || unit.r0OverR1 === null) {
    const fields = [unit.x0OverX1 === null ? 'x0OverX1' : '', unit.r0OverR1 === null ? 'r0OverR1' : ''];
    return { positive, zero: [], zeroUnknown: { fields: fields.filter(Boolean), terminals } };
  }
  const r0 = trace.step(
    'R0TK',
    formula`${given('R0T/RT', unit.r0OverR1, '', unit.id, 'r0OverR1')} · ${rK}`,
    unit.r0OverR1 * rK.value,
    'Ω',
    'IEC 60909-0, 6.3.3',
  );
  const x0 = trace.step(
    'X0TK',
    formula`${given('X0T/XT', unit.x0OverX1, '', unit.id, 'x0OverX1')} · ${xK}`,
    unit.x0OverX1 * xK.value,
    'Ω',
    'IEC 60909-0, 6.3.3',
  );
  const z0 = impedance(r0.value * onTap, x0.value * onTap);
  if (path === 'through') return { positive, zero: through(unit, z0, ratio, clock, context) };
  return { positive, zero: [toEarth(unit, terminals[0], path.startsWith('hv') ? referred(z0, ratio) : z0)] };
}

type Path = 'open' | 'hv' | 'lv' | 'hvCore' | 'lvCore' | 'through';

/**
 * Which way zero-sequence current can pass: to earth at one side (a delta, or the zigzag itself, gives the ampere-turns), through, against the magnetising
 * reactance of the core only, or not at all.
 */
export function zeroSequencePath(unit: Transformer): Path {
  const { hv, lv } = parseVectorGroup(unit.vectorGroup)!;
  if (lv === 'A') return isEarthed(unit.hvNeutral) ? 'through' : 'open';
  const hvEarthed = (hv === 'YN' || hv === 'ZN') && isEarthed(unit.hvNeutral);
  const lvEarthed = (lv === 'YN' || lv === 'ZN') && isEarthed(unit.lvNeutral);
  if (hvEarthed && lvEarthed && hv === 'YN' && lv === 'YN') return 'through';
  if (lvEarthed && (lv === 'ZN' || hv === 'D')) return 'lv';
  if (hvEarthed && (hv === 'ZN' || lv === 'D')) return 'hv';
  if (lvEarthed) return 'lvCore';
  return hvEarthed ? 'hvCore' : 'open';
}

/** Impedances at the neutrals are not corrected by KT (IEC 60909-0, 6.3.3). */
function toEarth(unit: Transformer, terminal: number, z0: Impedance): Primitive {
  const neutral = terminal === 0 ? unit.hvNeutral : unit.lvNeutral;
  return shunt(terminal, inSeries(z0, tripledNeutral(neutral)!), earthRole(neutral), false);
}

/**
 * Both sides earthed: `z0` (ohms of the LV side) with the neutrals in series, and the magnetising reactance of the core to earth from its middle, where it counts. In an
 * autotransformer the common neutral carries 3·(I0H + I0L): without further winding that is 3·ZN·(1 − 1/t)² in series.
 */
function through(
  unit: Transformer,
  z0: Impedance,
  ratio: number,
  clock: number,
  context: SequenceContext,
): Primitive[] {
  if (parseVectorGroup(unit.vectorGroup)!.lv === 'A') {
    const common = tripledNeutral(unit.hvNeutral)!;
    if (common.rOhm !== 0 || common.xOhm !== 0)
      context.trace.step(
        '3 ZN referred',
        formula`3 · ${quantityOf('ZN', { re: common.rOhm / 3, im: common.xOhm / 3 }, 'Ω')} · (1 - 1 / ${quantityOf('t', ratio)})^2`,
        { re: common.rOhm * (1 - 1 / ratio) ** 2, im: common.xOhm * (1 - 1 / ratio) ** 2 },
        'Ω',
        undefined,
        'current through the common neutral',
      );
    return [series(inSeries(z0, scaled(common, (1 - 1 / ratio) ** 2)), ratio)];
  }
  const turns = zeroSequenceSign(clock) * ratio;
  const hvNeutral = referred(tripledNeutral(unit.hvNeutral)!, 1 / ratio);
  const lvNeutral = tripledNeutral(unit.lvNeutral)!;
  const core = magnetising(unit.id, unit.core, unit.x0mPercent, unit.lvKv, unit.ratedMva, context);
  if (core === 'open' || core === 'unknown') return [series(inSeries(z0, lvNeutral, hvNeutral), turns)];
  const half = scaled(z0, 0.5);
  return [
    series(inSeries(half, hvNeutral), turns, 0, { from: 0, to: middle }),
    series(inSeries(half, lvNeutral), 1, 0, { from: middle, to: 1 }),
    shunt(middle, core, 'earth', false),
  ];
}
