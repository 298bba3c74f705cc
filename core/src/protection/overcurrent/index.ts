/** Overcurrent: phase (51, 50), residual (51N, 50N) and negative sequence (46), dependent or definite time. */
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import { never, type Family, type InputRating, type Progress, type Response, type SeenCurrents } from '../family';
import { snap } from '../settings/range';
import { characteristics, timeMultiplierFor } from './characteristics';
import { genericRelays, newFunction } from './library';
import { functionCodes, type OvercurrentFunction } from './schema';
import { isDefinite, isHighSet, quantityOf, timeCurrentOf } from './timeCurrent';

const names = {
  '51': 'Phase overcurrent, time-delayed',
  '50': 'Phase overcurrent, high-set',
  '51N': 'Residual overcurrent, time-delayed',
  '50N': 'Residual overcurrent, high-set',
  '46': 'Negative-sequence overcurrent',
} as const satisfies Record<OvercurrentFunction['code'], string>;

const symbols = { phase: 'I', residual: '3I0', negative: 'I2' } as const;

export const overcurrent: Family<OvercurrentFunction> = {
  id: 'overcurrent',
  title: 'Overcurrent',
  hosts: ['relay', 'recloser'],
  variants: functionCodes.map((code) => ({ value: code, label: `${code} ${names[code].toLowerCase()}` })),
  fresh: (id, variant, input, like) =>
    newFunction(
      id,
      functionCodes.find((code) => code === variant) ?? '51',
      like?.family === 'overcurrent' ? like.ranges : genericRelays[0].ranges,
      input,
    ),
  code: ({ code }) => code,
  name: ({ code }) => names[code],
  settings: (fn) => [
    { field: 'pickup', title: 'Pickup', unit: '× In', value: fn.pickup, range: fn.ranges.pickup, role: 'pickup' },
    isDefinite(fn)
      ? { field: 'delayS', title: 'Delay', unit: 's', value: fn.delayS, range: fn.ranges.delayS, role: 'time' }
      : {
          field: 'timeMultiplier',
          title: 'Time multiplier',
          unit: '',
          value: fn.timeMultiplier,
          range: fn.ranges.timeMultiplier,
          role: 'time',
        },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'characteristic',
      title: 'characteristic',
      value: isHighSet(fn) ? 'definite' : fn.characteristic,
      options: Object.entries(characteristics).map(([value, { title }]) => ({ value, label: title })),
      fixed: isHighSet(fn),
    },
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
  dragged: (fn, { primaryA }, grip, { currentA, timeS }) => {
    if (grip === 'pickup') return { ...fn, pickup: snap(fn.ranges.pickup, currentA / primaryA) };
    if (isDefinite(fn)) return { ...fn, delayS: snap(fn.ranges.delayS, timeS) };
    const multiple = Math.max(currentA / (fn.pickup * primaryA), 1.02);
    const wanted = timeMultiplierFor(characteristics[fn.characteristic].constants!, multiple, timeS);
    return wanted === null ? fn : { ...fn, timeMultiplier: snap(fn.ranges.timeMultiplier, wanted) };
  },
  timeCurrent: timeCurrentOf,
  respond,
  advance,
  sheet: (fn, { primaryA, secondaryA }) => ({
    code: fn.code,
    curve: isDefinite(fn) ? 'definite' : fn.characteristic,
    characteristic: isDefinite(fn) ? characteristics.definite.title : characteristics[fn.characteristic].title,
    pickupIn: fn.pickup,
    primaryA: fn.pickup * primaryA,
    secondaryA: fn.pickup * secondaryA,
    timeMultiplier: isDefinite(fn) ? null : fn.timeMultiplier,
    delayS: isDefinite(fn) ? fn.delayS : null,
  }),
};

function respond(fn: OvercurrentFunction, rating: InputRating, seen: SeenCurrents, trace: Trace): Response {
  const curve = timeCurrentOf(fn, rating);
  const symbol = symbols[curve.quantity];
  const currentA = seen[`${curve.quantity}A`];
  const current = figure(symbol, currentA, 'A');
  const setting = figure('Is', fn.pickup, '× In');
  const rated = figure('In', rating.primaryA, 'A');
  const pickup = trace.step('Ip', formula`${setting} · ${rated}`, curve.pickupA, 'A', undefined, 'pickup, primary');
  const multiple = trace.step('M', formula`${current} / ${pickup}`, currentA / curve.pickupA);
  const band = curve.at(currentA);
  if (band === never) return { pickedUp: false, multiple: multiple.value, band };
  if (isDefinite(fn)) {
    const delay = figure('td', fn.delayS, 's');
    trace.step('t', formula`${delay}`, band.latestS, 's', characteristics.definite.source);
  } else {
    const { constants, source } = characteristics[fn.characteristic];
    const { k, alpha, c } = constants!;
    const within = trace.step(
      'M′',
      formula`min(${multiple}, ${figure('', 20)})`,
      Math.min(multiple.value, 20),
      '',
      'IEC 60255-151, 4.4.2',
      'end of the dependent-time range',
    );
    const tm = figure('TM', fn.timeMultiplier);
    trace.step(
      't',
      formula`${tm} · (${figure('k', k)} / (${within}^${figure('α', alpha)} - 1) + ${figure('c', c)})`,
      band.latestS,
      's',
      source,
    );
  }
  return { pickedUp: true, multiple: multiple.value, band };
}

/** By the share of its time that passes; a current that falls below pickup brings it back to rest at once. */
function advance(
  fn: OvercurrentFunction,
  rating: InputRating,
  before: Progress,
  seen: SeenCurrents,
  seconds: number,
): Progress {
  if (before.tripped) return before;
  const { latestS } = timeCurrentOf(fn, rating).at(seen[`${quantityOf(fn)}A`]);
  if (latestS === Infinity) return { share: 0, tripped: false };
  const share = latestS === 0 ? 1 : Math.min(1, before.share + seconds / latestS);
  // The last step may end a rounding error short of the trip.
  return { share, tripped: share >= 1 - 1e-12 };
}
