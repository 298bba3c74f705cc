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
  type Setting,
} from '../family';
import { snap } from '../settings/range';
import { travelled } from '../travel';
import { characteristics, constantsOf, resetTime, unitTime } from './characteristics';
import { genericRelays, newFunction } from './library';
import { functionCodes, resetKinds, type OvercurrentFunction } from './schema';
import { effectiveCurrent, isDefinite, isFixed, timeCurrentOf } from './timeCurrent';

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
  choices: (fn) => [
    {
      field: 'characteristic',
      title: 'characteristic',
      value: isFixed(fn) ? 'definite' : fn.characteristic,
      options: Object.entries(characteristics).map(([value, { title }]) => ({ value, label: title })),
      fixed: isFixed(fn),
    },
    ...(fn.direction
      ? [
          {
            field: 'looks',
            title: 'looks',
            value: fn.direction.looks,
            options: [
              { value: 'forward', label: 'forward' },
              { value: 'reverse', label: 'reverse' },
            ],
          },
          {
            field: 'withoutVoltage',
            title: 'without voltage',
            value: fn.direction.withoutVoltage,
            options: [
              { value: 'memory', label: 'voltage before the fault' },
              { value: 'block', label: 'does not operate' },
            ],
          },
        ]
      : []),
    ...(fn.voltage
      ? [
          {
            field: 'mode',
            title: 'voltage',
            value: fn.voltage.mode,
            options: [
              { value: 'restrained', label: 'restrained by voltage' },
              { value: 'controlled', label: 'controlled by voltage' },
            ],
          },
        ]
      : []),
    {
      field: 'reset',
      title: 'reset',
      value: fn.reset,
      options: resetKinds.map((value) => ({ value, label: value })),
      more: true,
    },
    {
      field: 'operations',
      title: 'when reclosing',
      value: fn.operations,
      options: [
        { value: 'all', label: 'all operations' },
        { value: 'fast', label: 'fast operations' },
        { value: 'slow', label: 'slow operations' },
      ],
      more: true,
    },
  ],
  withChoice,
  dragged: (fn, { primaryA }, grip, { currentA, timeS }) => {
    if (grip === 'pickup') return { ...fn, pickup: snap(fn.ranges.pickup, currentA / primaryA) };
    if (isDefinite(fn)) return { ...fn, delayS: snap(fn.ranges.delayS, timeS) };
    const one = unitTime(fn, Math.max(currentA / (fn.pickup * primaryA), 1.02))!;
    return one > 0 && one < Infinity ? { ...fn, timeMultiplier: snap(fn.ranges.timeMultiplier, timeS / one) } : fn;
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

const errorRange = { min: 0, max: 50, step: 0.5 };
const timeRange = { min: 0, max: 1, step: 0.005 };

function settingsOf(fn: OvercurrentFunction): readonly Setting[] {
  const more = (
    field: string,
    title: string,
    unit: string,
    value: number,
    range: Setting['range'] = null,
  ): Setting => ({
    field,
    title,
    unit,
    value,
    range,
    role: 'other',
    more: true,
  });
  const { direction, voltage, own } = fn;
  return [
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
    ...(fn.characteristic === 'own' && own && !isFixed(fn)
      ? (['k', 'alpha', 'c', 'tr'] as const).map((field): Setting => ({
          field: `own.${field}`,
          title: field === 'alpha' ? 'α' : field,
          unit: field === 'alpha' ? '' : 's',
          value: own[field],
          range: null,
          role: 'other',
        }))
      : []),
    ...(direction
      ? [
          {
            field: 'direction.characteristicAngleDeg',
            title: 'Characteristic angle',
            unit: '°',
            value: direction.characteristicAngleDeg,
            range: { min: -180, max: 180, step: 1 },
            role: 'other' as const,
          },
          more('direction.sectorDeg', 'Half of the sector', '°', direction.sectorDeg, { min: 10, max: 90, step: 1 }),
          more('direction.minPolarisingPercent', 'Least voltage', '%', direction.minPolarisingPercent),
        ]
      : []),
    ...(voltage?.mode === 'controlled'
      ? [
          {
            field: 'voltage.belowPercent',
            title: 'Below',
            unit: '%',
            value: voltage.belowPercent,
            range: { min: 10, max: 100, step: 1 },
            role: 'other' as const,
          },
          {
            field: 'voltage.factor',
            title: 'Pickup factor',
            unit: '',
            value: voltage.factor,
            range: { min: 0.1, max: 1, step: 0.05 },
            role: 'other' as const,
          },
        ]
      : []),
    ...(fn.reset === 'instant' ? [] : [more('resetS', 'Reset time', 's', fn.resetS)]),
    more('errorPercent', 'Error', '%', fn.errorPercent, errorRange),
    more('errorS', 'Fixed error', 's', fn.errorS, timeRange),
    more('overshootS', 'Overshoot', 's', fn.overshootS, timeRange),
  ];
}

/** "own.k" is the k of its own constants. */
function withSetting(fn: OvercurrentFunction, field: string, value: number): OvercurrentFunction {
  const [part, inner] = field.split('.');
  if (inner === undefined) return { ...fn, [field]: value };
  return { ...fn, [part]: { ...(fn[part as keyof OvercurrentFunction] as object), [inner]: value } };
}

/** A table to begin with: that of IEC A. */
const firstPoints = (): [number, number][] =>
  [1.1, 1.5, 2, 3, 5, 10, 20].map((multiple) => [
    multiple,
    Number((0.14 / Math.expm1(0.02 * Math.log(multiple))).toPrecision(4)),
  ]);

function withChoice(fn: OvercurrentFunction, field: string, value: string): OvercurrentFunction {
  if (field === 'looks' || field === 'withoutVoltage')
    return { ...fn, direction: fn.direction && ({ ...fn.direction, [field]: value } as typeof fn.direction) };
  if (field === 'mode') return { ...fn, voltage: fn.voltage && ({ ...fn.voltage, mode: value } as typeof fn.voltage) };
  const changed = { ...fn, [field]: value } as OvercurrentFunction;
  if (field !== 'characteristic') return changed;
  // Constants of its own begin as those that it had.
  const before = constantsOf(fn) ?? characteristics.iecA.constants!;
  if (value === 'own')
    return { ...changed, own: fn.own ?? { ...before, tr: characteristics[fn.characteristic].tr ?? 0 } };
  if (value === 'points') return { ...changed, points: fn.points ?? firstPoints() };
  return changed;
}

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
