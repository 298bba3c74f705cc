/** Differential protection of lines, transformers, busbars and machines: restrained by what flows through, or of high impedance. */
import { formula, quantityOf as figure, type Trace } from '../../working/trace';
import type { ElementId } from '../../model/fields';
import {
  atRest,
  exactly,
  never,
  type Choice,
  type Family,
  type InputRating,
  type Response,
  type SeenCurrents,
  type Setting,
  type Timer,
} from '../family';
import { travelled } from '../travel';
import { comparedIn, highImpedanceA, nearestSides, pointsOf, sidesSeen, sumA, type ElementPoint } from './measured';
import { differentialCodes, type DifferentialCode, type DifferentialFunction } from './schema';

const names: Readonly<Record<DifferentialCode, string>> = {
  '87L': 'Line differential',
  '87T': 'Transformer differential',
  '87N': 'Restricted earth fault',
  '87B': 'Busbar differential',
  '87G': 'Generator differential',
  '87M': 'Motor differential',
};

const sources: Readonly<Record<DifferentialCode, string>> = {
  '87L': 'IEEE C37.243 (as remembered)',
  '87T': 'IEEE C37.91 (as remembered)',
  '87N': 'IEEE C37.91 (as remembered)',
  '87B': 'IEEE C37.234 (as remembered)',
  '87G': 'IEEE C37.101 (as remembered)',
  '87M': 'IEEE C37.96 (as remembered)',
};

/** Careful values to begin with. */
const usual: Readonly<Record<DifferentialCode, Partial<DifferentialFunction>>> = {
  '87L': { pickup: 0.3, slope1Percent: 30, knee: 2, slope2Percent: 70, restraint: 'mean' },
  '87T': {
    pickup: 0.3,
    slope1Percent: 30,
    knee: 3,
    slope2Percent: 70,
    restraint: 'mean',
    unrestrained: 8,
    secondHarmonicPercent: 15,
    fifthHarmonicPercent: 30,
  },
  '87N': { pickup: 0.1, slope1Percent: 20, knee: 2, slope2Percent: 60, restraint: 'max' },
  '87B': { pickup: 0.8, slope1Percent: 50, knee: 2, slope2Percent: 70, restraint: 'sum' },
  '87G': { pickup: 0.1, slope1Percent: 15, knee: 1.5, slope2Percent: 60, restraint: 'mean' },
  '87M': { pickup: 0.15, slope1Percent: 20, knee: 1.5, slope2Percent: 60, restraint: 'mean' },
};

export const freshDifferential = (
  id: ElementId,
  code: DifferentialCode,
  input: ElementId | null,
): DifferentialFunction => ({
  family: 'differential',
  id,
  enabled: true,
  input,
  circuits: [],
  code,
  scheme: 'biased',
  sides: input === null ? [] : [{ input, baseA: 1000, clock: 0, zero: 'kept' }],
  partners: [],
  buses: [],
  restraint: 'mean',
  pickup: 0.3,
  slope1Percent: 30,
  knee: 2,
  slope2Percent: 70,
  unrestrained: null,
  residualPickup: null,
  negativePickup: null,
  sequenceSlopePercent: 50,
  chargingA: null,
  secondHarmonicPercent: null,
  fifthHarmonicPercent: null,
  delayS: 0,
  sequenceDelayS: 0.1,
  operatingS: 0.025,
  relayA: 0.1,
  resistorOhm: 500,
  relayOhm: 0,
  magnetisingA: 0.01,
  varistorA: 0,
  ranges: {
    perUnit: { min: 0.05, max: 30, step: 0.01 },
    slopePercent: { min: 5, max: 120, step: 1 },
    delayS: { min: 0, max: 10, step: 0.01 },
  },
  ...usual[code],
});

