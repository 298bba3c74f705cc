/** Arc energy of alternating and direct current. */
import { z } from 'zod';
import { boxes, directArc, directBoundary, directMethods, radiated } from '../arc/directCurrent';
import { arcingCurrent2002, exposure2002 } from '../arc/ieee2002';
import { arcingCurrents, enclosureCorrection, exposure, outOfRange2018 } from '../arc/ieee2018';
import { theoreticalBoundary, theoreticalEnergy } from '../arc/theoretical';
import { quantity } from '../model/fields';
import { formulaOf, kiloampere, kilovolt, plain, seconds, type PublicFormula } from './formula';

const subject = 'Arc energy';
const millimetres = (title: string) => quantity(title, 'mm', { above: 0 });
const energy = { title: 'Incident energy', unit: 'J/cm²' };
const boundary = { title: 'Boundary', unit: 'mm' };

export const arcFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'arc-2018',
    subject,
    title: 'Arcing current, incident energy and boundary of a three-phase arc',
    source: 'IEEE 1584-2018, 4.4 to 4.10',
    mark: 'remembered',
    inputs: {
      electrodes: z.enum(['VCB', 'VCBB', 'HCB', 'VOA', 'HOA']).meta({ title: 'Electrodes' }),
      voltageKv: kilovolt('Voltage'),
      boltedKa: kiloampere('Bolted current'),
      gapMm: millimetres('Gap'),
      distanceMm: millimetres('Working distance'),
      timeMs: quantity('Duration', 'ms', { above: 0 }),
      heightMm: millimetres('Height of the enclosure'),
      widthMm: millimetres('Width'),
      depthMm: millimetres('Depth'),
    },
    outputs: {
      arcingKa: { title: 'Arcing current', unit: 'kA' },
      reducedKa: { title: 'Reduced arcing current', unit: 'kA' },
      factor: { title: 'Factor of the enclosure', unit: '' },
      energy,
      boundaryMm: boundary,
      outOfRange: { title: 'What the model was not tested for', unit: '' },
    },
    example: {
      inputs: {
        electrodes: 'VCB',
        voltageKv: 0.4,
        boltedKa: 44.2,
        gapMm: 25,
        distanceMm: 457.2,
        timeMs: 190,
        heightMm: 355.6,
        widthMm: 304.8,
        depthMm: 203.2,
      },
      outputs: {
        arcingKa: 26.1492090273,
        reducedKa: 22.8133985075,
        factor: 1.50277149575,
        energy: 34.660706749,
        boundaryMm: 1531.71465933,
        outOfRange: '',
      },
    },
    compute: ({ boltedKa, timeMs, heightMm, widthMm, depthMm, ...given }) => {
      const place = { ...given, enclosure: { heightMm, widthMm, depthMm } };
      const currents = arcingCurrents(place, boltedKa);
      const { factor } = enclosureCorrection(place);
      const { currentKa, reducedKa } = currents;
      const result = exposure(place, { boltedKa, arcing: currents, reduced: false }, timeMs, { factor });
      return {
        arcingKa: currentKa,
        reducedKa,
        factor,
        energy: result.energy,
        boundaryMm: result.boundaryMm,
        outOfRange: outOfRange2018(place, boltedKa)
          .map(({ message }) => message)
          .join('; '),
      };
    },
  }),
  formulaOf({
    name: 'arc-2002',
    subject,
    title: 'Arcing current, incident energy and boundary at 5 J/cm² by the earlier edition',
    source: 'IEEE 1584-2002, 5.2 to 5.5',
    mark: 'remembered',
    inputs: {
      inBox: z.boolean().meta({ title: 'In an enclosure' }),
      earthed: z.boolean().meta({ title: 'Network earthed' }),
      voltageKv: kilovolt('Voltage'),
      boltedKa: kiloampere('Bolted current'),
      gapMm: millimetres('Gap'),
      distanceMm: millimetres('Working distance'),
      distanceExponent: plain('Exponent of the distance', { above: 0, max: 3 }),
      timeS: seconds('Duration'),
    },
    outputs: { arcingKa: { title: 'Arcing current', unit: 'kA' }, energy, boundaryMm: boundary },
    example: {
      inputs: {
        inBox: true,
        earthed: true,
        voltageKv: 0.4,
        boltedKa: 40.8,
        gapMm: 32,
        distanceMm: 610,
        distanceExponent: 1.473,
        timeS: 0.327,
      },
      outputs: { arcingKa: 16.9066969068, energy: 50.8080139519, boundaryMm: 2944.03531573 },
    },
    compute: ({ boltedKa, timeS, ...place }) => {
      const arcingKa = arcingCurrent2002(place, boltedKa);
      const result = exposure2002(place, arcingKa, timeS);
      return { arcingKa, energy: result.energy, boundaryMm: result.boundaryMm };
    },
  }),
  formulaOf({
    name: 'arc-theoretical',
    subject,
    title: 'Largest energy that a circuit can give to an arc in open air',
    source: 'R. H. Lee 1982; IEEE 1584-2002, 5.6',
    mark: 'remembered',
    inputs: {
      voltageKv: kilovolt('Voltage'),
      boltedKa: kiloampere('Bolted current'),
      timeS: seconds('Duration'),
      distanceMm: millimetres('Working distance'),
    },
    outputs: { energy, boundaryMm: { title: 'Boundary at 1.2 cal/cm²', unit: 'mm' } },
    example: {
      inputs: { voltageKv: 33, boltedKa: 7.4, timeS: 0.244, distanceMm: 1010 },
      outputs: { energy: 125.115813744, boundaryMm: 5041.8627055 },
    },
    compute: ({ voltageKv, boltedKa, timeS, distanceMm }) => ({
      energy: theoreticalEnergy(voltageKv, boltedKa, timeS, distanceMm),
      boundaryMm: theoreticalBoundary(voltageKv, boltedKa, timeS),
    }),
  }),
  formulaOf({
    name: 'arc-direct',
    subject,
    title: 'Arc of direct current: current, voltage, and energy in open air or out of a box',
    source: 'D. R. Doan 2010; A. D. Stokes, W. T. Oppenlander 1991; J. Paukert 1993; box after R. Wilkins 2004',
    mark: 'remembered',
    inputs: {
      method: z.enum(directMethods).meta({ title: 'Method' }),
      box: z.enum(['none', 'panelboard', 'lowVoltageSwitchgear', 'mediumVoltageSwitchgear']).meta({ title: 'Box' }),
      voltageV: quantity('Voltage', 'V', { above: 0 }),
      resistanceOhm: quantity('Resistance of the circuit', 'Ω', { above: 0 }),
      gapMm: millimetres('Gap'),
      timeS: seconds('Duration'),
      distanceMm: millimetres('Working distance'),
    },
    outputs: {
      arcA: { title: 'Arcing current; null: no arc burns', unit: 'A' },
      arcV: { title: 'Voltage of the arc', unit: 'V' },
      energy,
      boundaryMm: boundary,
    },
    example: {
      inputs: {
        method: 'stokes',
        box: 'panelboard',
        voltageV: 125,
        resistanceOhm: 0.012,
        gapMm: 15,
        timeS: 0.635,
        distanceMm: 656,
      },
      outputs: { arcA: 4085.53021207, arcV: 75.9736374552, energy: 5.68466137513, boundaryMm: 698.969389966 },
    },
    compute: ({ method, box, voltageV, resistanceOhm, gapMm, timeS, distanceMm }) => {
      const arc = directArc(method, voltageV, resistanceOhm, gapMm);
      if (!arc) return { arcA: null, arcV: null, energy: 0, boundaryMm: 0 };
      const around = box === 'none' ? null : boxes[box];
      const work = arc.powerW * timeS;
      return {
        arcA: arc.currentA,
        arcV: arc.voltageV,
        energy: radiated(work, distanceMm, around),
        boundaryMm: directBoundary(work, around),
      };
    },
  }),
];
