/** Automatic reclosing: its sequence is played through in trials (`trials/play`). */
import type { Family } from '../family';
import type { ReclosingFunction } from './schema';

const counts = (min: number) => ({ min, max: 6, step: 1 });

export const reclosing: Family<ReclosingFunction> = {
  id: 'reclosing',
  title: 'Automatic reclosing',
  hosts: ['recloser', 'relay'],
  variants: [{ value: '79', label: '79 automatic reclosing' }],
  fresh: (id, _, input) => ({
    family: 'reclosing',
    id,
    enabled: true,
    input,
    circuits: [],
    shots: 4,
    fastShots: 2,
    deadTimesS: [1, 5, 15],
    reclaimS: 60,
  }),
  code: () => '79',
  name: ({ shots, fastShots }) => `${shots} trips to lockout, ${fastShots} fast`,
  settings: (fn) => [
    { field: 'shots', title: 'Trips to lockout', unit: '', value: fn.shots, range: counts(1), role: 'time' },
    { field: 'fastShots', title: 'Of them fast', unit: '', value: fn.fastShots, range: counts(0), role: 'time' },
    { field: 'reclaimS', title: 'Reclaim time', unit: 's', value: fn.reclaimS, range: null, role: 'time' },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  sequence: ({ shots, fastShots, deadTimesS, reclaimS }) => ({ shots, fastShots, deadTimesS, reclaimS }),
};
