/** Earthing and current through earth. */
import { z } from 'zod';
import {
  decrement,
  laurentNiemann,
  permissibleTouchV,
  ring,
  rod,
  schwarz,
  sverak,
  tolerable,
} from '../earthReturn/grids';
import { quantity } from '../model/fields';
import { earthReturnImpedance, equivalentDepth } from '../sequence/lineConstants';
import { formulaOf, hertz, plain, seconds, type PublicFormula } from './formula';

const subject = 'Earthing';
const soil = quantity('Resistivity of the soil', 'Ω·m', { above: 0 });
const metres = (title: string) => quantity(title, 'm', { above: 0 });
const ohm = { title: 'Resistance', unit: 'Ω' };

export const earthFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'earth-grid',
    subject,
    title: 'Resistance of an earthing grid',
    source: 'J. G. Sverak 1984; P. Laurent, J. Niemann; IEEE 80, 14.2',
    mark: 'remembered',
    inputs: {
      soilOhmM: soil,
      lengthM: metres('Buried length of conductor'),
      areaM2: plain('Area in m²', { above: 0, max: 1e4 }),
      depthM: metres('Depth'),
    },
    outputs: {
      sverakOhm: { title: 'By depth', unit: 'Ω' },
      discOhm: { title: 'By the disc of the same area', unit: 'Ω' },
    },
    example: {
      inputs: { soilOhmM: 400, lengthM: 1540, areaM2: 4900, depthM: 0.5 },
      outputs: { sverakOhm: 2.7756936629, discOhm: 2.7918171896 },
    },
    compute: ({ soilOhmM, lengthM, areaM2, depthM }) => ({
      sverakOhm: sverak(soilOhmM, lengthM, areaM2, depthM),
      discOhm: laurentNiemann(soilOhmM, lengthM, areaM2),
    }),
  }),
  formulaOf({
    name: 'earth-grid-with-rods',
    subject,
    title: 'Resistance of a grid with rods',
    source: 'S. J. Schwarz 1954; IEEE 80, 14.3',
    mark: 'remembered',
    inputs: {
      soilOhmM: soil,
      areaM2: plain('Area in m²', { above: 0, max: 1e4 }),
      depthM: metres('Depth'),
      lengthToWidth: plain('Length over width', { min: 1, max: 20 }),
      conductorM: metres('Length of grid conductor'),
      conductorRadiusM: metres('Its radius'),
      rods: z.int().min(1).max(1000).meta({ title: 'Rods' }),
      rodM: metres('Length of a rod'),
      rodRadiusM: metres('Its radius'),
      depth: z.enum(['surface', 'sqrtA/10', 'sqrtA/6']).meta({ title: 'Line of the coefficients' }),
    },
    outputs: {
      gridOhm: { title: 'Grid alone', unit: 'Ω' },
      rodsOhm: { title: 'Rods alone', unit: 'Ω' },
      mutualOhm: { title: 'Mutual', unit: 'Ω' },
      ohm: { ...ohm, title: 'Together' },
    },
    example: {
      inputs: {
        soilOhmM: 400,
        areaM2: 5292,
        depthM: 0.5,
        lengthToWidth: 1.33,
        conductorM: 1700,
        conductorRadiusM: 0.005,
        rods: 38,
        rodM: 10,
        rodRadiusM: 0.00625,
        depth: 'surface',
      },
      outputs: { gridOhm: 2.7553028423, rodsOhm: 2.967489279, mutualOhm: 2.4593312866, ohm: 2.6463662139 },
    },
    compute: (given) => {
      const { r1, r2, rm, ohm: together } = schwarz(given);
      return { gridOhm: r1, rodsOhm: r2, mutualOhm: rm, ohm: together };
    },
  }),
  formulaOf({
    name: 'earth-rod',
    subject,
    title: 'Resistance of a vertical rod',
    source: 'H. B. Dwight 1936',
    mark: 'checked',
    inputs: { soilOhmM: soil, lengthM: metres('Length'), radiusM: metres('Radius') },
    outputs: { ohm },
    example: { inputs: { soilOhmM: 100, lengthM: 3, radiusM: 0.008 }, outputs: { ohm: 33.4926743811 } },
    compute: ({ soilOhmM, lengthM, radiusM }) => ({ ohm: rod(soilOhmM, lengthM, radiusM) }),
  }),
  formulaOf({
    name: 'earth-ring',
    subject,
    title: 'Resistance of a buried ring',
    source: 'H. B. Dwight 1936',
    mark: 'checked',
    inputs: {
      soilOhmM: soil,
      diameterM: metres('Diameter'),
      wireM: metres('Diameter of the wire'),
      depthM: metres('Depth'),
    },
    outputs: { ohm },
    example: { inputs: { soilOhmM: 100, diameterM: 10, wireM: 0.01, depthM: 0.8 }, outputs: { ohm: 6.1836686403 } },
    compute: ({ soilOhmM, diameterM, wireM, depthM }) => ({ ohm: ring(soilOhmM, diameterM, wireM, depthM) }),
  }),
  formulaOf({
    name: 'tolerable-voltage',
    subject,
    title: 'Touch and step voltages that a person of 50 or 70 kg bears',
    source: 'IEEE 80, clause 8',
    mark: 'remembered',
    inputs: {
      soilOhmM: soil,
      surfaceOhmM: quantity('Resistivity of the surface layer', 'Ω·m', { min: 0 }),
      thicknessM: quantity('Its thickness', 'm', { min: 0 }),
      seconds: seconds('Duration'),
    },
    outputs: {
      cs: { title: 'Cs', unit: '' },
      touch50V: { title: 'Touch, 50 kg', unit: 'V' },
      touch70V: { title: 'Touch, 70 kg', unit: 'V' },
      step50V: { title: 'Step, 50 kg', unit: 'V' },
      step70V: { title: 'Step, 70 kg', unit: 'V' },
    },
    example: {
      inputs: { soilOhmM: 400, surfaceOhmM: 2500, thicknessM: 0.102, seconds: 0.5 },
      outputs: {
        cs: 0.7428571429,
        touch50V: 621.0417843907,
        touch70V: 840.5479323219,
        step50V: 1992.020817857,
        step70V: 2696.0971414099,
      },
    },
    compute: ({ soilOhmM, surfaceOhmM, thicknessM, seconds: s }) => {
      const { cs, touch50V, touch70V, step50V, step70V } = tolerable(soilOhmM, surfaceOhmM, thicknessM, s);
      return { cs, touch50V, touch70V, step50V, step70V };
    },
  }),
  formulaOf({
    name: 'permissible-touch-voltage',
    subject,
    title: 'Permissible touch voltage by the duration',
    source: 'EN 50522:2010, table B.3',
    mark: 'remembered',
    inputs: { durationS: seconds('Duration') },
    outputs: { volts: { title: 'UTp', unit: 'V' } },
    example: { inputs: { durationS: 0.7 }, outputs: { volts: 170.0010368015 } },
    compute: ({ durationS }) => ({ volts: permissibleTouchV(durationS) }),
  }),
  formulaOf({
    name: 'earth-decrement',
    subject,
    title: 'Decrement factor: a fully offset current over its a.c. part',
    source: 'IEEE 80, 15.10',
    mark: 'checked',
    inputs: { xOverR: plain('X/R', { above: 0 }), frequencyHz: hertz, durationS: seconds('Duration') },
    outputs: { factor: { title: 'Df', unit: '' } },
    example: { inputs: { xOverR: 20, frequencyHz: 60, durationS: 0.5 }, outputs: { factor: 1.0517144549 } },
    compute: ({ xOverR, frequencyHz, durationS }) => ({ factor: decrement(xOverR, frequencyHz, durationS).factor }),
  }),
  formulaOf({
    name: 'earth-return',
    subject,
    title: 'Impedance of a conductor with earth as its return, without its own resistance',
    source: 'J. R. Carson 1926, equivalent depth',
    mark: 'checked',
    inputs: { frequencyHz: hertz, soilOhmM: soil, gmrMm: quantity('Geometric mean radius', 'mm', { above: 0 }) },
    outputs: {
      depthM: { title: 'Equivalent depth', unit: 'm' },
      rOhmPerKm: { title: 'Resistance', unit: 'Ω/km' },
      xOhmPerKm: { title: 'Reactance', unit: 'Ω/km' },
    },
    example: {
      inputs: { frequencyHz: 50, soilOhmM: 100, gmrMm: 8 },
      outputs: { depthM: 931.7851615251, rOhmPerKm: 0.049348022, xOhmPerKm: 0.7329597049 },
    },
    compute: ({ frequencyHz, soilOhmM, gmrMm }) => {
      const z1 = earthReturnImpedance(frequencyHz, soilOhmM, gmrMm / 1000, 0, 0, 'depth');
      return { depthM: equivalentDepth(soilOhmM, frequencyHz), rOhmPerKm: z1.re, xOhmPerKm: z1.im };
    },
  }),
];
