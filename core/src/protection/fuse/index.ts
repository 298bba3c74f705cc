/** Fuse links. They protect at their place; their melting and clearing curves are not computed yet. */
import type { Family } from '../family';
import { fuseClasses, type FuseFunction } from './schema';

const classNames = {
  gG: 'gG, general purpose (IEC 60269-1)',
  aM: 'aM, motor circuits (IEC 60269-1)',
  backup: 'Back-up (IEC 60282-1)',
  expulsionK: 'Expulsion, type K',
  expulsionT: 'Expulsion, type T',
} as const satisfies Record<FuseFunction['class'], string>;

export const fuseClassNames: Readonly<Record<FuseFunction['class'], string>> = classNames;

export const fuse: Family<FuseFunction> = {
  id: 'fuse',
  title: 'Fuse link',
  hosts: ['fuse'],
  variants: fuseClasses.map((value) => ({ value, label: classNames[value] })),
  fresh: (id, variant, input) => ({
    family: 'fuse',
    id,
    enabled: true,
    input,
    circuits: [],
    class: fuseClasses.find((each) => each === variant) ?? 'gG',
    linkA: 100,
  }),
  code: () => 'fuse',
  name: (fn) => classNames[fn.class],
  settings: ({ linkA }) => [
    { field: 'linkA', title: 'Rated current', unit: 'A', value: linkA, range: null, role: 'pickup' },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'class',
      title: 'class',
      value: fn.class,
      options: fuseClasses.map((value) => ({ value, label: classNames[value] })),
    },
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
};
