/** Undercurrent (37): trips when the current falls below its pickup, unless none flows at all. It has no curve over fault current, and grades with nothing. */
import { formula, quantityOf as figure } from '../../working/trace';
import { atRest, exactly, never, type Family, type InputRating } from '../family';
import { travelled } from '../travel';
import type { UndercurrentFunction } from './schema';

const operates = ({ pickup, blockedBelow }: UndercurrentFunction, { primaryA }: InputRating, currentA: number) =>
  currentA < pickup * primaryA && currentA > blockedBelow * primaryA;

export const undercurrent: Family<UndercurrentFunction> = {
  id: 'undercurrent',
  title: 'Undercurrent',
  hosts: ['relay'],
  variants: [{ value: '37', label: '37 undercurrent' }],
  fresh: (id, _, input) => ({
    family: 'undercurrent',
    id,
    enabled: true,
    input,
    circuits: [],
    pickup: 0.4,
    blockedBelow: 0.1,
    delayS: 5,
  }),
  code: () => '37',
  name: () => 'Undercurrent',
  settings: (fn) => [
    {
      field: 'pickup',
      title: 'Pickup',
      unit: '× In',
      value: fn.pickup,
      range: { min: 0.05, max: 2, step: 0.01 },
      role: 'pickup',
    },
    {
      field: 'blockedBelow',
      title: 'Blocked below',
      unit: '× In',
      value: fn.blockedBelow,
      range: { min: 0, max: 1, step: 0.01 },
      role: 'other',
    },
    {
      field: 'delayS',
      title: 'Delay',
      unit: 's',
      value: fn.delayS,
      range: { min: 0, max: 600, step: 0.1 },
      role: 'time',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  respond(fn, rating, { phaseA }, trace) {
    const current = figure('I', phaseA, 'A');
    const pickup = trace.step(
      'Ip',
      formula`${figure('Is', fn.pickup, '× In')} · ${figure('In', rating.primaryA, 'A')}`,
      fn.pickup * rating.primaryA,
      'A',
    );
    const { value: multiple } = trace.step('M', formula`${current} / ${pickup}`, phaseA / pickup.value);
    const pickedUp = operates(fn, rating, phaseA);
    if (pickedUp) trace.step('t', formula`${figure('td', fn.delayS, 's')}`, fn.delayS, 's');
    return { pickedUp, multiple, band: pickedUp ? exactly(fn.delayS) : never };
  },
  advance(fn, rating, before, { phaseA }, seconds) {
    if (before.tripped || operates(fn, rating, phaseA)) return travelled(before, fn.delayS, seconds);
    return atRest;
  },
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: '37',
    curve: 'definite',
    characteristic: `undercurrent, blocked below ${fn.blockedBelow} × In`,
    pickupIn: fn.pickup,
    primaryA: fn.pickup * primaryA,
    secondaryA: fn.pickup * secondaryA,
    timeMultiplier: null,
    delayS: fn.delayS,
  }),
};
