/** What can be set and chosen of an overcurrent function, and how it changes with it. */
import type { Choice, Setting } from '../family';
import { characteristics, constantsOf, inverseTime } from './characteristics';
import { resetKinds, type OvercurrentFunction } from './schema';
import { isDefinite, isFixed } from './timeCurrent';

/** A setting that moves no curve by itself. */
const other = (field: string, title: string, unit: string, value: number, range: Setting['range']): Setting => ({
  field,
  title,
  unit,
  value,
  range,
  role: 'other',
});

const more = (field: string, title: string, unit: string, value: number, range: Setting['range'] = null): Setting => ({
  ...other(field, title, unit, value, range),
  more: true,
});

const named = (labels: Readonly<Record<string, string>>): Choice['options'] =>
  Object.entries(labels).map(([value, label]) => ({ value, label }));

export const choicesOf = (fn: OvercurrentFunction): readonly Choice[] => [
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
          options: named({ forward: 'forward', reverse: 'reverse' }),
        },
        {
          field: 'withoutVoltage',
          title: 'without voltage',
          value: fn.direction.withoutVoltage,
          options: named({ memory: 'voltage before the fault', block: 'does not operate' }),
        },
      ]
    : []),
  ...(fn.voltage
    ? [
        {
          field: 'mode',
          title: 'voltage',
          value: fn.voltage.mode,
          options: named({ restrained: 'restrained by voltage', controlled: 'controlled by voltage' }),
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
    options: named({ all: 'all operations', fast: 'fast operations', slow: 'slow operations' }),
    more: true,
  },
];

const errorRange = { min: 0, max: 50, step: 0.5 };
const timeRange = { min: 0, max: 1, step: 0.005 };

export function settingsOf(fn: OvercurrentFunction): readonly Setting[] {
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
      ? (['k', 'alpha', 'c', 'tr'] as const).map((field) =>
          other(`own.${field}`, field === 'alpha' ? 'α' : field, field === 'alpha' ? '' : 's', own[field], null),
        )
      : []),
    ...(direction
      ? [
          other('direction.characteristicAngleDeg', 'Characteristic angle', '°', direction.characteristicAngleDeg, {
            min: -180,
            max: 180,
            step: 1,
          }),
          more('direction.sectorDeg', 'Half of the sector', '°', direction.sectorDeg, { min: 10, max: 90, step: 1 }),
          more('direction.minPolarisingPercent', 'Least voltage', '%', direction.minPolarisingPercent),
        ]
      : []),
    ...(voltage?.mode === 'controlled'
      ? [
          other('voltage.belowPercent', 'Below', '%', voltage.belowPercent, { min: 10, max: 100, step: 1 }),
          other('voltage.factor', 'Pickup factor', '', voltage.factor, { min: 0.1, max: 1, step: 0.05 }),
        ]
      : []),
    ...(fn.reset === 'instant' ? [] : [more('resetS', 'Reset time', 's', fn.resetS)]),
    more('errorPercent', 'Error', '%', fn.errorPercent, errorRange),
    more('errorS', 'Fixed error', 's', fn.errorS, timeRange),
    more('overshootS', 'Overshoot', 's', fn.overshootS, timeRange),
  ];
}

/** "own.k" is the k of its own constants. */
export function withSetting(fn: OvercurrentFunction, field: string, value: number): OvercurrentFunction {
  const [part, inner] = field.split('.');
  if (inner === undefined) return { ...fn, [field]: value };
  return { ...fn, [part]: { ...(fn[part as keyof OvercurrentFunction] as object), [inner]: value } };
}

/** A table to begin with: that of IEC A. */
const firstPoints = (): [number, number][] =>
  [1.1, 1.5, 2, 3, 5, 10, 20].map((multiple) => [
    multiple,
    Number(inverseTime(characteristics.iecA.constants!, multiple, 1).toPrecision(4)),
  ]);

export function withChoice(fn: OvercurrentFunction, field: string, value: string): OvercurrentFunction {
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
