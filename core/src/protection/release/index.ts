/** Releases of low-voltage breakers: overload, short-time, instantaneous and earth-fault parts, each with its band. */
import { quantityOf as figure, formula, type Trace } from '../../working/trace';
import {
  type Family,
  type InputRating,
  type Progress,
  type Response,
  type SeenCurrents,
  type Setting,
  type TimeCurrent,
} from '../family';
import { travelled } from '../travel';
import { releaseCurves } from './curves';
import { releaseParts, type ReleaseFunction, type ReleasePart } from './schema';

const partNames = {
  longTime: 'overload',
  shortTime: 'short-time',
  instantaneous: 'instantaneous',
  earthFault: 'earth fault',
} as const satisfies Record<ReleaseFunction['parts'][number], string>;

/** Combinations that releases are made with. */
const combinations: readonly ReleaseFunction['parts'][] = [
  ['longTime', 'instantaneous'],
  ['longTime', 'shortTime', 'instantaneous'],
  ['longTime', 'shortTime', 'instantaneous', 'earthFault'],
  ['longTime', 'shortTime'],
  ['instantaneous'],
];

/** What electronic releases can commonly be set to. */
const typical = {
  ir: { min: 0.4, max: 1, step: 0.01 },
  trS: { min: 0.5, max: 30, step: 0.5 },
  isd: { min: 1.5, max: 10, step: 0.5 },
  tsdS: { min: 0.05, max: 0.5, step: 0.05 },
  ii: { min: 1.5, max: 15, step: 0.5 },
  ig: { min: 0.2, max: 1, step: 0.05 },
  tgS: { min: 0.1, max: 0.8, step: 0.05 },
} as const;

export const release: Family<ReleaseFunction> = {
  id: 'release',
  title: 'Low-voltage release',
  hosts: ['breaker'],
  variants: [{ value: 'release', label: 'Release of a low-voltage breaker' }],
  fresh: (id, _, input) => ({
    family: 'release',
    id,
    enabled: true,
    input,
    circuits: [],
    ratedA: 400,
    parts: ['longTime', 'instantaneous'],
    ir: 1,
    trS: 8,
    isd: 6,
    tsdS: 0.1,
    shortTime: 'definite',
    ii: 10,
    ig: 0.4,
    tgS: 0.2,
    trTolerancePercent: 20,
    isdTolerancePercent: 10,
    iiTolerancePercent: 20,
    clearingS: 0.03,
    limitA2s: null,
  }),
  code: () => 'release',
  name: () => 'Release of a low-voltage breaker (IEC 60947-2)',
  settings: (fn) => {
    const uses = (part: ReleasePart, ...list: Setting[]) =>
      fn.parts.includes(part) ? list.map((each) => ({ ...each, part })) : [];
    const pickup = (field: keyof typeof typical | 'ratedA', title: string, unit: string, value: number): Setting => ({
      field,
      title,
      unit,
      value,
      range: null,
      ...(field !== 'ratedA' && { typical: typical[field] }),
      role: 'pickup',
    });
    const time = (field: keyof typeof typical, title: string, value: number): Setting => ({
      field,
      title,
      unit: 's',
      value,
      range: null,
      typical: typical[field],
      role: 'time',
    });
    return [
      pickup('ratedA', 'In', 'A', fn.ratedA),
      ...uses('longTime', pickup('ir', 'Ir', '× In', fn.ir), time('trS', 'tr at 6 × Ir', fn.trS)),
      ...uses('shortTime', pickup('isd', 'Isd', '× Ir', fn.isd), time('tsdS', 'tsd', fn.tsdS)),
      ...uses('instantaneous', pickup('ii', 'Ii', '× In', fn.ii)),
      ...uses('earthFault', pickup('ig', 'Ig', '× In', fn.ig), time('tgS', 'tg', fn.tgS)),
    ];
  },
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'parts',
      title: 'parts in use',
      value: fn.parts.join('+'),
      options: combinations.map((parts) => ({
        value: parts.join('+'),
        label: parts.map((part) => partNames[part]).join(', '),
      })),
    },
    ...(fn.parts.includes('shortTime')
      ? [
          {
            field: 'shortTime',
            title: 'short-time curve',
            value: fn.shortTime,
            options: [
              { value: 'definite', label: 'definite time' },
              { value: 'i2t', label: 'I²t' },
            ],
          },
        ]
      : []),
  ],
  withChoice: (fn, field, value) =>
    field === 'parts' ? { ...fn, parts: value.split('+') as ReleaseFunction['parts'] } : { ...fn, [field]: value },
  dragged: (fn, _, grip, { currentA, timeS }, part = fn.parts[0]) => {
    const fine = (value: number, least: number, most: number) =>
      Number(Math.min(Math.max(value, least), most).toPrecision(3));
    const ir = fn.ir * fn.ratedA;
    const moves: Readonly<Record<ReleasePart, Readonly<Record<'pickup' | 'time', () => Partial<ReleaseFunction>>>>> = {
      longTime: {
        pickup: () => ({ ir: fine(currentA / fn.ratedA, 0.2, 1) }),
        time: () => ({ trS: fine(timeS * (currentA / (6 * ir)) ** 2, 0.5, 60) }),
      },
      shortTime: {
        pickup: () => ({ isd: fine(currentA / ir, 1, 20) }),
        time: () => ({ tsdS: fine(timeS, 0, 1) }),
      },
      instantaneous: { pickup: () => ({ ii: fine(currentA / fn.ratedA, 1, 40) }), time: () => ({}) },
      earthFault: {
        pickup: () => ({ ig: fine(currentA / fn.ratedA, 0.05, 2) }),
        time: () => ({ tgS: fine(timeS, 0, 1) }),
      },
    };
    return { ...fn, ...moves[releaseParts.find((each) => each === part) ?? 'longTime'][grip]() };
  },
  guards: ({ parts, ir, ratedA }) =>
    parts.includes('longTime') ? { referenceA: ir * ratedA, tripsA: 1.3 * ir * ratedA } : null,
  timeCurrents: releaseCurves,
  respond,
  advance,
  timers: (fn, _, seen) =>
    releaseCurves(fn).flatMap((part) => {
      const currentA = measured(part, seen);
      const { latestS: timeS } = part.at(currentA);
      const name = partNames[part.part as ReleasePart];
      return timeS < Infinity ? [{ id: part.part!, name, multiple: currentA / part.pickupA, timeS }] : [];
    }),
  sheet: (fn, { primaryA }) => ({
    code: 'release',
    curve: fn.parts.join('+'),
    characteristic: fn.parts.map((part) => partNames[part]).join(', '),
    pickupIn: (fn.ir * fn.ratedA) / primaryA,
    primaryA: fn.ir * fn.ratedA,
    secondaryA: fn.ir * fn.ratedA,
    timeMultiplier: null,
    delayS: fn.parts.includes('longTime') ? fn.trS : null,
  }),
};

