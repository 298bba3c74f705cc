/** What conductors, transformers and breakers bear. */
import { z } from 'zod';
import { quantity } from '../model/fields';
import {
  adiabaticDensity,
  adiabaticTemperature,
  bareDensity,
  bareDensityOver,
  bendingStress,
  cableShortCircuit,
  forceOnMiddle,
} from '../ratings/conductors';
import { dcShare, makingFactor, networkTimeConstantMs } from '../ratings/highVoltage';
import { withstandOver } from '../ratings/thermal';
import { timesRated, windingTemperature } from '../ratings/transformers';
import { ampere, formulaOf, hertz, kiloampere, plain, seconds, type PublicFormula } from './formula';

const subject = 'Withstand';
const metal = z.enum(['copper', 'aluminium']).meta({ title: 'Conductor' });
const celsius = (title: string) => quantity(title, '°C', { min: -50, max: 1100 });
const section = quantity('Cross-section', 'mm²', { above: 0 });

export const ratingFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'cable-short-circuit',
    subject,
    title: 'Permissible short-circuit current of a cable’s conductor, without and with heat going into the insulation',
    source: 'IEC 60949:1988, clauses 3 to 5',
    mark: 'remembered',
    inputs: {
      metal,
      insulation: z.enum(['pvc', 'xlpe', 'epr', 'paper']).meta({ title: 'Insulation' }),
      sectionMm2: section,
      initialC: celsius('Before'),
      finalC: celsius('At the end'),
      durationS: seconds('Duration'),
    },
    outputs: {
      adiabaticKa: { title: 'Without heat loss', unit: 'kA' },
      permissibleKa: { title: 'With it', unit: 'kA' },
      kOverOneSecond: { title: 'k', unit: 'A·√s/mm²' },
    },
    example: {
      inputs: { metal: 'copper', insulation: 'xlpe', sectionMm2: 240, initialC: 90, finalC: 250, durationS: 1 },
      outputs: { adiabaticKa: 34.2897716298, permissibleKa: 34.7490147738, kOverOneSecond: 142.8740484574 },
    },
    compute: (given) => {
      const { adiabaticA, permissibleA } = cableShortCircuit(
        given.metal,
        given.insulation,
        given.sectionMm2,
        given.initialC,
        given.finalC,
        given.durationS,
      );
      return {
        adiabaticKa: adiabaticA / 1000,
        permissibleKa: permissibleA / 1000,
        kOverOneSecond: adiabaticDensity(given.metal, given.initialC, given.finalC),
      };
    },
  }),
  formulaOf({
    name: 'adiabatic-temperature',
    subject,
    title: 'Temperature that a conductor reaches without any heat leaving it',
    source: 'IEC 60949:1988, clause 4',
    mark: 'checked',
    inputs: {
      metal,
      sectionMm2: section,
      initialC: celsius('Before'),
      currentA: ampere('Current'),
      durationS: seconds('Duration'),
    },
    outputs: { finalC: { title: 'At the end', unit: '°C' } },
    example: {
      inputs: { metal: 'copper', sectionMm2: 95, initialC: 90, currentA: 10000, durationS: 1 },
      outputs: { finalC: 168.8724058298 },
    },
    compute: (given) => ({
      finalC: adiabaticTemperature(given.metal, given.sectionMm2, given.initialC, given.currentA, given.durationS),
    }),
  }),
  formulaOf({
    name: 'bare-conductor',
    subject,
    title: 'Short-time withstand current density of a bare conductor',
    source: 'IEC 60865-1:2011, clause 8 and A.7',
    mark: 'checked',
    inputs: { metal, initialC: celsius('Before'), finalC: celsius('At the end'), durationS: seconds('Duration') },
    outputs: {
      oneSecond: { title: 'Over one second', unit: 'A/mm²' },
      overDuration: { title: 'Over the duration', unit: 'A/mm²' },
    },
    example: {
      inputs: { metal: 'copper', initialC: 70, finalC: 200, durationS: 0.5 },
      outputs: { oneSecond: 132.7641027659, overDuration: 187.7567947278 },
    },
    compute: (given) => {
      const oneSecond = bareDensity(given.metal, given.initialC, given.finalC);
      return { oneSecond, overDuration: bareDensityOver(oneSecond, given.durationS) };
    },
  }),
  formulaOf({
    name: 'conductor-force',
    subject,
    title: 'Force on the middle one of three rigid conductors, and its bending stress',
    source: 'IEC 60865-1:2011, 5.2 and 5.4',
    mark: 'checked',
    inputs: {
      peakKa: kiloampere('ip'),
      spanM: quantity('Distance of supports', 'm', { above: 0 }),
      spacingM: quantity('Distance of conductors', 'm', { above: 0 }),
      sectionModulusCm3: plain('Section modulus in cm³', { above: 0 }),
      beta: plain('β', { above: 0, max: 2 }),
      vSigmaVr: plain('Vσ · Vr', { above: 0, max: 5 }),
    },
    outputs: { forceN: { title: 'Force', unit: 'N' }, stressMpa: { title: 'Stress', unit: 'N/mm²' } },
    example: {
      inputs: { peakKa: 50, spanM: 1, spacingM: 0.2, sectionModulusCm3: 2, beta: 0.73, vSigmaVr: 1 },
      outputs: { forceN: 2165.0635094611, stressMpa: 98.7810226192 },
    },
    compute: ({ peakKa, spanM, spacingM, sectionModulusCm3, beta, vSigmaVr }) => {
      const forceN = forceOnMiddle(1000 * peakKa, spanM, spacingM);
      return {
        forceN,
        stressMpa: bendingStress(forceN, spanM, sectionModulusCm3 * 1e-6, { beta, vSigma: vSigmaVr, vr: 1 }) / 1e6,
      };
    },
  }),
  formulaOf({
    name: 'transformer-heat',
    subject,
    title: 'Average winding temperature after a short circuit, and the current over the rated one',
    source: 'IEC 60076-5:2006, 4.1.2 and 4.1.5',
    mark: 'checked',
    inputs: {
      metal,
      initialC: celsius('Before'),
      densityAmm2: plain('Current density in A/mm²', { above: 0 }),
      durationS: seconds('Duration'),
      ukPercent: quantity('uk', '%', { above: 0, max: 100 }),
      ratedMva: quantity('Rated power', 'MVA', { above: 0 }),
      systemMva: quantity('Fault level of the network', 'MVA', { above: 0 }),
    },
    outputs: { finalC: { title: 'At the end', unit: '°C' }, timesRated: { title: 'Current over rated', unit: '' } },
    example: {
      inputs: {
        metal: 'copper',
        initialC: 105,
        densityAmm2: 40,
        durationS: 2,
        ukPercent: 10,
        ratedMva: 40,
        systemMva: 5000,
      },
      outputs: { finalC: 126.1673151751, timesRated: 9.2592592593 },
    },
    compute: (given) => ({
      finalC: windingTemperature(given.metal, given.initialC, given.densityAmm2, given.durationS),
      timesRated: timesRated(given.ukPercent, given.ratedMva, given.systemMva),
    }),
  }),
  formulaOf({
    name: 'breaker-dc',
    subject,
    title: 'Share of the d.c. component at contact parting, and the factor of the making current',
    source: 'IEC 62271-100:2021, 5.101 and 5.103',
    mark: 'checked',
    inputs: {
      xOverR: plain('X/R of the network', { above: 0 }),
      frequencyHz: hertz,
      partingMs: quantity('Contact parting', 'ms', { above: 0 }),
      ratedTimeConstantMs: quantity('Rated time constant', 'ms', { above: 0 }),
    },
    outputs: {
      timeConstantMs: { title: 'Time constant of the network', unit: 'ms' },
      share: { title: 'd.c. component over the peak of the a.c. component', unit: '' },
      ratedShare: { title: 'The same of the rating', unit: '' },
      making: { title: 'Making over breaking current', unit: '' },
    },
    example: {
      inputs: { xOverR: 20, frequencyHz: 50, partingMs: 50, ratedTimeConstantMs: 45 },
      outputs: { timeConstantMs: 63.6619772368, share: 0.4559381278, ratedShare: 0.3291929878, making: 2.5 },
    },
    compute: ({ xOverR, frequencyHz, partingMs, ratedTimeConstantMs }) => {
      const timeConstantMs = networkTimeConstantMs(xOverR, frequencyHz);
      return {
        timeConstantMs,
        share: dcShare(partingMs, timeConstantMs),
        ratedShare: dcShare(partingMs, ratedTimeConstantMs),
        making: makingFactor(frequencyHz, ratedTimeConstantMs),
      };
    },
  }),
  formulaOf({
    name: 'short-time-withstand',
    subject,
    title: 'What a short-time withstand current allows over another duration',
    source: 'IEC 60909-0:2016, clause 11; IEC 62271-1:2017, 5.6',
    mark: 'checked',
    inputs: { ratedKa: kiloampere('Ik'), ratedS: seconds('tk'), durationS: seconds('Duration') },
    outputs: { allowedKa: { title: 'Allowed', unit: 'kA' } },
    example: { inputs: { ratedKa: 25, ratedS: 1, durationS: 3 }, outputs: { allowedKa: 14.4337567297 } },
    compute: ({ ratedKa, ratedS, durationS }) => ({ allowedKa: withstandOver(ratedKa, ratedS, durationS) }),
  }),
];