export const differential: Family<DifferentialFunction> = {
  id: 'differential',
  title: 'Differential',
  hosts: ['relay'],
  variants: differentialCodes.map((value) => ({ value, label: `${value} ${names[value].toLowerCase()}` })),
  fresh: (id, variant, input) =>
    freshDifferential(id, differentialCodes.find((code) => code === variant) ?? '87L', input),
  code: ({ code }) => code,
  name: ({ code }) => names[code],
  measuresVoltage: ({ chargingA }) => chargingA !== null,
  looksAtAll: () => true,
  hears: ({ partners }) => partners,
  zones: ({ code, buses }) => (code === '87B' ? buses : []),
  settings: settingsOf,
  withSetting: (fn, field, value) => {
    const [part, index, inner] = field.split('.');
    if (part !== 'sides' || index === undefined) return { ...fn, [field]: value };
    return { ...fn, sides: fn.sides.map((side, k) => (k === Number(index) ? { ...side, [inner]: value } : side)) };
  },
  choices: choicesOf,
  withChoice,
  respond,
  advance(fn, rating, before, seen, seconds) {
    const timeS = Math.min(Infinity, ...timers(fn, rating, seen).map((each) => each.timeS));
    return timeS < Infinity ? travelled(before, timeS, seconds) : before.tripped ? before : atRest;
  },
  timers,
  sheet: (fn, { primaryA, secondaryA }) => {
    const base = fn.sides.at(0)?.baseA ?? primaryA;
    const pickupA = fn.scheme === 'highImpedance' ? (fn.relayA * primaryA) / secondaryA : fn.pickup * base;
    return {
      code: fn.code,
      curve: fn.scheme,
      characteristic:
        fn.scheme === 'highImpedance'
          ? `high impedance, ${fn.resistorOhm} Ω`
          : `${fn.slope1Percent} % up to ${fn.knee} × base, then ${fn.slope2Percent} %`,
      pickupIn: pickupA / primaryA,
      primaryA: pickupA,
      secondaryA: (pickupA * secondaryA) / primaryA,
      timeMultiplier: null,
      delayS: fn.delayS,
    };
  },
};

/** What operates: elements of the plane, the unrestrained element, or the scheme of high impedance. */
function timers(fn: DifferentialFunction, rating: InputRating, seen: SeenCurrents): readonly Timer[] {
  return comparedIn(fn, seen).flatMap(({ bus, inputs, breakers }) =>
    operatingOf(fn, rating, seen, inputs).map((timer) =>
      bus === undefined ? timer : { ...timer, id: `${bus} ${timer.id}`, opens: breakers },
    ),
  );
}

function operatingOf(
  fn: DifferentialFunction,
  rating: InputRating,
  seen: SeenCurrents,
  only?: readonly string[],
): readonly Timer[] {
  const sides = sidesSeen(fn, seen, only);
  if (!sides || sides.length === 0) return [];
  const { delayS, operatingS } = fn;
  if (fn.scheme === 'highImpedance') {
    const turns = rating.primaryA / rating.secondaryA;
    const base = fn.sides.at(0)?.baseA ?? 1;
    const multiple = (sumA(fn, sides) * base) / highImpedanceA(fn, turns, sides.length);
    return multiple > 1 ? [{ id: 'sum', name: '', multiple, timeS: delayS + operatingS }] : [];
  }
  const points = pointsOf(fn, sides);
  const timer = (element: ElementPoint['element'], name: string, timeS: number): Timer[] => {
    const multiple = Math.max(
      0,
      ...points.filter((each) => each.element === element).map((each) => each.operating / each.threshold),
    );
    return multiple > 1 ? [{ id: element, name, multiple, timeS }] : [];
  };
  const largest = Math.max(0, ...points.filter(({ element }) => element === 'phase').map((each) => each.operating));
  return [
    ...(fn.unrestrained !== null && largest > fn.unrestrained
      ? [{ id: 'unrestrained', name: 'unrestrained', multiple: largest / fn.unrestrained, timeS: operatingS }]
      : []),
    ...timer('phase', '', delayS + operatingS),
    ...timer('residual', '3I0', Math.max(delayS, fn.sequenceDelayS) + operatingS),
    ...timer('negative', 'I2', Math.max(delayS, fn.sequenceDelayS) + operatingS),
  ];
}

function respond(fn: DifferentialFunction, rating: InputRating, seen: SeenCurrents, trace: Trace): Response {
  const all = timers(fn, rating, seen);
  const timeS = Math.min(Infinity, ...all.map((each) => each.timeS));
  const sides = nearestSides(fn, seen);
  let multiple = Math.max(0, ...all.map((each) => each.multiple));
  if (sides) multiple = Math.max(multiple, working(fn, rating, sides, trace));
  return { pickedUp: all.length > 0, multiple, band: timeS < Infinity ? exactly(timeS) : never };
}

