/** Releases of low-voltage breakers. Their curves are not computed yet. */
import type { Family, Setting } from '../family';
import type { ReleaseFunction } from './schema';

const partNames = {
  longTime: 'overload',
  shortTime: 'short-time',
  instantaneous: 'instantaneous',
  earthFault: 'earth fault',
} as const satisfies Record<ReleaseFunction['parts'][number], string>;

/** Combinations that releases are made with. */
const combinations: readonly ReleaseFunction['parts'][] = [
  ['longTime', 'instantaneous'],
  ['longTime', 'shortTime', 'instantaneous'],
  ['longTime', 'shortTime', 'instantaneous', 'earthFault'],
  ['longTime', 'shortTime'],
  ['instantaneous'],
];

export const release: Family<ReleaseFunction> = {
  id: 'release',
  title: 'Low-voltage release',
  hosts: ['breaker'],
  variants: [{ value: 'release', label: 'Release of a low-voltage breaker' }],
  fresh: (id, _, input) => ({
    family: 'release',
    id,
    enabled: true,
    input,
    circuits: [],
    ratedA: 400,
    parts: ['longTime', 'instantaneous'],
    ir: 1,
    trS: 8,
    isd: 6,
    tsdS: 0.1,
    shortTime: 'definite',
    ii: 10,
    ig: 0.4,
    tgS: 0.2,
  }),
  code: () => 'release',
  name: () => 'Release of a low-voltage breaker (IEC 60947-2)',
  settings: (fn) => {
    const uses = (part: ReleaseFunction['parts'][number], ...list: Setting[]) => (fn.parts.includes(part) ? list : []);
    const pickup = (field: string, title: string, unit: string, value: number): Setting => ({
      field,
      title,
      unit,
      value,
      range: null,
      role: 'pickup',
    });
    const time = (field: string, title: string, value: number): Setting => ({
      field,
      title,
      unit: 's',
      value,
      range: null,
      role: 'time',
    });
    return [
      pickup('ratedA', 'In', 'A', fn.ratedA),
      ...uses('longTime', pickup('ir', 'Ir', '× In', fn.ir), time('trS', 'tr at 6 × Ir', fn.trS)),
      ...uses('shortTime', pickup('isd', 'Isd', '× Ir', fn.isd), time('tsdS', 'tsd', fn.tsdS)),
      ...uses('instantaneous', pickup('ii', 'Ii', '× In', fn.ii)),
      ...uses('earthFault', pickup('ig', 'Ig', '× In', fn.ig), time('tgS', 'tg', fn.tgS)),
    ];
  },
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'parts',
      title: 'parts in use',
      value: fn.parts.join('+'),
      options: combinations.map((parts) => ({
        value: parts.join('+'),
        label: parts.map((part) => partNames[part]).join(', '),
      })),
    },
    ...(fn.parts.includes('shortTime')
      ? [
          {
            field: 'shortTime',
            title: 'short-time curve',
            value: fn.shortTime,
            options: [
              { value: 'definite', label: 'definite time' },
              { value: 'i2t', label: 'I²t' },
            ],
          },
        ]
      : []),
  ],
  withChoice: (fn, field, value) =>
    field === 'parts' ? { ...fn, parts: value.split('+') as ReleaseFunction['parts'] } : { ...fn, [field]: value },
};
