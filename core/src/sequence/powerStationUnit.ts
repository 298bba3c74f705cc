/**
 * Power-station units: generator and unit transformer corrected together, KS with and KSO without on-load tap changer. IEC 60909-0:2016, 6.7;
 * for a fault between the two, 6.7.3. Local nodes: 0 HV side, 1 generator bus.
 */
import type { PowerStationUnit } from '../model/sources';
import { parseVectorGroup } from '../model/vectorgroup';
import { assumed, formula, given, quantityOf, type Quantity } from '../working/trace';
import { leakage, referred } from './leakage';
import { earthRole, inSeries, isEarthed, tripledNeutral } from './neutral';
import {
  impedance,
  nothing,
  scaled,
  series,
  shunt,
  withoutFactors,
  withoutFactorsClause,
  type SequenceContext,
  type SequenceModel,
} from './stamp';
import { fictitiousResistanceRatio } from './synchronousMachine';

type Value = Quantity & { readonly value: number };

export function powerStationUnit(unit: PowerStationUnit, context: SequenceContext): SequenceModel {
  const { trace, basis } = context;
  if (context.faultCase === 'min' && !unit.runsAtMinimum) return nothing;
  const { generator: g, transformer: t } = unit;
  const at = (symbol: string, value: number, unitOf: string, field: string) =>
    given(symbol, value, unitOf, unit.id, field);
  trace.section(`Power-station unit ${unit.name}`, unit.id);
  const u = at('UrG', g.ratedKv, 'kV', 'generator.ratedKv');
  const s = at('SrG', g.ratedMva, 'MVA', 'generator.ratedMva');
  const reactance = (symbol: string, label: string, percent: number, field: string) =>
    trace.step(
      symbol,
      formula`${at(label, percent, '%', `generator.${field}`)} / 100 · ${u}^2 / ${s}`,
      ((percent / 100) * g.ratedKv ** 2) / g.ratedMva,
      'Ω',
      'IEC 60909-0, 6.6.1',
    );
  const x = reactance('X″d', 'x″d', g.xd2Percent, 'xd2Percent');
  const fictitious = fictitiousResistanceRatio(g.ratedKv, g.ratedMva) * x.value;
  const r =
    g.rOhm === null
      ? assumed('RG', fictitious, 'Ω', unit.id, 'generator.rOhm')
      : at('RG', g.rOhm, 'Ω', 'generator.rOhm');
  const rOhm = r.value as number;
  const own = leakage(unit.id, t, at('UrTLV', t.lvKv, 'kV', 'transformer.lvKv'), context, '', 'transformer.');
  const ratio = t.hvKv / t.lvKv;
  const { clock, hv } = parseVectorGroup(t.vectorGroup)!;

  const inside = context.faultInside?.unit === unit.id;
  const k = basis === 'iec60909' ? correctionFactor(unit, own.relativeX, inside, context) : one;
  // At the generator itself the shares of generator and transformer are told apart, and that of the transformer goes without a factor.
  const auxiliaries = inside && context.faultInside!.auxiliaries && basis === 'iec60909';
  const transformerFactor = auxiliaries
    ? transformerSideFactor(unit, own.relativeX, context).value
    : inside
      ? 1
      : k.value;
  const acting =
    basis === 'thirtyCycle' && g.xd1Percent !== null ? reactance('X′d', 'x′d', g.xd1Percent, 'xd1Percent') : x;
  const zG = impedance(k.value * rOhm, k.value * acting.value, k.value * fictitious);
  trace.step(
    'ZGK',
    formula`${k} · ${quantityOf('ZG', { re: rOhm, im: acting.value }, 'Ω')}`,
    { re: zG.rOhm, im: zG.xOhm },
    'Ω',
    'IEC 60909-0, 6.7',
    'at the generator',
  );
  const zT = scaled(own.z, transformerFactor);
  const branch = series(zT, ratio, clock);
  const positive = [branch, shunt(1, zG, 'source')];
  const negative =
    g.x2Percent === null
      ? undefined
      : [
          branch,
          shunt(
            1,
            impedance(zG.rOhm, k.value * reactance('X2', 'x2', g.x2Percent, 'x2Percent').value, zG.rPeakOhm),
            'source',
          ),
        ];
  if (hv !== 'YN' || !isEarthed(unit.hvNeutral)) return { positive, negative, zero: [] };
  if (t.x0OverX1 === null || t.r0OverR1 === null)
    return { positive, negative, zero: [], zeroUnknown: { fields: ['transformer.x0OverX1'], terminals: [0] } };
  // The impedance at the neutral is not corrected (IEC 60909-0, 6.7).
  const z0 = referred(scaled(impedance(t.r0OverR1 * own.z.rOhm, t.x0OverX1 * own.z.xOhm), transformerFactor), ratio);
  return {
    positive,
    negative,
    zero: [shunt(0, inSeries(z0, tripledNeutral(unit.hvNeutral)!), earthRole(unit.hvNeutral), false)],
  };
}