/** The element that is nearest to its trip; returns how near. */
function working(
  fn: DifferentialFunction,
  rating: InputRating,
  sides: Parameters<typeof pointsOf>[1],
  trace: Trace,
): number {
  if (fn.scheme === 'highImpedance') {
    const turns = rating.primaryA / rating.secondaryA;
    const sumOfA = sumA(fn, sides) * (fn.sides.at(0)?.baseA ?? 1);
    const sum = figure('ΣI', sumOfA, 'A');
    const n = figure('n', turns);
    const [count, magnetising] = [figure('z', sides.length), figure('Im', fn.magnetisingA, 'A')];
    const least = trace.step(
      'Ip',
      formula`${n} · (${figure('Is', fn.relayA, 'A')} + ${count} · ${magnetising} + ${figure('Iv', fn.varistorA, 'A')})`,
      highImpedanceA(fn, turns, sides.length),
      'A',
      sources[fn.code],
    );
    return trace.step('M', formula`${sum} / ${least}`, sumOfA / least.value).value;
  }
  const point = pointsOf(fn, sides).reduce((p, q) => (q.operating / q.threshold > p.operating / p.threshold ? q : p));
  const { characteristic: c } = point;
  const source = sources[fn.code];
  const iop = figure(`Iop ${point.name}`, point.operating, '× base');
  const ires = figure(`Ires ${point.name}`, point.restraining, '× base');
  const [pickup, s1, s2, knee] = [
    figure('I>', c.pickup, '× base'),
    figure('s1', c.slope1),
    figure('s2', c.slope2),
    figure('Ik', c.knee, '× base'),
  ];
  const threshold =
    point.restraining <= c.knee
      ? trace.step('Ithr', formula`max(${pickup}, ${s1} · ${ires})`, point.threshold, '× base', source)
      : trace.step(
          'Ithr',
          formula`max(${pickup}, ${s1} · ${knee} + ${s2} · (${ires} - ${knee}))`,
          point.threshold,
          '× base',
          source,
        );
  return trace.step('M', formula`${iop} / ${threshold}`, point.operating / point.threshold).value;
}

function settingsOf(fn: DifferentialFunction): readonly Setting[] {
  const plain = (
    field: string,
    title: string,
    unit: string,
    value: number,
    range: Setting['range'],
    more = false,
  ): Setting => ({ field, title, unit, value, range, role: 'other', ...(more && { more }) });
  const { perUnit, slopePercent, delayS } = fn.ranges;
  const base = fn.sides.map((side, k) =>
    plain(
      `sides.${k}.baseA`,
      fn.sides.length > 1 ? `Base current ${k + 1}` : 'Base current',
      'A',
      side.baseA,
      null,
      k > 0 && fn.code !== '87T',
    ),
  );
  const times = [
    plain('delayS', 'Delay', 's', fn.delayS, delayS),
    plain('operatingS', 'Own time', 's', fn.operatingS, null, true),
  ];
  if (fn.scheme === 'highImpedance') {
    const behind = (...of: Parameters<typeof plain>): Setting => ({ ...plain(...of), secondary: true });
    return [
      behind('relayA', 'Relay current', 'A', fn.relayA, { min: 0.005, max: 20, step: 0.005 }),
      behind('resistorOhm', 'Stabilising resistor', 'Ω', fn.resistorOhm, { min: 0, max: 5000, step: 1 }),
      behind('relayOhm', 'Relay', 'Ω', fn.relayOhm, null, true),
      behind('magnetisingA', 'Magnetising current', 'A', fn.magnetisingA, null, true),
      behind('varistorA', 'Varistor current', 'A', fn.varistorA, null, true),
      ...times,
    ];
  }
  const optional = (field: 'unrestrained' | 'residualPickup' | 'negativePickup', title: string) => {
    const value = fn[field];
    return value === null ? [] : [plain(field, title, '× base', value, perUnit)];
  };
  const usesSequence = fn.residualPickup !== null || fn.negativePickup !== null;
  return [
    plain('pickup', 'Pickup', '× base', fn.pickup, perUnit),
    plain('slope1Percent', 'First slope', '%', fn.slope1Percent, slopePercent),
    plain('knee', 'Knee', '× base', fn.knee, perUnit),
    plain('slope2Percent', 'Second slope', '%', fn.slope2Percent, slopePercent),
    ...optional('unrestrained', 'Unrestrained'),
    ...optional('residualPickup', 'Pickup of 3I0'),
    ...optional('negativePickup', 'Pickup of I2'),
    ...(usesSequence
      ? [
          plain('sequenceSlopePercent', 'Slope of 3I0 and I2', '%', fn.sequenceSlopePercent, slopePercent, true),
          plain('sequenceDelayS', 'Delay of 3I0 and I2', 's', fn.sequenceDelayS, delayS),
        ]
      : []),
    ...(fn.chargingA === null ? [] : [plain('chargingA', 'Charging current', 'A', fn.chargingA, null)]),
    ...(fn.secondHarmonicPercent === null
      ? []
      : [
          plain('secondHarmonicPercent', 'Inrush: second harmonic', '%', fn.secondHarmonicPercent, {
            min: 5,
            max: 50,
            step: 1,
          }),
        ]),
    ...(fn.fifthHarmonicPercent === null
      ? []
      : [
          plain('fifthHarmonicPercent', 'Overexcitation: fifth harmonic', '%', fn.fifthHarmonicPercent, {
            min: 10,
            max: 60,
            step: 1,
          }),
        ]),
    ...base,
    ...times,
  ];
}

