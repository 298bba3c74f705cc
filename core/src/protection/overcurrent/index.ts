/** Overcurrent: phase, residual, earth and negative sequence, directional or with voltage, dependent or definite time, with reset. */
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import {
  atRest,
  never,
  type Family,
  type InputRating,
  type Progress,
  type Response,
  type SeenCurrents,
} from '../family';
import { snap } from '../settings/range';
import { travelled } from '../travel';
import { characteristics, constantsOf, resetTime, timeMultiplierFor } from './characteristics';
import { genericRelays, newFunction } from './library';
import { functionCodes, type OvercurrentFunction } from './schema';
import { choicesOf, settingsOf, withChoice, withSetting } from './settings';
import { effectiveCurrent, isDefinite, timeCurrentOf } from './timeCurrent';

const names = {
  '51': 'Phase overcurrent, time-delayed',
  '50': 'Phase overcurrent, high-set',
  '51N': 'Residual overcurrent, time-delayed',
  '50N': 'Residual overcurrent, high-set',
  '51G': 'Earth-fault current, time-delayed',
  '50G': 'Earth-fault current, high-set',
  '46': 'Negative-sequence overcurrent',
  '67': 'Directional phase overcurrent',
  '67N': 'Directional residual overcurrent',
  '51V': 'Overcurrent with voltage',
  '48': 'Start too long',
  '51LR': 'Locked rotor',
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
  settings: settingsOf,
  withSetting,
  choices: choicesOf,
  withChoice,
  dragged: (fn, { primaryA }, grip, { currentA, timeS }) => {
    if (grip === 'pickup') return { ...fn, pickup: snap(fn.ranges.pickup, currentA / primaryA) };
    if (isDefinite(fn)) return { ...fn, delayS: snap(fn.ranges.delayS, timeS) };
    const wanted = timeMultiplierFor(fn, Math.max(currentA / (fn.pickup * primaryA), 1.02), timeS);
    return wanted === null ? fn : { ...fn, timeMultiplier: snap(fn.ranges.timeMultiplier, wanted) };
  },
  guards: (fn, rating) => {
    const { pickupA, quantity, assuredA } = timeCurrentOf(fn, rating);
    return quantity === 'phase' && fn.code === '51' ? { referenceA: pickupA, tripsA: assuredA } : null;
  },
  timeCurrents: (fn, rating) => [timeCurrentOf(fn, rating)],
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
  const currentA = effectiveCurrent(fn, seen);
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
    const { source } = characteristics[fn.characteristic];
    const constants = constantsOf(fn);
    const within =
      fn.dependentTo === null
        ? multiple
        : trace.step(
            'M′',
            formula`min(${multiple}, ${figure('', fn.dependentTo)})`,
            Math.min(multiple.value, fn.dependentTo),
            '',
            'IEC 60255-151, 4.4.2',
            'end of the dependent-time range',
          );
    const tm = figure('TM', fn.timeMultiplier);
    if (constants) {
      const { k, alpha, c } = constants;
      trace.step(
        't',
        formula`${tm} · (${figure('k', k)} / (${within}^${figure('α', alpha)} - 1) + ${figure('c', c)})`,
        band.latestS,
        's',
        source,
      );
    } else {
      const one = figure('t1', band.latestS / fn.timeMultiplier, 's');
      trace.step(
        't',
        formula`${tm} · ${one}`,
        band.latestS,
        's',
        source,
        'straight between the points on log–log paper',
      );
    }
  }
  return { pickedUp: true, multiple: multiple.value, band };
}

/** By the share of its time that passes; below pickup the travel is lost, held for a time, or runs back. */
function advance(
  fn: OvercurrentFunction,
  rating: InputRating,
  before: Progress,
  seen: SeenCurrents,
  seconds: number,
): Progress {
  if (before.tripped) return before;
  const curve = timeCurrentOf(fn, rating);
  const currentA = effectiveCurrent(fn, seen);
  const { latestS } = curve.at(currentA);
  if (latestS < Infinity) return travelled({ share: before.share, tripped: false }, latestS, seconds);
  return released(fn, before, currentA / curve.pickupA, seconds);
}

function released(fn: OvercurrentFunction, before: Progress, multiple: number, seconds: number): Progress {
  if (fn.reset === 'definite') {
    const restS = (before.restS ?? 0) + seconds;
    return restS < fn.resetS && before.share > 0 ? { ...before, restS } : atRest;
  }
  if (fn.reset === 'instant') return atRest;
  const tr = fn.characteristic === 'own' ? fn.own?.tr : characteristics[fn.characteristic].tr;
  const wholeS = resetTime(tr || fn.resetS, fn.timeMultiplier, Math.min(multiple, 1));
  const share = wholeS === null ? before.share : before.share - seconds / wholeS;
  return share > 0 ? { share, tripped: false } : atRest;
}