const one: Value = { ...quantityOf('k', 1), value: 1 };

/** KS, KSO; KG,S and KG,SO for a fault at the generator. */
function correctionFactor(unit: PowerStationUnit, xT: Value, inside: boolean, context: SequenceContext): Value {
  const { trace } = context;
  const { generator: g, transformer: t } = unit;
  const at = (symbol: string, value: number, unitOf: string, field: string) =>
    given(symbol, value, unitOf, unit.id, field);
  const kv = context.nominalKv(unit.id, 0);
  const un = quantityOf('UnQ', kv, 'kV');
  const u = at('UrG', g.ratedKv, 'kV', 'generator.ratedKv');
  const c = quantityOf('cmax', context.cFactor(kv, 'max'));
  const cMax = c.value as number;
  const cosPhi = at('cos φrG', g.powerFactor, '', 'generator.powerFactor');
  const sin = trace.step('sin φrG', formula`√(1 - ${cosPhi}^2)`, Math.sqrt(1 - g.powerFactor ** 2));
  const xd = at('x″d', g.xd2Percent, '%', 'generator.xd2Percent');
  const pG = at('pG', g.regulationPercent, '%', 'generator.regulationPercent');
  const [relative, regulation] = [g.xd2Percent / 100, 1 + g.regulationPercent / 100];
  const hv = at('UrTHV', t.hvKv, 'kV', 'transformer.hvKv');
  const lv = at('UrTLV', t.lvKv, 'kV', 'transformer.lvKv');
  if (withoutFactors(context))
    return trace.step(inside ? 'KG,S' : 'KS', ['1'], 1, '', withoutFactorsClause, 'minimum current');
  if (inside)
    return t.onLoadTapChanger
      ? trace.step(
          'KG,S',
          formula`${c} / (1 + ${xd} / 100 · ${sin})`,
          cMax / (1 + relative * sin.value),
          '',
          'IEC 60909-0, 6.7.3',
        )
      : trace.step(
          'KG,SO',
          formula`1 / (1 + ${pG} / 100) · ${c} / (1 + ${xd} / 100 · ${sin})`,
          cMax / regulation / (1 + relative * sin.value),
          '',
          'IEC 60909-0, 6.7.3',
        );
  if (t.onLoadTapChanger)
    return trace.step(
      'KS',
      formula`${un}^2 / ${u}^2 · ${lv}^2 / ${hv}^2 · ${c} / (1 + |${xd} / 100 - ${xT}| · ${sin})`,
      (kv ** 2 / g.ratedKv ** 2) *
        (t.lvKv ** 2 / t.hvKv ** 2) *
        (cMax / (1 + Math.abs(relative - xT.value) * sin.value)),
      '',
      'IEC 60909-0, 6.7.1',
    );
  const pT = at('pT', t.pTPercent, '%', 'transformer.pTPercent');
  return trace.step(
    'KSO',
    formula`${un} / (${u} · (1 + ${pG} / 100)) · ${lv} / ${hv} · (1 - ${pT} / 100) · ${c} / (1 + ${xd} / 100 · ${sin})`,
    (kv / (g.ratedKv * regulation)) * (t.lvKv / t.hvKv) * (1 - t.pTPercent / 100) * (cMax / (1 + relative * sin.value)),
    '',
    'IEC 60909-0, 6.7.2',
  );
}

/** KT,S and KT,SO: correction of the unit transformer for a fault in the auxiliaries. */
function transformerSideFactor(unit: PowerStationUnit, xT: Value, context: SequenceContext): Value {
  const { trace } = context;
  const { generator: g, transformer: t } = unit;
  if (withoutFactors(context)) return trace.step('KT,S', ['1'], 1, '', withoutFactorsClause, 'minimum current');
  const c = quantityOf('cmax', context.cFactor(context.nominalKv(unit.id, 0), 'max'));
  const sinPhi = Math.sqrt(1 - g.powerFactor ** 2);
  const sin = quantityOf('sin φrG', sinPhi);
  const value = (c.value as number) / (1 - xT.value * sinPhi);
  const clause = 'IEC 60909-0, 6.7.3';
  if (t.onLoadTapChanger) return trace.step('KT,S', formula`${c} / (1 - ${xT} · ${sin})`, value, '', clause);
  const pG = given('pG', g.regulationPercent, '%', unit.id, 'generator.regulationPercent');
  return trace.step(
    'KT,SO',
    formula`1 / (1 + ${pG} / 100) · ${c} / (1 - ${xT} · ${sin})`,
    value / (1 + g.regulationPercent / 100),
    '',
    clause,
  );
}
