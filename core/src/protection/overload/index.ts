/** Overload protection of motors by trip class. Its curve is not computed yet. */
import type { Family } from '../family';
import { tripClasses, type OverloadFunction } from './schema';

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
};