/** Stages that may be put in use, with what each begins with. */
const stages = {
  unrestrained: { title: 'unrestrained element', begins: 8 },
  residualPickup: { title: '3I0 element', begins: 0.2 },
  negativePickup: { title: 'I2 element', begins: 0.2 },
  chargingA: { title: 'charging current', begins: 10 },
  secondHarmonicPercent: { title: 'inrush', begins: 15 },
  fifthHarmonicPercent: { title: 'overexcitation', begins: 30 },
} as const;

const offered: Readonly<Record<DifferentialCode, readonly (keyof typeof stages)[]>> = {
  '87L': ['residualPickup', 'negativePickup', 'unrestrained', 'chargingA', 'secondHarmonicPercent'],
  '87T': ['unrestrained', 'negativePickup', 'secondHarmonicPercent', 'fifthHarmonicPercent'],
  '87N': [],
  '87B': ['unrestrained'],
  '87G': ['unrestrained', 'negativePickup'],
  '87M': ['unrestrained', 'negativePickup'],
};

function choicesOf(fn: DifferentialFunction): readonly Choice[] {
  return [
    {
      field: 'scheme',
      title: 'scheme',
      value: fn.scheme,
      options: [
        { value: 'biased', label: 'restrained' },
        ...(fn.code === '87L' || fn.code === '87T' ? [] : [{ value: 'highImpedance', label: 'high impedance' }]),
      ],
      more: fn.scheme === 'biased',
    },
    ...(fn.scheme === 'highImpedance'
      ? []
      : [
          {
            field: 'restraint',
            title: 'restrained by',
            value: fn.restraint,
            options: [
              { value: 'mean', label: 'the mean of the currents' },
              { value: 'sum', label: 'the sum of the currents' },
              { value: 'max', label: 'the largest current' },
            ],
          },
          ...offered[fn.code].map((field): Choice => ({
            field,
            title: stages[field].title,
            value: fn[field] === null ? 'none' : 'on',
            options: [
              { value: 'none', label: field === 'chargingA' ? 'not taken out' : 'not in use' },
              { value: 'on', label: field === 'chargingA' ? 'taken out' : 'in use' },
            ],
            more: fn[field] === null,
          })),
        ]),
    ...fn.sides.flatMap((side, k): Choice[] =>
      fn.code === '87T'
        ? [
            {
              field: `sides.${k}.clock`,
              title: `side ${k + 1} turned by`,
              value: String(side.clock),
              options: Array.from({ length: 23 }, (_, n) => n - 11).map((clock) => ({
                value: String(clock),
                label: `${clock * 30}°`,
              })),
              more: true,
            },
            {
              field: `sides.${k}.zero`,
              title: `side ${k + 1}, zero sequence`,
              value: side.zero,
              options: [
                { value: 'removed', label: 'taken out' },
                { value: 'kept', label: 'kept' },
              ],
              more: true,
            },
          ]
        : [],
    ),
  ];
}

function withChoice(fn: DifferentialFunction, field: string, value: string): DifferentialFunction {
  const [part, index, inner] = field.split('.');
  if (part === 'sides' && index !== undefined)
    return {
      ...fn,
      sides: fn.sides.map((side, k) =>
        k === Number(index) ? { ...side, [inner]: inner === 'clock' ? Number(value) : value } : side,
      ),
    };
  if (field in stages) {
    const stage = field as keyof typeof stages;
    return { ...fn, [stage]: value === 'none' ? null : (fn[stage] ?? stages[stage].begins) };
  }
  return { ...fn, [field]: value };
}
