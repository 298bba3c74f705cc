/** Thermal overload protection by the image of one time constant (49): its band runs from the hot curve, after load, to the cold one. */
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
import { snap } from '../settings/range';
import { heated, timeToTrip } from './image';
import type { ThermalFunction } from './schema';

const source = 'IEC 60255-149';

export const thermal: Family<ThermalFunction> = {
  id: 'thermal',
  title: 'Thermal overload',
  hosts: ['relay'],
  variants: [{ value: '49', label: '49 thermal overload' }],
  fresh: (id, _, input) => ({
    family: 'thermal',
    id,
    enabled: true,
    input,
    circuits: [],
    pickup: 1,
    k: 1.05,
    tauS: 600,
    tauCoolingS: 600,
    preloadPercent: 100,
    ranges: { pickup: { min: 0.1, max: 4, step: 0.01 } },
  }),
  code: () => '49',
  name: () => 'Thermal overload',
  settings: (fn) => [
    { field: 'pickup', title: 'Ib', unit: '× In', value: fn.pickup, range: fn.ranges.pickup, role: 'pickup' },
    { field: 'k', title: 'k', unit: '', value: fn.k, range: { min: 1, max: 1.5, step: 0.01 }, role: 'other' },
    { field: 'tauS', title: 'τ', unit: 's', value: fn.tauS, range: null, role: 'time' },
    { field: 'tauCoolingS', title: 'τ cooling', unit: 's', value: fn.tauCoolingS, range: null, role: 'other' },
    { field: 'preloadPercent', title: 'Load before', unit: '%', value: fn.preloadPercent, range: null, role: 'other' },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  dragged: (fn, { primaryA }, grip, { currentA, timeS }) => {
    if (grip === 'pickup') return { ...fn, pickup: snap(fn.ranges.pickup, currentA / primaryA / fn.k) };
    const cold = timeToTrip(1, fn.k, currentA / (fn.pickup * primaryA));
    return cold === Infinity ? fn : { ...fn, tauS: Number(Math.min(timeS / cold, 36000).toPrecision(3)) };
  },
  timeCurrents: (fn, rating) => [timeCurrentOf(fn, rating)],
  respond,
  advance,
  remaining: (fn, { primaryA }, { share }, { phaseA }) =>
    timeToTrip(fn.tauS, fn.k, phaseA / (fn.pickup * primaryA), fn.k * Math.sqrt(share)),
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: '49',
    curve: 'thermal',
    characteristic: `k ${fn.k}, τ ${fn.tauS} s`,
    pickupIn: fn.pickup,
    primaryA: fn.pickup * primaryA,
    secondaryA: fn.pickup * secondaryA,
    timeMultiplier: null,
    delayS: fn.tauS,
  }),
};

function timeCurrentOf(fn: ThermalFunction, { primaryA }: InputRating): TimeCurrent {
  const basicA = fn.pickup * primaryA;
  const tripsA = fn.k * basicA;
  return {
    fn,
    code: '49',
    input: fn.input ?? ownInput,
    quantity: 'phase',
    pickupA: tripsA,
    assuredA: tripsA,
    cornersA: [tripsA],
    at: (currentA): Band => {
      const multiple = currentA / basicA;
      if (!(multiple > fn.k)) return never;
      return {
        earliestS: timeToTrip(fn.tauS, fn.k, multiple, fn.preloadPercent / 100),
        latestS: timeToTrip(fn.tauS, fn.k, multiple),
      };
    },
    accuracy: null,
    clears: false,
  };
}

function respond(fn: ThermalFunction, rating: InputRating, { phaseA }: SeenCurrents, trace: Trace): Response {
  const curve = timeCurrentOf(fn, rating);
  const band = curve.at(phaseA);
  const basic = trace.step(
    'Ib',
    formula`${figure('Ib', fn.pickup, '× In')} · ${figure('In', rating.primaryA, 'A')}`,
    fn.pickup * rating.primaryA,
    'A',
  );
  const multiple = trace.step('M', formula`${figure('I', phaseA, 'A')} / ${basic}`, phaseA / basic.value);
  if (band === never) return { pickedUp: false, multiple: phaseA / curve.pickupA, band };
  const tau = figure('τ', fn.tauS, 's');
  const k = figure('k', fn.k);
  const before = figure('p', fn.preloadPercent / 100);
  trace.step(
    'thot',
    formula`${tau} · ln((${multiple}^2 - ${before}^2) / (${multiple}^2 - ${k}^2))`,
    band.earliestS,
    's',
    source,
  );
  trace.step(
    't',
    formula`${tau} · ln(${multiple}^2 / (${multiple}^2 - ${k}^2))`,
    band.latestS,
    's',
    source,
    'from cold',
  );
  return { pickedUp: true, multiple: phaseA / curve.pickupA, band };
}

/** The image itself: it cools by its own time constant where less flows than it is warm for. */
function advance(
  fn: ThermalFunction,
  rating: InputRating,
  before: Progress,
  { phaseA }: SeenCurrents,
  seconds: number,
): Progress {
  if (before.tripped) return before;
  const multiple = phaseA / (fn.pickup * rating.primaryA);
  const rises = (multiple / fn.k) ** 2 >= before.share;
  const share = heated(before.share, rises ? fn.tauS : fn.tauCoolingS, fn.k, multiple, seconds);
  // The image comes to the trip by an exponential: a step that ends on it ends a rounding error beside it.
  return { ...before, share, tripped: share >= 1 - 1e-9 && multiple > fn.k };
}
