/** Lines and what distance protection sees along them; cables as they are laid; motors as they stand still. */
import { z } from 'zod';
import { ambientFactor, cableInsulations, groupingFactor, protectiveSection, soilFactor } from '../circuits/ampacity';
import { deionisationS, deionisationSource } from '../linePackage/figures';
import { polar, type Complex } from '../linear/complex';
import { bunchings, groundClearances, layingMethods } from '../model/circuit';
import { quantity } from '../model/fields';
import { apparentWithInfeed } from '../reach/infeed';
import { largestReach, loadOhm, loadSource, loadVoltage, reachAlong } from '../reach/loadability';
import { bundled, earthReturnImpedance, equivalentDepth } from '../sequence/lineConstants';
import { motorResistanceRatio } from '../sequence/asynchronousMotor';
import { formulaOf, hertz, kilovolt, plain, type PublicFormula } from './formula';

const subject = 'Lines, cables, motors';
const ohm = (title: string) => quantity(title, 'Ω', { min: 0 });
const metre = (title: string) => quantity(title, 'm', { above: 0 });
const resistivity = quantity('Resistivity of the earth', 'Ω·m', { above: 0 });
const at = (re: number, im: number): Complex => ({ re, im });
const root3 = Math.sqrt(3);

export const lineFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'infeed',
    subject,
    title: 'Impedance that a distance relay sees with another source feeding the same fault',
    source: 'Kirchhoff, two sources and a common stretch: Z = Z1 + Z2·(1 + IB/IA)',
    mark: 'checked',
    inputs: {
      ownV: quantity('Voltage of the own source to neutral', 'V', { above: 0 }),
      otherV: quantity('Voltage of the other source to neutral', 'V', { above: 0 }),
      otherAngleDeg: quantity('Its angle against the own one', '°', { min: -180, max: 180 }),
      sourceR: ohm('Own source to the relay, resistance'),
      sourceX: ohm('Own source to the relay, reactance'),
      toTapR: ohm('Relay to where the other comes in, resistance'),
      toTapX: ohm('Relay to where the other comes in, reactance'),
      otherR: ohm('Other source to there, resistance'),
      otherX: ohm('Other source to there, reactance'),
      toFaultR: ohm('From there to the fault, resistance'),
      toFaultX: ohm('From there to the fault, reactance'),
    },
    outputs: {
      seenR: { title: 'Seen, resistance', unit: 'Ω' },
      seenX: { title: 'Seen, reactance', unit: 'Ω' },
      factor: { title: 'By so much the stretch behind counts more', unit: '' },
    },
    example: {
      inputs: {
        ownV: 66395,
        otherV: 66395,
        otherAngleDeg: -5,
        sourceR: 1,
        sourceX: 8,
        toTapR: 2,
        toTapX: 10,
        otherR: 1.5,
        otherX: 12,
        toFaultR: 3,
        toFaultX: 15,
      },
      outputs: { seenR: 16.023689224197, seenX: 44.885636864982, factor: 2.45791197513 },
    },
    compute: (given) => {
      const { impedance, factor } = apparentWithInfeed({
        own: at(given.ownV, 0),
        other: polar(given.otherV, (given.otherAngleDeg * Math.PI) / 180),
        sourceOhm: at(given.sourceR, given.sourceX),
        toTapOhm: at(given.toTapR, given.toTapX),
        otherOhm: at(given.otherR, given.otherX),
        toFaultOhm: at(given.toFaultR, given.toFaultX),
      });
      return { seenR: impedance.re, seenX: impedance.im, factor };
    },
  }),
  formulaOf({
    name: 'loadability',
    subject,
    title:
      'Load that a circle characteristic allows at 0.85 of nominal voltage and 30°, and the reach that a load allows',
    source: loadSource,
    mark: 'remembered',
    inputs: {
      nominalKv: kilovolt('Nominal voltage'),
      loadA: quantity('Load current', 'A', { above: 0 }),
      reachOhm: quantity('Reach of the circle at its angle', 'Ω', { above: 0 }),
      angleDeg: quantity('Angle of the circle', '°', { min: 31, max: 90 }),
    },
    outputs: {
      loadOhm: { title: 'Impedance of the load', unit: 'Ω' },
      reachAtLoadOhm: { title: 'Reach at 30°', unit: 'Ω' },
      allowedA: { title: 'Load that the reach allows', unit: 'A' },
      largestReachOhm: { title: 'Greatest reach that lets the load be', unit: 'Ω' },
    },
    example: {
      inputs: { nominalKv: 132, loadA: 600, reachOhm: 40, angleDeg: 75 },
      outputs: {
        loadOhm: 107.96450033846,
        reachAtLoadOhm: 28.284271247462,
        allowedA: 2290.272909502271,
        largestReachOhm: 152.684860633485,
      },
    },
    compute: ({ nominalKv, loadA, reachOhm, angleDeg }) => {
      const load = loadOhm(nominalKv, loadA);
      const reachAtLoadOhm = reachAlong({ type: 'mho', reach: reachOhm, angleDeg });
      return {
        loadOhm: load,
        reachAtLoadOhm,
        allowedA: (loadVoltage * nominalKv * 1000) / (root3 * reachAtLoadOhm),
        largestReachOhm: largestReach(load, angleDeg),
      };
    },
  }),
  formulaOf({
    name: 'deionisation-time',
    subject,
    title: 'Dead time after which an arc in air does not come again: 10.5 + U/34.5 kV cycles of 60 Hz',
    source: deionisationSource,
    mark: 'remembered',
    inputs: { nominalKv: kilovolt('Nominal voltage') },
    outputs: { deadS: { title: 'Dead time', unit: 's' } },
    example: { inputs: { nominalKv: 132 }, outputs: { deadS: 0.238768115942 } },
    compute: ({ nominalKv }) => ({ deadS: deionisationS(nominalKv) }),
  }),
  formulaOf({
    name: 'earth-return-impedance',
    subject,
    title: 'Loop of a conductor and earth, or between two conductors, without the conductor’s own resistance',
    source: 'J. R. Carson, 1926: series up to the fourth power; equivalent depth De',
    mark: 'checked',
    inputs: {
      frequencyHz: hertz,
      earthOhmM: resistivity,
      distanceM: metre('Geometric mean radius, or distance of the two conductors'),
      imageDistanceM: metre('Distance to the image below ground'),
      imageAngleDeg: quantity('Angle to it from the vertical', '°', { min: 0, max: 89 }),
    },
    outputs: {
      rOhmPerKm: { title: 'Resistance', unit: 'Ω/km' },
      xOhmPerKm: { title: 'Reactance', unit: 'Ω/km' },
      depthM: { title: 'Equivalent depth De', unit: 'm' },
      depthXOhmPerKm: { title: 'Reactance by the equivalent depth alone', unit: 'Ω/km' },
    },
    example: {
      inputs: { frequencyHz: 50, earthOhmM: 100, distanceM: 0.0085, imageDistanceM: 24, imageAngleDeg: 0 },
      outputs: {
        rOhmPerKm: 0.0480145559,
        xOhmPerKm: 0.7305491484,
        depthM: 931.785161525114,
        depthXOhmPerKm: 0.729150547559,
      },
    },
    compute: ({ frequencyHz, earthOhmM, distanceM, imageDistanceM, imageAngleDeg }) => {
      const angle = (imageAngleDeg * Math.PI) / 180;
      const series = earthReturnImpedance(frequencyHz, earthOhmM, distanceM, imageDistanceM, angle, 'series');
      const depth = earthReturnImpedance(frequencyHz, earthOhmM, distanceM, imageDistanceM, angle, 'depth');
      return {
        rOhmPerKm: series.re,
        xOhmPerKm: series.im,
        depthM: equivalentDepth(earthOhmM, frequencyHz),
        depthXOhmPerKm: depth.im,
      };
    },
  }),
  formulaOf({
    name: 'bundle-radius',
    subject,
    title: 'Radius of one conductor in place of a bundle on a circle',
    source: 'Geometric mean distance: (n·r·R^(n−1))^(1/n)',
    mark: 'checked',
    inputs: {
      radiusMm: quantity('Radius, or geometric mean radius, of each', 'mm', { above: 0 }),
      count: z.int().min(1).max(8).meta({ title: 'Number', unit: '' }),
      spacingMm: quantity('Distance between neighbours', 'mm', { above: 0 }),
    },
    outputs: { radiusMm: { title: 'Radius in their place', unit: 'mm' } },
    example: { inputs: { radiusMm: 15, count: 4, spacingMm: 400 }, outputs: { radiusMm: 191.953730916529 } },
    compute: ({ radiusMm, count, spacingMm }) => ({
      radiusMm: 1000 * bundled(radiusMm / 1000, { bundle: count, bundleSpacingMm: spacingMm } as never),
    }),
  }),
  formulaOf({
    name: 'motor-impedance',
    subject,
    title: 'Impedance of an asynchronous motor for short circuits',
    source: 'IEC 60909-0:2016, 6.10',
    mark: 'checked',
    inputs: {
      ratedKv: kilovolt('Rated voltage'),
      ratedMw: quantity('Rated power at the shaft', 'MW', { above: 0 }),
      powerFactor: plain('Rated power factor', { above: 0, max: 1 }),
      efficiencyPercent: quantity('Efficiency', '%', { above: 0, max: 100 }),
      startingRatio: plain('Locked-rotor current over rated current', { above: 1, max: 20 }),
      polePairs: z.int().min(1).max(20).meta({ title: 'Pole pairs', unit: '' }),
    },
    outputs: {
      ratedMva: { title: 'Rated apparent power', unit: 'MVA' },
      zOhm: { title: 'Impedance', unit: 'Ω' },
      rOhm: { title: 'Resistance, by the usual R/X', unit: 'Ω' },
      xOhm: { title: 'Reactance', unit: 'Ω' },
    },
    example: {
      inputs: {
        ratedKv: 3.3,
        ratedMw: 0.55,
        powerFactor: 0.87,
        efficiencyPercent: 95,
        startingRatio: 5.5,
        polePairs: 2,
      },
      outputs: { ratedMva: 0.665456745312, zOhm: 2.9754, rOhm: 0.441372183649, xOhm: 2.942481224324 },
    },
    compute: ({ ratedKv, ratedMw, powerFactor, efficiencyPercent, startingRatio, polePairs }) => {
      const ratedMva = ratedMw / (powerFactor * (efficiencyPercent / 100));
      const zOhm = ratedKv ** 2 / ratedMva / startingRatio;
      const ratio = motorResistanceRatio(ratedKv, ratedMw / polePairs);
      const xOhm = zOhm / Math.hypot(1, ratio);
      return { ratedMva, zOhm, rOhm: ratio * xOhm, xOhm };
    },
  }),
  formulaOf({
    name: 'laying-factors',
    subject,
    title: 'Factors for the current that a cable may carry as it is laid, and its protective conductor',
    source: 'IEC 60364-5-52:2009, tables B.52.14 to B.52.19 (as remembered); IEC 60364-5-54, table 54.2',
    mark: 'remembered',
    inputs: {
      insulation: z.enum(cableInsulations).meta({ title: 'Insulation', unit: '' }),
      method: z.enum(layingMethods).meta({ title: 'Laid by method', unit: '' }),
      ambientC: quantity('Surroundings', '°C', { min: -20, max: 80 }),
      circuits: z.int().min(1).max(60).meta({ title: 'Circuits beside each other', unit: '' }),
      bunching: z.enum(bunchings).meta({ title: 'How, in air', unit: '' }),
      clearance: z.enum(groundClearances).meta({ title: 'How, in the ground', unit: '' }),
      soilKmPerW: quantity('Thermal resistivity of the soil', 'K·m/W', { min: 0.1, max: 10 }),
      phaseMm2: quantity('Section of a phase', 'mm²', { above: 0 }),
    },
    outputs: {
      ambient: { title: 'Factor of the surroundings', unit: '' },
      grouping: { title: 'Factor of the grouping; null: not listed', unit: '' },
      soil: { title: 'Factor of the soil', unit: '' },
      protectiveMm2: { title: 'Protective conductor of the same metal', unit: 'mm²' },
    },
    example: {
      inputs: {
        insulation: 'XLPE',
        method: 'D2',
        ambientC: 25,
        circuits: 3,
        bunching: 'bunched',
        clearance: 'touching',
        soilKmPerW: 2,
        phaseMm2: 150,
      },
      // Read from the tables by hand.
      outputs: { ambient: 0.96, grouping: 0.65, soil: 1.12, protectiveMm2: 95 },
    },
    compute: ({ insulation, method, ambientC, circuits, bunching, clearance, soilKmPerW, phaseMm2 }) => ({
      ambient: ambientFactor(insulation, method, ambientC),
      grouping: groupingFactor(method, circuits, bunching, clearance),
      soil: soilFactor(method, soilKmPerW),
      protectiveMm2: protectiveSection(phaseMm2),
    }),
  }),
];
