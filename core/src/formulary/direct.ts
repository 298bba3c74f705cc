/** Short-circuit currents of direct current. */
import { capacitorCurrent, commonBranchFactors } from '../direct/iec61660';
import { quantity } from '../model/fields';
import { formulaOf, type PublicFormula } from './formula';

const subject = 'Direct current';

export const directFormulas: readonly PublicFormula[] = [
  formulaOf({
    name: 'capacitor-current',
    subject,
    title: 'Short-circuit current of a capacitor',
    source: 'IEC 61660-1:1997, 2.4; circuit of R, L and C',
    mark: 'checked',
    inputs: {
      voltageV: quantity('Voltage before', 'V', { above: 0 }),
      capacitanceMf: quantity('Capacitance', 'mF', { above: 0 }),
      resistanceMohm: quantity('Resistance', 'mΩ', { above: 0 }),
      inductanceUh: quantity('Inductance', 'µH', { above: 0 }),
    },
    outputs: { peakA: { title: 'Peak', unit: 'A' }, peakMs: { title: 'Time to peak', unit: 'ms' } },
    example: {
      inputs: { voltageV: 120, capacitanceMf: 14.2, resistanceMohm: 15.4, inductanceUh: 9.82 },
      outputs: { peakA: 3089.48029998, peakMs: 0.49740421548 },
    },
    compute: ({ voltageV, capacitanceMf, resistanceMohm, inductanceUh }) => {
      const { peakA, peakS } = capacitorCurrent(
        voltageV,
        capacitanceMf / 1000,
        resistanceMohm / 1000,
        inductanceUh * 1e-6,
      );
      return { peakA, peakMs: peakS === null ? null : 1000 * peakS };
    },
  }),
  formulaOf({
    name: 'common-branch',
    subject,
    title: 'Correction of two sources that feed a fault through a common branch',
    source: 'IEC 61660-1:1997, 2.6',
    mark: 'checked',
    inputs: {
      firstOhm: quantity('Resistance of the first source', 'Ω', { above: 0 }),
      secondOhm: quantity('Resistance of the second', 'Ω', { above: 0 }),
      commonOhm: quantity('Resistance of the common branch', 'Ω', { min: 0 }),
    },
    outputs: { first: { title: 'Factor of the first', unit: '' }, second: { title: 'Factor of the second', unit: '' } },
    example: {
      inputs: { firstOhm: 0.0609, secondOhm: 0.166, commonOhm: 0.0236 },
      outputs: { first: 0.9070604181, second: 0.746667149501 },
    },
    compute: ({ firstOhm, secondOhm, commonOhm }) => {
      const [first, second] = commonBranchFactors([firstOhm, secondOhm], commonOhm);
      return { first, second };
    },
  }),
];
