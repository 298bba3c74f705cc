/** Times of protection, loops of distance protection, current transformers. */
import { z } from 'zod';
import { divide, magnitude, scale, subtract, type Complex } from '../linear/complex';
import { quantity } from '../model/fields';
import { thresholdAt } from '../protection/differential/characteristic';
import { sideCurrentA } from '../protection/differential/compensation';
import { stabilised } from '../protection/differential/highImpedance';
import { residualRatios } from '../protection/distance/loops';
import { characteristics, inverseTime, resetTime } from '../protection/overcurrent/characteristics';
import { timeToTrip } from '../protection/thermal/image';
import { effectiveAlf, kneeByXOverR, ktd, limitingV } from '../ratings/ctAdequacy';
import { formulaOf, plain, seconds, type PublicFormula } from './formula';

const subject = 'Protection';
const lettered = ['iecA', 'iecB', 'iecC', 'ieeeD', 'ieeeE', 'ieeeF', 'longTime'] as const;
const multiple = plain('Current over pickup', { above: 0, max: 1000 });
const timeMultiplier = plain('Time multiplier', { above: 0, max: 100 });
const ohm = (title: string) => quantity(title, 'Ω', { min: 0 });

export const protectionFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'inverse-time',
    subject,
    title: 'Operating time of an inverse characteristic, and its dependent reset',
    source: 'IEC 60255-151:2009, annex A; IEEE C37.112-2018, table 1',
    mark: 'checked',
    inputs: {
      characteristic: z.enum(lettered).meta({ title: 'Characteristic' }),
      multiple,
      timeMultiplier,
      dependentTo: plain('', { above: 1, max: 1000 })
        .nullable()
        .meta({ title: 'Dependent time up to this multiple; null: without end', unit: '' }),
    },
    outputs: {
      operatingS: { title: 'Operating time; null: it does not operate', unit: 's' },
      resetS: { title: 'Reset time; null: none of its own', unit: 's' },
    },
    example: {
      inputs: { characteristic: 'iecA', multiple: 10, timeMultiplier: 0.3, dependentTo: 20 },
      outputs: { operatingS: 0.8911795873, resetS: null },
    },
    compute: (given) => {
      const { constants, tr } = characteristics[given.characteristic];
      const operatingS = inverseTime(constants!, given.multiple, given.timeMultiplier, given.dependentTo);
      return {
        operatingS: Number.isFinite(operatingS) ? operatingS : null,
        resetS: given.multiple < 1 ? resetTime(tr, given.timeMultiplier, given.multiple) : null,
      };
    },
  }),
  formulaOf({
    name: 'inverse-time-own',
    subject,
    title: 'Operating time t = TM · (k / (M^α − 1) + c) with constants of one’s own',
    source: 'IEC 60255-151:2009, 4.4.2',
    mark: 'checked',
    inputs: {
      k: quantity('k', 's', { min: 0 }),
      alpha: plain('α', { above: 0, max: 10 }),
      c: quantity('c', 's', { min: 0 }),
      multiple,
      timeMultiplier,
    },
    outputs: { operatingS: { title: 'Operating time; null: it does not operate', unit: 's' } },
    example: {
      inputs: { k: 28.2, alpha: 2, c: 0.1217, multiple: 5, timeMultiplier: 2 },
      outputs: { operatingS: 2.5934 },
    },
    compute: (given) => {
      const operatingS = inverseTime(given, given.multiple, given.timeMultiplier, null);
      return { operatingS: Number.isFinite(operatingS) ? operatingS : null };
    },
  }),
  formulaOf({
    name: 'thermal-image',
    subject,
    title: 'Time until a thermal image trips, from a load before',
    source: 'IEC 60255-149:2013, 4.4',
    mark: 'checked',
    inputs: {
      timeConstantS: seconds('Time constant'),
      multiple,
      before: plain('Load before over pickup', { min: 0, max: 1 }),
    },
    outputs: { operatingS: { title: 'Operating time; null: it does not operate', unit: 's' } },
    example: { inputs: { timeConstantS: 600, multiple: 1.5, before: 0.8 }, outputs: { operatingS: 151.8543766093 } },
    compute: (given) => {
      const operatingS = timeToTrip(given.timeConstantS, 1, given.multiple, given.before);
      return { operatingS: Number.isFinite(operatingS) ? operatingS : null };
    },
  }),
  formulaOf({
    name: 'residual-compensation',
    subject,
    title: 'Residual compensation of earth loops: k0, and RE/RL, XE/XL',
    source: 'symmetrical components: k0 = (Z0 − Z1) / (3 · Z1)',
    mark: 'checked',
    inputs: { r1: ohm('R1'), x1: quantity('X1', 'Ω', { above: 0 }), r0: ohm('R0'), x0: ohm('X0') },
    outputs: {
      k0: { title: 'k0', unit: '' },
      k0AngleDeg: { title: 'Angle of k0', unit: '°' },
      rEOverRL: { title: 'RE/RL; null without R1', unit: '' },
      xEOverXL: { title: 'XE/XL', unit: '' },
    },
    example: {
      inputs: { r1: 0.06, x1: 0.3, r0: 0.2, x0: 1 },
      outputs: { k0: 0.7777777778, k0AngleDeg: 0, rEOverRL: 0.7777777778, xEOverXL: 0.7777777778 },
    },
    compute: ({ r1, x1, r0, x0 }) => {
      const [z1, z0]: [Complex, Complex] = [
        { re: r1, im: x1 },
        { re: r0, im: x0 },
      ];
      const k0 = divide(subtract(z0, z1), scale(z1, 3));
      const { kr, kx } = residualRatios(z1, z0);
      const degrees = (Math.atan2(k0.im, k0.re) * 180) / Math.PI;
      return {
        k0: magnitude(k0),
        k0AngleDeg: Math.abs(degrees) < 1e-9 ? 0 : degrees,
        rEOverRL: r1 > 0 ? kr : null,
        xEOverXL: kx,
      };
    },
  }),
  formulaOf({
    name: 'ct-limit',
    subject,
    title: 'Accuracy limit of a current transformer with its burden, and the e.m.f. that belongs to it',
    source: 'IEC 61869-2:2012, 5.6.202 and annex 2A',
    mark: 'checked',
    inputs: {
      accuracyLimit: plain('Rated accuracy limit factor', { above: 0 }),
      windingOhm: ohm('Rct'),
      ratedVa: quantity('Rated output', 'VA', { above: 0 }),
      secondaryA: quantity('Rated secondary current', 'A', { above: 0, max: 10 }),
      burdenOhm: ohm('Burden connected'),
    },
    outputs: {
      effective: { title: 'Accuracy limit with this burden', unit: '' },
      limitingV: { title: 'Secondary limiting e.m.f.', unit: 'V' },
    },
    example: {
      inputs: { accuracyLimit: 20, windingOhm: 3, ratedVa: 15, secondaryA: 1, burdenOhm: 5 },
      outputs: { effective: 45, limitingV: 360 },
    },
    compute: ({ accuracyLimit, windingOhm, ratedVa, secondaryA, burdenOhm }) => {
      const rated = ratedVa / secondaryA ** 2;
      return {
        effective: effectiveAlf(accuracyLimit, windingOhm, rated, burdenOhm),
        limitingV: limitingV(accuracyLimit, secondaryA, windingOhm, rated),
      };
    },
  }),
  formulaOf({
    name: 'ct-transient',
    subject,
    title: 'Transient dimensioning factor Ktd, and the knee point that 1 + X/R asks for',
    source: 'IEC 61869-2:2012, annex 2B; IEEE C37.110',
    mark: 'remembered',
    inputs: {
      tpS: seconds('Primary time constant'),
      tsS: seconds('Secondary time constant'),
      frequencyHz: z.union([z.literal(50), z.literal(60)]).meta({ title: 'Frequency', unit: 'Hz' }),
      timeS: seconds('Until saturation may come'),
      secondaryFaultA: quantity('Secondary fault current', 'A', { above: 0 }),
      windingOhm: ohm('Rct'),
      burdenOhm: ohm('Burden'),
    },
    outputs: { ktd: { title: 'Ktd', unit: '' }, kneeV: { title: 'Knee point', unit: 'V' } },
    example: {
      inputs: { tpS: 0.05, tsS: 3, frequencyHz: 50, timeS: 0.1, secondaryFaultA: 40, windingOhm: 3, burdenOhm: 5 },
      outputs: { ktd: 14.2886304955, kneeV: 5346.5482457437 },
    },
    compute: ({ tpS, tsS, frequencyHz, timeS, secondaryFaultA, windingOhm, burdenOhm }) => ({
      ktd: ktd({ tpS, tsS, frequencyHz }, timeS),
      kneeV: kneeByXOverR(2 * Math.PI * frequencyHz * tpS, secondaryFaultA, windingOhm, burdenOhm),
    }),
  }),
  formulaOf({
    name: 'differential-threshold',
    subject,
    title: 'Operating current from which on a biased differential element trips',
    source: 'IEEE C37.91',
    mark: 'remembered',
    inputs: {
      pickup: plain('Pickup over base', { min: 0 }),
      slope1: plain('First slope', { min: 0, max: 2 }),
      knee: plain('Knee over base', { min: 0 }),
      slope2: plain('Second slope', { min: 0, max: 2 }),
      restraining: plain('Restraining current over base', { min: 0 }),
    },
    outputs: { threshold: { title: 'Operating current over base', unit: '' } },
    example: {
      inputs: { pickup: 0.3, slope1: 0.25, knee: 4, slope2: 0.6, restraining: 6 },
      outputs: { threshold: 2.2 },
    },
    compute: (given) => ({ threshold: thresholdAt(given, given.restraining) }),
  }),
  formulaOf({
    name: 'differential-base',
    subject,
    title: 'Rated current of a side of a transformer, also off its main tapping',
    source: 'I = Sr / (√3 · Ur)',
    mark: 'checked',
    inputs: {
      ratedMva: quantity('Rated power', 'MVA', { above: 0 }),
      ratedKv: quantity('Rated voltage', 'kV', { above: 0 }),
      tapPercent: quantity('Voltage of the tapping above the rated one', '%', { min: -50, max: 50 }),
    },
    outputs: { ampere: { title: 'Current', unit: 'A' } },
    example: { inputs: { ratedMva: 40, ratedKv: 132, tapPercent: 10 }, outputs: { ampere: 159.0496609338 } },
    compute: ({ ratedMva, ratedKv, tapPercent }) => ({ ampere: sideCurrentA(ratedMva, ratedKv, tapPercent) }),
  }),
  formulaOf({
    name: 'high-impedance',
    subject,
    title: 'Stabilising voltage and resistor of a high-impedance scheme, and its sensitivity',
    source: 'IEEE C37.234',
    mark: 'remembered',
    inputs: {
      throughFaultA: quantity('Largest fault outside', 'A', { above: 0 }),
      primaryA: quantity('Rated primary current', 'A', { above: 0 }),
      secondaryA: quantity('Rated secondary current', 'A', { above: 0, max: 10 }),
      windingOhm: ohm('Rct'),
      leadOhm: ohm('Leads, one way'),
      relayA: quantity('Relay current', 'A', { above: 0 }),
      relayOhm: ohm('Relay'),
      ctCount: z.int().min(2).max(100).meta({ title: 'Current transformers in parallel' }),
      magnetisingA: quantity('Magnetising current of each', 'A', { min: 0 }),
      varistorA: quantity('Varistor', 'A', { min: 0 }),
      kneeV: quantity('Knee point', 'V', { above: 0 }),
    },
    outputs: {
      stabilisingV: { title: 'Stabilising voltage', unit: 'V' },
      resistorOhm: { title: 'Resistor', unit: 'Ω' },
      requiredKneeV: { title: 'Knee point that is asked for', unit: 'V' },
      operatingA: { title: 'Least fault inside, primary', unit: 'A' },
      peakV: { title: 'Peak voltage of a fault inside', unit: 'V' },
    },
    example: {
      inputs: {
        throughFaultA: 20000,
        primaryA: 1000,
        secondaryA: 1,
        windingOhm: 4,
        leadOhm: 1,
        relayA: 0.1,
        relayOhm: 0,
        ctCount: 6,
        magnetisingA: 0.01,
        varistorA: 0,
        kneeV: 300,
      },
      outputs: { stabilisingV: 120, resistorOhm: 1200, requiredKneeV: 240, operatingA: 160, peakV: 7560.9523209712 },
    },
    compute: (given) => {
      const { stabilisingV, resistorOhm, requiredKneeV, operatingA, peakV } = stabilised(given);
      return { stabilisingV, resistorOhm, requiredKneeV, operatingA, peakV };
    },
  }),
];
