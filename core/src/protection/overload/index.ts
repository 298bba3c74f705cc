/** Overload protection of motors by trip class. */
import { formula, quantityOf as figure } from '../../working/trace';
import type { Family } from '../family';
import { travelled } from '../travel';
import { tripClasses, type OverloadFunction } from './schema';
import { lateOf, overloadCurve } from './trip';

export const overload: Family<OverloadFunction> = {
  id: 'overload',
  title: 'Motor overload',
  hosts: ['contactor', 'breaker'],
  variants: [{ value: '49', label: 'Motor overload by trip class' }],
  fresh: (id, _, input) => ({
    family: 'overload',
    id,
    enabled: true,
    input,
    circuits: [],
    tripClass: '10',
    settingA: 10,
    phaseLoss: true,
  }),
  code: () => '49',
  name: ({ tripClass }) => `Overload, class ${tripClass} (IEC 60947-4-1)`,
  settings: (fn) => [
    { field: 'settingA', title: 'Current setting', unit: 'A', value: fn.settingA, range: null, role: 'pickup' },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'tripClass',
      title: 'trip class',
      value: fn.tripClass,
      options: tripClasses.map((value) => ({ value, label: `class ${value}` })),
    },
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
  dragged: (fn, _, __, { currentA }) => ({ ...fn, settingA: Number(Math.min(currentA, 2000).toPrecision(3)) }),
  guards: ({ settingA }) => ({ referenceA: settingA, tripsA: 1.2 * settingA }),
  timeCurrents: (fn) => [overloadCurve(fn)],
  respond(fn, _, { phaseA }, trace) {
    const band = overloadCurve(fn).at(phaseA);
    const current = figure('I', phaseA, 'A');
    const multiple = trace.step('M', formula`${current} / ${figure('Ir', fn.settingA, 'A')}`, phaseA / fn.settingA);
    const pickedUp = band.earliestS < Infinity;
    if (band.latestS < Infinity) {
      const { constantS, level } = lateOf(fn);
      trace.step(
        't',
        formula`${figure('τ', constantS, 's')} · ln(${multiple}^2 / (${multiple}^2 - ${figure('', level)}^2))`,
        band.latestS,
        's',
        'IEC 60947-4-1, Table 2 (as remembered)',
        `slowest of class ${fn.tripClass}, from cold`,
      );
    }
    return { pickedUp, multiple: multiple.value, band };
  },
  advance: (fn, _, before, { phaseA }, seconds) => travelled(before, overloadCurve(fn).at(phaseA).latestS, seconds),
  sheet: (fn, { primaryA }) => ({
    code: '49',
    curve: `class ${fn.tripClass}`,
    characteristic: `class ${fn.tripClass} (IEC 60947-4-1)`,
    pickupIn: fn.settingA / primaryA,
    primaryA: fn.settingA,
    secondaryA: fn.settingA,
    timeMultiplier: null,
    delayS: null,
  }),
};
