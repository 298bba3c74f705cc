/**
 * Arc protection by light (AFD in IEEE C37.2): trips when light falls on a sensor while the current is above its release. A fault at a watched busbar, or on the cable side of a watched switch,
 * counts as an arc.
 */
import { formula, quantityOf as figure } from '../../working/trace';
import { atRest, exactly, never, type Family, type InputRating, type SeenCurrents } from '../family';
import { travelled } from '../travel';
import type { LightFunction } from './schema';

const isLit = ({ watches }: LightFunction, { light }: SeenCurrents): boolean =>
  light !== undefined && watches.some((each) => light.has(each));

const isReleased = ({ pickup }: LightFunction, { primaryA }: InputRating, { phaseA }: SeenCurrents): boolean =>
  pickup === 0 || phaseA > pickup * primaryA;

export const light: Family<LightFunction> = {
  id: 'light',
  title: 'Arc protection by light',
  hosts: ['relay'],
  variants: [{ value: 'AFD', label: 'AFD arc protection by light' }],
  fresh: (id, _, input) => ({
    family: 'light',
    id,
    enabled: true,
    input,
    circuits: [],
    pickup: 1.5,
    delayS: 0.007,
    watches: [],
  }),
  code: () => 'AFD',
  name: () => 'Arc protection by light',
  settings: (fn) => [
    {
      field: 'pickup',
      title: 'Released by current',
      unit: '× In',
      value: fn.pickup,
      range: { min: 0, max: 20, step: 0.05 },
      role: 'pickup',
    },
    {
      field: 'delayS',
      title: 'From light to trip',
      unit: 's',
      value: fn.delayS,
      range: { min: 0.001, max: 1, step: 0.001 },
      role: 'time',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  respond(fn, rating, seen, trace) {
    const multiple = fn.pickup === 0 ? 1 : seen.phaseA / (fn.pickup * rating.primaryA);
    if (fn.pickup > 0)
      trace.step(
        'M',
        formula`${figure('I', seen.phaseA, 'A')} / (${figure('Is', fn.pickup, '× In')} · ${figure('In', rating.primaryA, 'A')})`,
        multiple,
      );
    const pickedUp = isLit(fn, seen) && isReleased(fn, rating, seen);
    if (pickedUp) trace.step('t', formula`${figure('td', fn.delayS, 's')}`, fn.delayS, 's', undefined, 'light seen');
    return { pickedUp, multiple, band: pickedUp ? exactly(fn.delayS) : never };
  },
  advance: (fn, rating, before, seen, seconds) =>
    before.tripped || (isLit(fn, seen) && isReleased(fn, rating, seen))
      ? travelled(before, fn.delayS, seconds)
      : atRest,
  timers: (fn, rating, seen) =>
    isLit(fn, seen) && isReleased(fn, rating, seen)
      ? [
          {
            id: '',
            name: '',
            multiple: fn.pickup === 0 ? 1 : seen.phaseA / (fn.pickup * rating.primaryA),
            timeS: fn.delayS,
          },
        ]
      : [],
  leastA: (fn, { primaryA }) => (fn.pickup === 0 ? null : fn.pickup * primaryA),
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: 'AFD',
    curve: 'definite',
    characteristic: fn.pickup === 0 ? 'light' : 'light and current',
    pickupIn: fn.pickup,
    primaryA: fn.pickup * primaryA,
    secondaryA: fn.pickup * secondaryA,
    timeMultiplier: null,
    delayS: fn.delayS,
  }),
};