const measured = ({ quantity }: TimeCurrent, seen: SeenCurrents) => seen[`${quantity}A`];

/** The part that releases first. */
function quickest(fn: ReleaseFunction, seen: SeenCurrents): { part: TimeCurrent; latestS: number } | null {
  let best: { part: TimeCurrent; latestS: number } | null = null;
  for (const part of releaseCurves(fn)) {
    const { latestS } = part.at(measured(part, seen));
    if (latestS < (best?.latestS ?? Infinity)) best = { part, latestS };
  }
  return best;
}

function respond(fn: ReleaseFunction, _: InputRating, seen: SeenCurrents, trace: Trace): Response {
  const curves = releaseCurves(fn);
  const first = quickest(fn, seen);
  const multiples = curves.map((part) => measured(part, seen) / part.pickupA);
  const multiple = Math.max(0, ...multiples);
  if (!first) {
    const earliestS = Math.min(Infinity, ...curves.map((part) => part.at(measured(part, seen)).earliestS));
    return { pickedUp: earliestS < Infinity, multiple, band: { earliestS, latestS: Infinity } };
  }
  const { part } = first;
  const ir = trace.step(
    'Ir',
    formula`${figure('ir', fn.ir)} · ${figure('In', fn.ratedA, 'A')}`,
    fn.ir * fn.ratedA,
    'A',
  );
  const current = figure('I', measured(part, seen), 'A');
  const cleared = figure('ta', fn.clearingS, 's');
  if (part.part === 'longTime') {
    const off = figure('', 1 + fn.trTolerancePercent / 100);
    trace.step(
      'tclear',
      formula`${figure('tr', fn.trS, 's')} · (6 · ${ir} / ${current})^2 · ${off} + ${cleared}`,
      first.latestS,
      's',
      'IEC 60947-2',
    );
  } else
    trace.step(
      'tclear',
      formula`${figure('t', first.latestS - fn.clearingS, 's')} + ${cleared}`,
      first.latestS,
      's',
      'IEC 60947-2',
      partNames[part.part as ReleasePart],
    );
  const earliestS = Math.min(...curves.map((each) => each.at(measured(each, seen)).earliestS));
  return { pickedUp: true, multiple, band: { earliestS, latestS: first.latestS } };
}

/** The overload part keeps what it has heated; here all parts do, for the time of a trial. */
function advance(fn: ReleaseFunction, _: InputRating, before: Progress, seen: SeenCurrents, seconds: number): Progress {
  return travelled(before, quickest(fn, seen)?.latestS ?? Infinity, seconds);
}
