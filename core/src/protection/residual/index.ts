/**
 * Residual-current devices, general and selective. IEC 61008-1, Table 1, as remembered: not below half the rated residual current, certainly from it on; longest and, of the selective type, shortest
 * times at one, two and five times of it.
 */
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import {
  never,
  ownInput,
  type Band,
  type Family,
  type InputRating,
  type Progress,
  type Response,
  type SeenCurrents,
  type TimeCurrent,
} from '../family';
import { travelled } from '../travel';
import { residualTypes, type ResidualFunction } from './schema';

/** Rated residual currents as they are made, A. */
export const residualSizes: readonly number[] = [0.01, 0.03, 0.1, 0.3, 0.5, 1, 3];

/** From so many times the rated residual current on: shortest and longest time in s. */
const steps: Readonly<
  Record<ResidualFunction['type'], readonly (readonly [from: number, least: number, most: number])[]>
> = {
  general: [
    [5, 0, 0.04],
    [2, 0, 0.15],
    [1, 0, 0.3],
  ],
  selective: [
    [5, 0.05, 0.15],
    [2, 0.06, 0.2],
    [1, 0.13, 0.5],
  ],
};
const source = 'IEC 61008-1, Table 1 (as remembered)';

export const residual: Family<ResidualFunction> = {
  id: 'residual',
  title: 'Residual-current device',
  hosts: ['breaker'],
  variants: residualTypes.map((value) => ({ value, label: `Residual-current device, ${value}` })),
  fresh: (id, variant, input) => ({
    family: 'residual',
    id,
    enabled: true,
    input,
    circuits: [],
    type: residualTypes.find((each) => each === variant) ?? 'general',
    ratedResidualA: 0.03,
  }),
  code: ({ type, ratedResidualA }) =>
    `RCD ${Number((1000 * ratedResidualA).toPrecision(4))} mA${type === 'selective' ? ' S' : ''}`,
  name: ({ type }) => `Residual-current device, ${type} (IEC 61008-1)`,
  settings: (fn) => [
    {
      field: 'ratedResidualA',
      title: 'Rated residual current',
      unit: 'A',
      value: fn.ratedResidualA,
      range: null,
      sizes: residualSizes,
      role: 'pickup',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'type',
      title: 'type',
      value: fn.type,
      options: residualTypes.map((value) => ({ value, label: value })),
    },
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
  dragged: (fn, _, __, { currentA }) => {
    const nearest = (p: number, q: number) =>
      Math.abs(Math.log(q / currentA)) < Math.abs(Math.log(p / currentA)) ? q : p;
    return { ...fn, ratedResidualA: residualSizes.reduce(nearest) };
  },
  timeCurrents: (fn) => [timeCurrentOf(fn)],
  respond,
  advance: (fn, _, before: Progress, { residualA }: SeenCurrents, seconds: number) =>
    travelled(before, timeCurrentOf(fn).at(residualA).latestS, seconds),
  sheet: (fn, { primaryA }) => ({
    code: 'RCD',
    curve: fn.type,
    characteristic: `${fn.type} (IEC 61008-1)`,
    pickupIn: fn.ratedResidualA / primaryA,
    primaryA: fn.ratedResidualA,
    secondaryA: fn.ratedResidualA,
    timeMultiplier: null,
    delayS: null,
  }),
};

function timeCurrentOf(fn: ResidualFunction): TimeCurrent {
  const { ratedResidualA, type } = fn;
  const own = steps[type];
  return {
    fn,
    code: residual.code(fn),
    input: fn.input ?? ownInput,
    quantity: 'residual',
    pickupA: 0.5 * ratedResidualA,
    assuredA: ratedResidualA,
    cornersA: [0.5, 1, 2, 5].map((multiple) => multiple * ratedResidualA),
    at: (currentA): Band => {
      const multiple = currentA / ratedResidualA;
      if (multiple <= 0.5) return never;
      const found = own.find(([from]) => multiple >= from);
      return found ? { earliestS: found[1], latestS: found[2] } : { earliestS: own[2][1], latestS: Infinity };
    },
    accuracy: null,
    clears: true,
    remembered: source,
  };
}

function respond(fn: ResidualFunction, _: InputRating, { residualA }: SeenCurrents, trace: Trace): Response {
  const band = timeCurrentOf(fn).at(residualA);
  const multiple = trace.step(
    'M',
    formula`${figure('IΔ', residualA, 'A')} / ${figure('IΔn', fn.ratedResidualA, 'A')}`,
    residualA / fn.ratedResidualA,
  );
  if (band.latestS < Infinity)
    trace.step('tclear', formula`${figure('t', band.latestS, 's')}`, band.latestS, 's', source);
  return { pickedUp: band !== never, multiple: multiple.value, band };
}
