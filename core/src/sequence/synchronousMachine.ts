/** Synchronous machines without unit transformer: correction factor KG and fictitious resistance RGf. IEC 60909-0:2016, 6.6.1. */
import type { SynchronousMachine } from '../model/sources';
import { assumed, formula, given, quantityOf } from '../working/trace';
import { earthRole, inSeries, tripledNeutral } from './neutral';
import {
  impedance,
  nothing,
  shunt,
  withoutFactors,
  withoutFactorsClause,
  type SequenceContext,
  type SequenceModel,
} from './stamp';

/** RGf over X″d: 0.05 from 100 MVA, 0.07 below, 0.15 up to 1 kV. */
export function fictitiousResistanceRatio(ratedKv: number, ratedMva: number): number {
  if (ratedKv <= 1) return 0.15;
  return ratedMva >= 100 ? 0.05 : 0.07;
}

export function synchronousMachine(machine: SynchronousMachine, context: SequenceContext): SequenceModel {
  const { trace, basis } = context;
  if (context.faultCase === 'min' && !machine.runsAtMinimum) return nothing;
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, machine.id, field);
  const u = at('UrG', machine.ratedKv, 'kV', 'ratedKv');
  const s = at('SrG', machine.ratedMva, 'MVA', 'ratedMva');
  const reactance = (symbol: string, label: string, percent: number, field: string) =>
    trace.step(
      symbol,
      formula`${at(label, percent, '%', field)} / 100 · ${u}^2 / ${s}`,
      ((percent / 100) * machine.ratedKv ** 2) / machine.ratedMva,
      'Ω',
      'IEC 60909-0, 6.6.1',
    );

  trace.section(`Synchronous machine ${machine.name}`, machine.id);
  const xd2 = reactance('X″d', 'x″d', machine.xd2Percent, 'xd2Percent');
  const typical = fictitiousResistanceRatio(machine.ratedKv, machine.ratedMva);
  const rGf = trace.step(
    'RGf',
    formula`${quantityOf('RGf/X″d', typical)} · ${xd2}`,
    typical * xd2.value,
    'Ω',
    'IEC 60909-0, 6.6.1',
  );
  const rG =
    machine.rOhm === null ? assumed('RG', rGf.value, 'Ω', machine.id, 'rOhm') : at('RG', machine.rOhm, 'Ω', 'rOhm');
  const r = rG.value as number;
  const k = factor(machine, context);
  const corrected = (symbol: string, reactanceOhm: { value: number; symbol: string; unit: string }) =>
    trace.step(symbol, formula`${k} · ${reactanceOhm}`, k.value * reactanceOhm.value, 'Ω', k.clause);
  const rK = trace.step('RGK', formula`${k} · ${rG}`, k.value * r, 'Ω', k.clause);
  // Half a second after the fault the transient reactance has taken over (IEEE C37.010, time-delayed devices).
  const acting =
    basis === 'thirtyCycle' && machine.xd1Percent !== null
      ? reactance('X′d', 'x′d', machine.xd1Percent, 'xd1Percent')
      : xd2;
  const xK = corrected('XGK', acting);
  const rPeak = k.value * rGf.value;
  const positive = [shunt(0, impedance(rK.value, xK.value, rPeak), 'source')];
  const negative =
    machine.x2Percent === null
      ? undefined
      : [
          shunt(
            0,
            impedance(rK.value, corrected('X2GK', reactance('X2', 'x2', machine.x2Percent, 'x2Percent')).value, rPeak),
            'source',
          ),
        ];

  const neutral = tripledNeutral(machine.neutral);
  if (!neutral) return { positive, negative, zero: [] };
  if (machine.x0Percent === null)
    return { positive, negative, zero: [], zeroUnknown: { fields: ['x0Percent'], terminals: [0] } };
  const x0K = corrected('X0GK', reactance('X0', 'x0', machine.x0Percent, 'x0Percent'));
  const z0 = inSeries(impedance(rK.value, x0K.value, rPeak), neutral);
  return { positive, negative, zero: [shunt(0, z0, earthRole(machine.neutral), true)] };
}

/** KG; IEEE C37.010 multiplier of motors; 1 for the network as it runs. */
function factor(machine: SynchronousMachine, context: SequenceContext) {
  const { trace, basis } = context;
  if (basis === 'operating') return { ...quantityOf('k', 1), value: 1, clause: undefined };
  if (basis !== 'iec60909') {
    // A machine that takes power is a motor.
    const value = basis === 'interrupting' && machine.operation.activeMw < 0 ? 1.5 : 1;
    return { ...quantityOf('m', value), value, clause: 'IEEE C37.010' };
  }
  const at = (symbol: string, value: number, unit: string, field: string) =>
    given(symbol, value, unit, machine.id, field);
  const u = at('UrG', machine.ratedKv, 'kV', 'ratedKv');
  const un = quantityOf('Un', context.nominalKv(machine.id, 0), 'kV');
  const c = quantityOf('cmax', context.cFactor(un.value as number, 'max'));
  const cosPhi = at('cos φrG', machine.powerFactor, '', 'powerFactor');
  const sinPhi = trace.step('sin φrG', formula`√(1 - ${cosPhi}^2)`, Math.sqrt(1 - machine.powerFactor ** 2));
  const pG = at('pG', machine.regulationPercent, '%', 'regulationPercent');
  const x = at('x″d', machine.xd2Percent, '%', 'xd2Percent');
  const clause = 'IEC 60909-0, 6.6.1';
  if (withoutFactors(context)) {
    const one = trace.step('KG', ['1'], 1, '', withoutFactorsClause, 'minimum current');
    return { ...one, clause: withoutFactorsClause };
  }
  const k = trace.step(
    'KG',
    formula`${un} / (${u} · (1 + ${pG} / 100)) · ${c} / (1 + ${x} / 100 · ${sinPhi})`,
    generatorFactor(machine, un.value as number, c.value as number),
    '',
    clause,
  );
  return { ...k, clause };
}

/** KG by itself: ratings as stored, nominal voltage in kV (IEC 60909-0, 6.6.1). */
export const generatorFactor = (
  machine: {
    readonly ratedKv: number;
    readonly regulationPercent: number;
    readonly xd2Percent: number;
    readonly powerFactor: number;
  },
  nominalKv: number,
  cMax: number,
): number =>
  ((nominalKv / (machine.ratedKv * (1 + machine.regulationPercent / 100))) * cMax) /
  (1 + (machine.xd2Percent / 100) * Math.sqrt(1 - machine.powerFactor ** 2));
