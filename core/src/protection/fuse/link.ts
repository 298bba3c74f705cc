/**
 * The curves of a fuse link: from when on it may melt, and when it has certainly cleared, over the prospective current. Made of the gates of its class, or of
 * the points that its data sheet gives. Below about 0.1 s heating is adiabatic: the line goes on at constant I²t.
 */
import type { CurvePair } from '../pointCurve';
import { amGates, backupRatedA, conventionalTimeS, ggConventional, ggGates, kLinks, tLinks } from './gates';
import type { FuseFunction } from './schema';

export interface LinkCurves {
  /** Not molten before. */
  readonly melting: readonly CurvePair[];
  /** Cleared by then. */
  readonly clearing: readonly CurvePair[];
  /** Least I²t that melts it where heating is adiabatic, A²s. */
  readonly meltingA2s: number;
  /** Most that it lets through there, arc included, A²s. */
  readonly throughA2s: number;
  /** Standard by which links of selective energies are selective over all currents. */
  readonly series?: string;
  /** Where the curves come from. */
  readonly source: string;
  /** Only remembered of the standard, or typical of what is made; empty where neither. */
  readonly mark: '' | 'remembered' | 'typical';
}

/** Time of the adiabatic figures. */
const adiabaticS = 0.01;
/** Arc energy over pre-arcing energy of current-limiting links at their rated voltage; typical. */
const arcShare = 0.9;
/** Least multiple of the rated current of a back-up link at 0.1 s. */
const leastAtTenth = 7;
/** Arcing time of expulsion links: they interrupt at a current zero, the first or the second. */
const expulsionArcS = 0.02;

/** Rated currents that links of a class are made with; the nearest one is taken where a link is walked by hand. */
export const linkSizes: Readonly<Record<FuseFunction['class'], readonly number[]>> = {
  gG: ggGates.map(([ratedA]) => ratedA),
  aM: ggGates.map(([ratedA]) => ratedA),
  backup: backupRatedA,
  expulsionK: kLinks.map(([ratedA]) => ratedA),
  expulsionT: tLinks.map(([ratedA]) => ratedA),
};

/** Null where there is no link of this rated current in its class, and no points of its own are given. */
export function linkCurves({
  class: of,
  linkA,
  points,
}: Pick<FuseFunction, 'class' | 'linkA' | 'points'>): LinkCurves | null {
  if (points) return ownCurves(points);
  switch (of) {
    case 'gG':
      return generalPurpose(linkA);
    case 'aM':
      return motorCircuit(linkA);
    case 'backup':
      return backup(linkA);
    default:
      return expulsion(of === 'expulsionK' ? kLinks : tLinks, linkA);
  }
}

function ownCurves({ melting, clearing }: NonNullable<FuseFunction['points']>): LinkCurves {
  const end = (list: readonly CurvePair[]) => list[list.length - 1];
  const [molten, cleared] = [end(melting), end(clearing)];
  return {
    melting,
    clearing,
    meltingA2s: molten[0] ** 2 * molten[1],
    throughA2s: cleared[0] ** 2 * cleared[1],
    source: 'points given',
    mark: '',
  };
}

const at = (a2s: number): CurvePair => [Math.sqrt(a2s / adiabaticS), adiabaticS];

/** Points on at constant I²t, a decade further, so that the last slope is that of adiabatic heating. */
const onward = (points: readonly CurvePair[]): CurvePair[] => {
  const [current, timeS] = points[points.length - 1];
  return [...points, [current * 10, timeS / 100]];
};

function generalPurpose(linkA: number): LinkCurves | null {
  const row = ggGates.find(([ratedA]) => ratedA === linkA);
  if (!row) return null;
  const [ratedA, min10S, max5S, min01S, max01S, minKa2s, maxKa2s, meltingA2s, throughA2s] = row;
  const conventionalS = conventionalTimeS(ratedA);
  const melting: CurvePair[] = [
    [ggConventional.carries * ratedA, conventionalS],
    [min10S, 10],
    [min01S, 0.1],
    at(minKa2s * 1e3),
  ];
  const clearing: CurvePair[] = [
    [ggConventional.melts * ratedA, conventionalS],
    [max5S, 5],
    [max01S, 0.1],
    at(maxKa2s * 1e3),
  ];
  return {
    melting: onward(melting),
    clearing: onward(clearing),
    meltingA2s,
    throughA2s,
    series: 'IEC 60269-2, gG',
    source: 'IEC 60269-1, Tables 2, 3 and 7; IEC 60269-2',
    mark: 'remembered',
  };
}

