/**
 * Miniature circuit breakers of types B, C, D. IEC 60898-1, Table 7, as remembered: carries 1.13·In and trips at 1.45·In within an hour (beyond 63 A two hours);
 * at 2.55·In it trips within 1 s to 60 s (beyond 32 A: 120 s); instantaneously certainly not below the first multiple of its type, certainly from the second on.
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
import { timeOn, type CurvePair } from '../pointCurve';
import { travelled } from '../travel';
import { miniatureTypes, type MiniatureFunction } from './schema';

/** Multiples of the rated current: instantaneously certainly not below, certainly from there on. */
export const instantaneousBand: Readonly<Record<MiniatureFunction['type'], readonly [holds: number, trips: number]>> = {
  B: [3, 5],
  C: [5, 10],
  D: [10, 20],
};

/** The same on direct current: IEC 60898-2 for B and C, as remembered; D 1.4 times that on alternating current. */
export const directBand: typeof instantaneousBand = { B: [4, 7], C: [7, 15], D: [14, 28] };

const bandOf = ({ type, system }: Pick<MiniatureFunction, 'type' | 'system'>) =>
  (system === 'dc' ? directBand : instantaneousBand)[type];

/** Rated currents as they are made. */
export const miniatureSizes: readonly number[] = [6, 8, 10, 13, 16, 20, 25, 32, 40, 50, 63, 80, 100, 125];

/** By then an instantaneous trip has certainly opened (IEC 60898-1, Table 7: within 0.1 s). */
const instantaneousS = 0.1;
const source = 'IEC 60898-1, Table 7 (as remembered)';
const directSource = 'IEC 60898-2 (as remembered)';

export const miniature: Family<MiniatureFunction> = {
  id: 'miniature',
  title: 'Miniature circuit breaker',
  hosts: ['breaker'],
  variants: miniatureTypes.map((value) => ({ value, label: `Miniature circuit breaker, type ${value}` })),
  fresh: (id, variant, input) => ({
    family: 'miniature',
    id,
    enabled: true,
    input,
    circuits: [],
    type: miniatureTypes.find((each) => each === variant) ?? 'C',
    system: 'ac',
    ratedA: 16,
    limitA2s: null,
  }),
  code: ({ type, ratedA, system }) => `${type}${ratedA}${system === 'dc' ? ' d.c.' : ''}`,
  name: ({ type, system }) =>
    `Miniature circuit breaker, type ${type} (IEC 60898-${system === 'dc' ? '2, d.c.' : '1'})`,
  settings: (fn) => [
    {
      field: 'ratedA',
      title: 'Rated current',
      unit: 'A',
      value: fn.ratedA,
      range: null,
      sizes: miniatureSizes,
      role: 'pickup',
    },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'type',
      title: 'type',
      value: fn.type,
      options: miniatureTypes.map((value) => ({ value, label: `type ${value}` })),
    },
    {
      field: 'system',
      title: 'current',
      value: fn.system,
      options: [
        { value: 'ac', label: 'a.c.' },
        { value: 'dc', label: 'd.c.' },
      ],
    },
  ],
  withChoice: (fn, field, value) => ({ ...fn, [field]: value }),
  dragged: (fn, _, __, { currentA }) => {
    const wanted = currentA / bandOf(fn)[0];
    const nearest = (p: number, q: number) => (Math.abs(Math.log(q / wanted)) < Math.abs(Math.log(p / wanted)) ? q : p);
    return { ...fn, ratedA: miniatureSizes.reduce(nearest) };
  },
  opensAtOnce: true,
  guards: ({ ratedA, system }) => (system === 'ac' ? { referenceA: ratedA, tripsA: 1.45 * ratedA } : null),
  timeCurrents: (fn) => [timeCurrentOf(fn)],
  respond,
  advance: (fn, _, before: Progress, { phaseA }: SeenCurrents, seconds: number) =>
    travelled(before, timeCurrentOf(fn).at(phaseA).latestS, seconds),
  sheet: (fn, { primaryA }) => ({
    code: 'breaker',
    curve: fn.type,
    characteristic: `type ${fn.type} (IEC 60898-1)`,
    pickupIn: fn.ratedA / primaryA,
    primaryA: fn.ratedA,
    secondaryA: fn.ratedA,
    timeMultiplier: null,
    delayS: null,
  }),
};

function timeCurrentOf(fn: MiniatureFunction): TimeCurrent {
  const { ratedA, system } = fn;
  const [holds, trips] = bandOf(fn);
  const conventionalS = ratedA <= 63 ? 3600 : 7200;
  // Beyond the last current that the standard names the bimetal heats adiabatically: constant I²t, not the slope before.
  const onward = (timeS: number): CurvePair[] => [
    [2.55 * ratedA, timeS],
    [255 * ratedA, timeS / 1e4],
  ];
  const earliest: CurvePair[] = [[1.13 * ratedA, conventionalS], ...onward(1)];
  const latest: CurvePair[] = [[1.45 * ratedA, conventionalS], ...onward(ratedA <= 32 ? 60 : 120)];
  return {
    fn,
    code: miniature.code(fn),
    input: fn.input ?? ownInput,
    quantity: 'phase',
    pickupA: 1.13 * ratedA,
    assuredA: 1.45 * ratedA,
    cornersA: [1.13, 1.45, 2.55, holds, trips].map((multiple) => multiple * ratedA),
    at: (currentA): Band => {
      if (currentA < 1.13 * ratedA) return never;
      const earliestS = currentA > holds * ratedA ? 0 : timeOn(earliest, currentA);
      const latestS = currentA >= trips * ratedA ? instantaneousS : Math.max(timeOn(latest, currentA), instantaneousS);
      return { earliestS, latestS };
    },
    accuracy: null,
    clears: true,
    ...(fn.limitA2s !== null && { limitA2s: fn.limitA2s }),
    remembered: system === 'dc' ? directSource : source,
  };
}

function respond(fn: MiniatureFunction, _: InputRating, { phaseA }: SeenCurrents, trace: Trace): Response {
  const band = timeCurrentOf(fn).at(phaseA);
  const multiple = trace.step(
    'M',
    formula`${figure('I', phaseA, 'A')} / ${figure('In', fn.ratedA, 'A')}`,
    phaseA / fn.ratedA,
  );
  if (band === never) return { pickedUp: false, multiple: multiple.value, band };
  if (band.latestS < Infinity)
    trace.step(
      'tclear',
      formula`${figure('t', band.latestS, 's')}`,
      band.latestS,
      's',
      fn.system === 'dc' ? directSource : source,
    );
  return { pickedUp: true, multiple: multiple.value, band };
}
