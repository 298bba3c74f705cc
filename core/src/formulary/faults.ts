/** Fault currents: factors of IEC 60909-0 and IEEE C37.010. */
import { mu, q } from '../faults/iec60909/breaking';
import { peakFactor } from '../faults/iec60909/peak';
import { thermalCurrent } from '../faults/iec60909/thermal';
import {
  asymmetry,
  exactPeak,
  halfCyclePeak,
  localFactor,
  lowVoltageFactors,
  remoteFactor,
} from '../faults/c37/factors';
import { transformerFactor } from '../sequence/leakage';
import { generatorFactor } from '../sequence/synchronousMachine';
import { quantity } from '../model/fields';
import { formulaOf, hertz, kiloampere, kilovolt, plain, seconds, type PublicFormula } from './formula';

const subject = 'Fault currents';
const xOverR = { xOverR: plain('X/R', { above: 0 }) };

export const faultFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'peak-factor',
    subject,
    title: 'Factor κ of the peak current, and ip of a current',
    source: 'IEC 60909-0:2016, 8.1',
    mark: 'checked',
    inputs: { rOverX: plain('R/X', { min: 0, max: 10 }), ikKa: kiloampere('Ik″') },
    outputs: { kappa: { title: 'κ', unit: '' }, ipKa: { title: 'ip', unit: 'kA' } },
    example: { inputs: { rOverX: 0.1, ikKa: 20 }, outputs: { kappa: 1.7460018563, ipKa: 49.384390101 } },
    compute: ({ rOverX, ikKa }) => {
      const kappa = peakFactor(rOverX);
      return { kappa, ipKa: kappa * Math.SQRT2 * ikKa };
    },
  }),
  formulaOf({
    name: 'breaking-factor-machine',
    subject,
    title: 'Factor µ of the breaking current of a synchronous machine',
    source: 'IEC 60909-0:2016, 9.1.1',
    mark: 'checked',
    inputs: { ratio: plain('I″kG/IrG', { above: 0, max: 100 }), minimumDelayS: seconds('Minimum time delay') },
    outputs: { mu: { title: 'µ', unit: '' } },
    example: { inputs: { ratio: 5, minimumDelayS: 0.1 }, outputs: { mu: 0.765365493 } },
    compute: ({ ratio, minimumDelayS }) => ({ mu: mu(ratio, minimumDelayS) }),
  }),
  formulaOf({
    name: 'breaking-factor-motor',
    subject,
    title: 'Factor q of the breaking current of asynchronous motors',
    source: 'IEC 60909-0:2016, 9.1.2',
    mark: 'checked',
    inputs: {
      mwPerPolePair: quantity('Rated power by pole pair', 'MW', { above: 0 }),
      minimumDelayS: seconds('Minimum time delay'),
    },
    outputs: { q: { title: 'q', unit: '' } },
    example: { inputs: { mwPerPolePair: 2.5, minimumDelayS: 0.1 }, outputs: { q: 0.679954888 } },
    compute: ({ mwPerPolePair, minimumDelayS }) => ({ q: q(mwPerPolePair, minimumDelayS) }),
  }),
  formulaOf({
    name: 'thermal-current',
    subject,
    title: 'Thermal equivalent current Ith with the heat of both components',
    source: 'IEC 60909-0:2016, clause 11 and annex A',
    mark: 'checked',
    inputs: {
      ikKa: kiloampere('Ik″'),
      kappa: plain('κ', { above: 1, max: 2 }),
      initialOverSteady: plain('Ik″/Ik', { min: 1, max: 20 }),
      frequencyHz: hertz,
      durationS: seconds('Duration'),
    },
    outputs: { m: { title: 'm', unit: '' }, n: { title: 'n', unit: '' }, ithKa: { title: 'Ith', unit: 'kA' } },
    example: {
      inputs: { ikKa: 20, kappa: 1.8, initialOverSteady: 1, frequencyHz: 50, durationS: 1 },
      outputs: { m: 0.0448142012, n: 1, ithKa: 20.443230676 },
    },
    compute: ({ ikKa, kappa, initialOverSteady, frequencyHz, durationS }) => {
      const { m, n, ithA } = thermalCurrent(1000 * ikKa, kappa, initialOverSteady, frequencyHz, durationS);
      return { m, n, ithKa: ithA / 1000 };
    },
  }),
  formulaOf({
    name: 'transformer-correction',
    subject,
    title: 'Correction factor KT of a network transformer',
    source: 'IEC 60909-0:2016, 6.3.3',
    mark: 'checked',
    inputs: {
      relativeReactance: plain('xT on the rating', { min: 0, max: 1 }),
      cMax: plain('cmax', { min: 1, max: 1.1 }),
    },
    outputs: { kT: { title: 'KT', unit: '' } },
    example: { inputs: { relativeReactance: 0.12, cMax: 1.1 }, outputs: { kT: 0.9748134328 } },
    compute: ({ relativeReactance, cMax }) => ({ kT: transformerFactor(relativeReactance, cMax) }),
  }),
  formulaOf({
    name: 'generator-correction',
    subject,
    title: 'Correction factor KG of a generator without unit transformer',
    source: 'IEC 60909-0:2016, 6.6.1',
    mark: 'checked',
    inputs: {
      nominalKv: kilovolt('Un'),
      ratedKv: kilovolt('UrG'),
      regulationPercent: quantity('pG', '%', { min: 0, max: 20 }),
      xd2Percent: quantity('x″d', '%', { above: 0, max: 200 }),
      powerFactor: plain('cos φrG', { above: 0, max: 1 }),
      cMax: plain('cmax', { min: 1, max: 1.1 }),
    },
    outputs: { kG: { title: 'KG', unit: '' } },
    example: {
      inputs: { nominalKv: 10, ratedKv: 10.5, regulationPercent: 0, xd2Percent: 10, powerFactor: 0.8, cMax: 1.1 },
      outputs: { kG: 0.9883198562 },
    },
    compute: (given) => ({ kG: generatorFactor(given, given.nominalKv, given.cMax) }),
  }),
  formulaOf({
    name: 'asymmetry',
    subject,
    title: 'Total over symmetrical r.m.s. current, some cycles after the fault',
    source: 'IEEE C37.010',
    mark: 'checked',
    inputs: { ...xOverR, cycles: quantity('After the fault', 'cycles', { min: 0, max: 60 }) },
    outputs: { factor: { title: 'Factor', unit: '' } },
    example: { inputs: { xOverR: 15, cycles: 0.5 }, outputs: { factor: 1.5216988985 } },
    compute: (given) => ({ factor: asymmetry(given.xOverR, given.cycles) }),
  }),
  formulaOf({
    name: 'first-peak',
    subject,
    title: 'First peak over symmetrical r.m.s. current: after half a cycle, and the highest',
    source: 'IEEE C37.010; current of an R–L circuit from voltage zero on',
    mark: 'checked',
    inputs: xOverR,
    outputs: { halfCycle: { title: 'After half a cycle', unit: '' }, highest: { title: 'Highest', unit: '' } },
    example: { inputs: { xOverR: 25 }, outputs: { halfCycle: 2.6614245944, highest: 2.6633051877 } },
    compute: (given) => ({ halfCycle: halfCyclePeak(given.xOverR), highest: exactPeak(given.xOverR) }),
  }),
  formulaOf({
    name: 'remote-factor',
    subject,
    title: 'Multiplying factor of breakers rated on symmetrical current: sources far off, and near with their decay',
    source: 'IEEE C37.010',
    mark: 'remembered',
    inputs: {
      ...xOverR,
      partingCycles: quantity('Contact parting', 'cycles', { above: 0, max: 60 }),
      s: plain('S', { min: 1, max: 2 }),
      remaining: plain('a.c. component left at parting, over its first value', { above: 0, max: 1 }),
    },
    outputs: { remote: { title: 'Far off', unit: '' }, local: { title: 'Near', unit: '' } },
    example: {
      inputs: { xOverR: 45, partingCycles: 3, s: 1.1, remaining: 0.9 },
      outputs: { remote: 1.2416195013, local: 1.1766878059 },
    },
    compute: (given) => ({
      remote: remoteFactor(given.xOverR, given),
      local: localFactor(given.xOverR, given, given.remaining),
    }),
  }),
  formulaOf({
    name: 'low-voltage-factor',
    subject,
    title: 'Multiplying factors of low-voltage power circuit breakers',
    source: 'IEEE C37.13',
    mark: 'checked',
    inputs: { powerFactor: plain('Power factor of the short circuit', { above: 0, max: 0.999 }) },
    outputs: { unfused: { title: 'Without fuses', unit: '' }, fused: { title: 'With fuses', unit: '' } },
    example: { inputs: { powerFactor: 0.1 }, outputs: { unfused: 1.0668630157, fused: 1.1521146354 } },
    compute: ({ powerFactor }) =>
      lowVoltageFactors(Math.tan(Math.acos(powerFactor))) as { unfused: number; fused: number },
  }),
];
