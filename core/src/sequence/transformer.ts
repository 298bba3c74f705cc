/** Two-winding transformers: ZT, correction factor KT, and the zero sequence by vector group and earthing. IEC 60909-0:2016, 6.3. */
import type { Transformer } from '../model/branches';
import { parseVectorGroup } from '../model/vectorgroup';
import { formula, given, quantityOf } from '../working/trace';
import { inSeries, tripledNeutral } from './neutral';
import {
  impedance,
  series,
  shunt,
  type Impedance,
  type Primitive,
  type SequenceContext,
  type SequenceModel,
} from './stamp';

export function transformer(transformer: Transformer, context: SequenceContext): SequenceModel {
  const { trace } = context;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, transformer.id, field);
  const uk = at('ukr', transformer.ukPercent, '%', 'ukPercent');
  const uR = at('uRr', transformer.uRPercent, '%', 'uRPercent');
  const s = at('SrT', transformer.ratedMva, 'MVA', 'ratedMva');
  const u = at('UrTLV', transformer.lvKv, 'kV', 'lvKv');

  trace.section(`Transformer ${transformer.name}`, transformer.id);
  const base = transformer.lvKv ** 2 / transformer.ratedMva / 100;
  const z = trace.step(
    'ZT',
    formula`${uk} / 100 · ${u}^2 / ${s}`,
    transformer.ukPercent * base,
    'Ω',
    'IEC 60909-0, 6.3.1',
  );
  const r = trace.step(
    'RT',
    formula`${uR} / 100 · ${u}^2 / ${s}`,
    transformer.uRPercent * base,
    'Ω',
    'IEC 60909-0, 6.3.1',
  );
  const x = trace.step(
    'XT',
    formula`√(${z}^2 - ${r}^2)`,
    Math.sqrt(Math.max(z.value ** 2 - r.value ** 2, 0)),
    'Ω',
    'IEC 60909-0, 6.3.1',
  );
  const xT = trace.step(
    'xT',
    formula`${x} · ${s} / ${u}^2`,
    (x.value * transformer.ratedMva) / transformer.lvKv ** 2,
    '',
    'IEC 60909-0, 6.3.3',
  );
  const c = quantityOf('cmax', context.cFactor(context.nominalKv(transformer.id, 1), 'max'));
  const k = trace.step(
    'KT',
    formula`0.95 · ${c} / (1 + 0.6 · ${xT})`,
    (0.95 * (c.value as number)) / (1 + 0.6 * xT.value),
    '',
    'IEC 60909-0, 6.3.3',
  );
  const rK = trace.step('RTK', formula`${k} · ${r}`, k.value * r.value, 'Ω', 'IEC 60909-0, 6.3.3');
  const xK = trace.step('XTK', formula`${k} · ${x}`, k.value * x.value, 'Ω', 'IEC 60909-0, 6.3.3');

  const ratio = transformer.hvKv / transformer.lvKv;
  const clock = parseVectorGroup(transformer.vectorGroup)!.clock;
  const positive = [series(impedance(rK.value, xK.value), ratio, clock)];
  const path = zeroSequencePath(transformer);
  if (path === 'open') return { positive, zero: [] };
  if (transformer.x0OverX1 === null || transformer.r0OverR1 === null) {
    const fields = [transformer.x0OverX1 === null ? 'x0OverX1' : '', transformer.r0OverR1 === null ? 'r0OverR1' : ''];
    const terminals = path === 'through' ? [0, 1] : [path === 'hv' ? 0 : 1];
    return { positive, zero: [], zeroUnknown: { fields: fields.filter(Boolean), terminals } };
  }
  const r0 = trace.step(
    'R0TK',
    formula`${at('R0T/RT', transformer.r0OverR1, '', 'r0OverR1')} · ${rK}`,
    transformer.r0OverR1 * rK.value,
    'Ω',
    'IEC 60909-0, 6.3.3',
  );
  const x0 = trace.step(
    'X0TK',
    formula`${at('X0T/XT', transformer.x0OverX1, '', 'x0OverX1')} · ${xK}`,
    transformer.x0OverX1 * xK.value,
    'Ω',
    'IEC 60909-0, 6.3.3',
  );
  return { positive, zero: [zeroSequence(transformer, path, impedance(r0.value, x0.value), ratio, clock)] };
}

type Path = 'open' | 'hv' | 'lv' | 'through';

/** Which way zero-sequence current can pass: to earth at one side (the other side gives the ampere-turns), through, or not at all. */
export function zeroSequencePath(transformer: Transformer): Path {
  const group = parseVectorGroup(transformer.vectorGroup)!;
  const hvEarthed = (group.hv === 'YN' || group.hv === 'ZN') && transformer.hvNeutral.earthing !== 'isolated';
  const lvEarthed = (group.lv === 'YN' || group.lv === 'ZN') && transformer.lvNeutral.earthing !== 'isolated';
  if (hvEarthed && lvEarthed && group.hv === 'YN' && group.lv === 'YN') return 'through';
  if (lvEarthed) return 'lv';
  if (hvEarthed) return 'hv';
  return 'open';
}

/** Impedances at the neutrals are not corrected by KT (IEC 60909-0, 6.3.3). `z0` is in ohms of the LV side. */
function zeroSequence(transformer: Transformer, path: Path, z0: Impedance, ratio: number, clock: number): Primitive {
  const referred = (z: Impedance, factor: number) => impedance(z.rOhm * factor, z.xOhm * factor, z.rPeakOhm * factor);
  const hvNeutral = tripledNeutral(transformer.hvNeutral);
  const lvNeutral = tripledNeutral(transformer.lvNeutral);
  if (path === 'hv') return shunt(0, inSeries(referred(z0, ratio ** 2), hvNeutral!));
  if (path === 'lv') return shunt(1, inSeries(z0, lvNeutral!));
  // Clock numbers 2, 6 and 10 turn the windings round, and with them the zero sequence.
  const sign = clock % 4 === 2 ? -1 : 1;
  return series(inSeries(z0, lvNeutral!, referred(hvNeutral!, 1 / ratio ** 2)), sign * ratio);
}
