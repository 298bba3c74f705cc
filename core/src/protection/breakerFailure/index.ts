/** Breaker failure (50BF): from the trip command on, while the current goes on, to the trip of the breakers around. */
import { formula, quantityOf as figure } from '../../working/trace';
import { atRest, exactly, never, type Family } from '../family';
import { travelled } from '../travel';
import type { BreakerFailureFunction } from './schema';

export const breakerFailure: Family<BreakerFailureFunction> = {
  id: 'breakerFailure',
  title: 'Breaker failure',
  hosts: ['relay'],
  variants: [{ value: '50BF', label: '50BF breaker failure' }],
  fresh: (id, _, input) => ({
    family: 'breakerFailure',
    id,
    enabled: true,
    input,
    circuits: [],
    pickup: 0.2,
    delayS: 0.2,
    opens: [],
  }),
  code: () => '50BF',
  name: () => 'Breaker failure',
  settings: (fn) => [
    {
      field: 'pickup',
      title: 'Current detector',
      unit: '× In',
      value: fn.pickup,
      range: { min: 0.05, max: 5, step: 0.01 },
      role: 'pickup',
    },
    {
      field: 'delayS',
      title: 'Delay',
      unit: 's',
      value: fn.delayS,
      range: { min: 0.05, max: 5, step: 0.01 },
      role: 'time',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  /** From the trip command on. */
  respond(fn, { primaryA }, { phaseA }, trace) {
    const pickup = trace.step(
      'Ip',
      formula`${figure('Is', fn.pickup, '× In')} · ${figure('In', primaryA, 'A')}`,
      fn.pickup * primaryA,
      'A',
    );
    const { value: multiple } = trace.step(
      'M',
      formula`${figure('I', phaseA, 'A')} / ${pickup}`,
      phaseA / pickup.value,
    );
    const pickedUp = multiple > 1;
    if (pickedUp)
      trace.step('t', formula`${figure('td', fn.delayS, 's')}`, fn.delayS, 's', undefined, 'after the trip command');
    return { pickedUp, multiple, band: pickedUp ? exactly(fn.delayS) : never };
  },
  advance(fn, { primaryA }, before, { phaseA }, seconds) {
    if (before.tripped || phaseA > fn.pickup * primaryA) return travelled(before, fn.delayS, seconds);
    return atRest;
  },
  afterTrip: ({ opens }) => opens,
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: '50BF',
    curve: 'definite',
    characteristic: 'after a trip, while current flows',
    pickupIn: fn.pickup,
    primaryA: fn.pickup * primaryA,
    secondaryA: fn.pickup * secondaryA,
    timeMultiplier: null,
    delayS: fn.delayS,
  }),
};
