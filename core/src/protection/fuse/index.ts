/** Fuse links: they melt by the current through themselves, and clear it. */
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
import { timeOn } from '../pointCurve';
import { travelled } from '../travel';
import { linkCurves, linkSizes } from './link';
import { fuseClasses, type FuseFunction } from './schema';

const classNames = {
  gG: 'gG, general purpose (IEC 60269-1)',
  aM: 'aM, motor circuits (IEC 60269-1)',
  backup: 'Back-up (IEC 60282-1)',
  expulsionK: 'Expulsion, type K',
  expulsionT: 'Expulsion, type T',
} as const satisfies Record<FuseFunction['class'], string>;

export const fuseClassNames: Readonly<Record<FuseFunction['class'], string>> = classNames;

const shortNames = {
  gG: 'gG',
  aM: 'aM',
  backup: 'back-up',
  expulsionK: 'K',
  expulsionT: 'T',
} as const satisfies Record<FuseFunction['class'], string>;

/** The link of its class that is nearest to a rated current, on a logarithmic scale. */
export const nearestLink = (of: FuseFunction['class'], wantedA: number): number =>
  linkSizes[of].reduce((p, q) => (Math.abs(Math.log(q / wantedA)) < Math.abs(Math.log(p / wantedA)) ? q : p));

export const fuse: Family<FuseFunction> = {
  id: 'fuse',
  title: 'Fuse link',
  hosts: ['fuse'],
  variants: fuseClasses.map((value) => ({ value, label: classNames[value] })),
  fresh: (id, variant, input) => ({
    family: 'fuse',
    id,
    enabled: true,
    input,
    circuits: [],
    class: fuseClasses.find((each) => each === variant) ?? 'gG',
    linkA: 100,
    preloadPercent: 0,
    points: null,
  }),
  code: ({ class: of, linkA }) => `${linkA} A ${shortNames[of]}`,
  name: (fn) => classNames[fn.class],
  settings: (fn) => [
    {
      field: 'linkA',
      title: 'Rated current',
      unit: 'A',
      value: fn.linkA,
      range: null,
      sizes: fn.points ? undefined : linkSizes[fn.class],
      role: 'pickup',
    },
    { field: 'preloadPercent', title: 'Preload', unit: '%', value: fn.preloadPercent, range: null, role: 'other' },
  ],
  withSetting: (fn, field, value) => ({ ...fn, [field]: value }),
  choices: (fn) => [
    {
      field: 'class',
      title: 'class',
      value: fn.class,
      options: fuseClasses.map((value) => ({ value, label: classNames[value] })),
    },
  ],
  withChoice: (fn, field, value) => {
    const changed = { ...fn, [field]: value } as FuseFunction;
    // A class without this size takes its nearest one.
    return { ...changed, linkA: changed.points ? changed.linkA : nearestLink(changed.class, changed.linkA) };
  },
  /** Walks through the sizes of its class: the one whose curve comes nearest to where it is held. */
  dragged: (fn, _, __, { currentA, timeS }) => {
    if (fn.points) return fn;
    const distance = (linkA: number) => {
      const at = linkCurves({ ...fn, linkA })!.melting;
      const time = timeOn(at, currentA);
      return Math.abs(Math.log((time === Infinity ? at[0][1] * (at[0][0] / currentA) ** 8 : time) / timeS));
    };
    const linkA = linkSizes[fn.class].reduce((p, q) => (distance(q) < distance(p) ? q : p));
    return { ...fn, linkA };
  },
  // IEC 60269-1, table 2: conventional fusing current; an aM link melts only far above its rated current.
  guards: ({ class: of, linkA }) =>
    of === 'gG' ? { referenceA: linkA, tripsA: (linkA < 16 ? 1.9 : 1.6) * linkA } : null,
  timeCurrents: (fn) => [timeCurrentOf(fn) ?? []].flat(),
  respond,
  advance,
  sheet: (fn, { primaryA }) => ({
    code: 'fuse',
    curve: fn.class,
    characteristic: classNames[fn.class],
    pickupIn: fn.linkA / primaryA,
    primaryA: fn.linkA,
    secondaryA: fn.linkA,
    timeMultiplier: null,
    delayS: null,
  }),
};

/** Undefined where there is no such link. */
function timeCurrentOf(fn: FuseFunction): TimeCurrent | undefined {
  const curves = linkCurves(fn);
  if (!curves) return undefined;
  const { melting, clearing, meltingA2s, throughA2s, series, mark, source } = curves;
  const left = 1 - fn.preloadPercent / 100;
  return {
    fn,
    code: fuse.code(fn),
    input: fn.input ?? ownInput,
    quantity: 'phase',
    pickupA: melting[0][0],
    assuredA: clearing[0][0],
    cornersA: [...melting, ...clearing].map(([currentA]) => currentA),
    at: (currentA): Band => {
      const earliestS = timeOn(melting, currentA) * left;
      return earliestS === Infinity ? never : { earliestS, latestS: timeOn(clearing, currentA) };
    },
    accuracy: null,
    clears: true,
    energy: { meltingA2s, throughA2s: () => throughA2s, series },
    ...(mark && { remembered: mark === 'typical' ? source : `${source} (as remembered)` }),
  };
}

function respond(fn: FuseFunction, _: InputRating, { phaseA }: SeenCurrents, trace: Trace): Response {
  const curve = timeCurrentOf(fn);
  if (!curve) return { pickedUp: false, multiple: 0, band: never };
  const band = curve.at(phaseA);
  const multiple = phaseA / curve.pickupA;
  const source = curve.remembered ?? linkCurves(fn)!.source;
  const current = figure('I', phaseA, 'A');
  trace.step('M', formula`${current} / ${figure('Imelt', curve.pickupA, 'A')}`, multiple, '', source);
  if (band === never) return { pickedUp: false, multiple, band };
  trace.step(
    'tmelt',
    formula`${figure('t', band.earliestS, 's')}`,
    band.earliestS,
    's',
    source,
    `melting curve at ${fuse.code(fn)}`,
  );
  if (band.latestS < Infinity)
    trace.step('tclear', formula`${figure('t', band.latestS, 's')}`, band.latestS, 's', source, 'clearing curve');
  return { pickedUp: true, multiple, band };
}

/** By the share of the time to clear; a link does not forget what has molten in it. */
function advance(
  fn: FuseFunction,
  _: InputRating,
  before: Progress,
  { phaseA }: SeenCurrents,
  seconds: number,
): Progress {
  return travelled(before, timeCurrentOf(fn)?.at(phaseA).latestS ?? Infinity, seconds);
}