function motorCircuit(linkA: number): LinkCurves | null {
  if (!linkSizes.aM.includes(linkA)) return null;
  const scaled = (list: readonly (readonly [number, number])[]): CurvePair[] =>
    list.map(([multiple, timeS]) => [multiple * linkA, timeS]);
  const [melting, clearing] = [scaled(amGates.carries), scaled(amGates.melts)];
  const energy = (list: readonly CurvePair[]) => list[list.length - 1][0] ** 2 * list[list.length - 1][1];
  return {
    melting: onward(melting),
    clearing: onward(clearing),
    meltingA2s: energy(melting),
    throughA2s: energy(clearing) * (1 + arcShare),
    source: 'IEC 60269-1, Table 4',
    mark: 'remembered',
  };
}

/**
 * A back-up link for transformers, typical: at most 6 times its rated current at 10 s and at least 7·(In/100)^0.25 at 0.1 s, as IEC 60787 wants of such links; a
 * band of ±20 % in current around it, the tolerance of IEC 60282-1, both as remembered.
 */
function backup(linkA: number): LinkCurves {
  const scale = (linkA / 100) ** 0.25;
  const typical: CurvePair[] = [
    [3.2 * linkA, 100],
    [4.2 * linkA, 10],
    [5.6 * linkA, 1],
    // The fourth root makes small links quick: never so that more current would take longer.
    [Math.max(9.5 * scale, leastAtTenth) * linkA, 0.1],
    [Math.max(26 * scale, leastAtTenth * Math.sqrt(10)) * linkA, adiabaticS],
  ];
  const shifted = (factor: number) => typical.map(([current, timeS]): CurvePair => [current * factor, timeS]);
  const melting = shifted(0.8);
  const clearing = shifted(1.2);
  const energy = (list: readonly CurvePair[]) => list[list.length - 1][0] ** 2 * adiabaticS;
  return {
    melting: onward(melting),
    clearing: onward(clearing),
    meltingA2s: energy(melting),
    throughA2s: energy(clearing) * (1 + arcShare),
    source: 'typical of links to IEC 60282-1 that IEC 60787 recommends for transformers',
    mark: 'typical',
  };
}

function expulsion(rows: typeof kLinks, linkA: number): LinkCurves | null {
  const row = rows.find(([ratedA]) => ratedA === linkA);
  if (!row) return null;
  const [ratedA, longMin, longMax, min10S, max10S, min01S, max01S] = row;
  const longS = ratedA <= 100 ? 300 : 600;
  const melting: CurvePair[] = [
    [longMin, longS],
    [min10S, 10],
    [min01S, 0.1],
  ];
  const clearing: CurvePair[] = [
    [longMax, longS],
    [max10S, 10],
    [max01S, 0.1],
  ];
  // Beyond the last gate the link melts adiabatically, and the arc adds to it: no straight line on log–log paper.
  const [lastA, lastS] = clearing[clearing.length - 1];
  const beyond = [1.3, 1.7, 2.2, 3, 4, 6, 10, 30].map((times): CurvePair => [lastA * times, lastS / times ** 2]);
  return {
    melting: onward(melting),
    // The arc burns to the next current zero but one, however quickly the link melts.
    clearing: [...clearing, ...beyond].map(([current, timeS]): CurvePair => [current, timeS + expulsionArcS]),
    meltingA2s: min01S ** 2 * 0.1,
    throughA2s: Infinity,
    source: 'IEEE C37.42, melting currents',
    mark: 'remembered',
  };
}

/**
 * Peak that a current-limiting link lets through at a prospective current, in amperes: the current has risen along the sine from zero until the energy to melt
 * it is spent, i³ = 3·√2·I·ω·I²t. Never above the largest peak of the prospective current itself (`peakFactor`·√2·I).
 */
export function cutOffA(preArcingA2s: number, prospectiveA: number, frequencyHz: number, peakFactor = 1.8): number {
  const rise = Math.SQRT2 * prospectiveA * 2 * Math.PI * frequencyHz;
  return Math.min(Math.cbrt(3 * preArcingA2s * rise), peakFactor * Math.SQRT2 * prospectiveA);
}
