/**
 * The currents of a fault over time, phase by phase: a.c. components that fall as the machines behind them do, d.c. components that take the current on from
 * nought. Machines with time constants by these (x″d, x′d, xd with what lies between), others by µ, q and λ of IEC 60909-0; networks and converters do not fall.
 */
import { angle, magnitude, scale, type Complex } from '../../linear/complex';
import type { Element } from '../../model/element';
import { settingsOf } from '../../model/network';
import { mu, q } from '../iec60909/breaking';
import { loadingOf, sourceShares, type SourceShare } from '../iec60909/machines';
import { lambda } from '../iec60909/steady';
import type { Fault } from '../iec60909/study';
import { highest, type Extreme } from './extreme';
import { acAt } from './machine';

export interface CourseOptions {
  /** Phase of the voltage of L1 at the start, in degrees: nought at its zero, where the offset of L1 is largest. */
  readonly closingDeg: number;
  readonly untilS: number;
  /** Instants to be told of, in seconds. */
  readonly partingS: number;
  readonly clearingS: number;
  readonly samples?: number;
}

export interface PhaseCourse {
  readonly phase: 'L1' | 'L2' | 'L3';
  /** Instantaneous, in kA. */
  readonly current: readonly number[];
  readonly dc: readonly number[];
  /** D.c. component plus and minus the amplitude of the a.c. component. */
  readonly upper: readonly number[];
  readonly lower: readonly number[];
  readonly peak: Extreme;
  /** At contact parting: rms of the a.c. component, d.c. component, total rms, d.c. in percent of the peak of the a.c. one. */
  readonly parting: {
    readonly acKa: number;
    readonly dcKa: number;
    readonly totalKa: number;
    readonly dcPercent: number;
  };
}

export interface Course {
  readonly frequencyHz: number;
  readonly timeS: readonly number[];
  readonly phases: readonly PhaseCourse[];
  /** Time constant of the d.c. component, in seconds. */
  readonly tauS: number;
  readonly partingS: number;
  readonly clearingS: number;
  /** κ·√2·Ik″, beside the peak that the course has. */
  readonly ipKa: number;
  /** What falls, and by what. */
  readonly sources: readonly {
    readonly name: string;
    readonly by: 'time constants' | 'µ, q and λ' | '30 ms, assumed' | 'does not fall';
  }[];
}

/** What is left of a share some seconds after the fault. */
type Fall = (t: number) => number;
const steady: Fall = () => 1;

export function courseOf(
  fault: Fault,
  { closingDeg, untilS, partingS, clearingS, samples = 3000 }: CourseOptions,
): Course {
  const { frequencyHz, network } = fault.study.assembly;
  const omega = 2 * Math.PI * frequencyHz;
  const tauS = fault.rOverX > 0 ? 1 / (omega * fault.rOverX) : Infinity;
  const shares = fault.kind === '3ph' ? sourceShares(fault) : [];
  const falls = shares.map((share) => ({ share, ...fallOf(share, network.elements.get(share.element)!) }));
  // What the machines lose, taken from the current of the fault.
  const lost = (t: number): Complex =>
    falls.reduce<Complex>(
      (sum, { share, fall }) => {
        const at = scale(share.current, share.levelRatio * (1 - fall(t)));
        return { re: sum.re + at.re, im: sum.im + at.im };
      },
      { re: 0, im: 0 },
    );
  const whole = fault.components.positive;
  const size = magnitude(whole);
  /** Share of the a.c. component that is left. */
  const left = (t: number): number => {
    if (falls.length === 0 || size === 0) return 1;
    const gone = lost(t);
    return magnitude({ re: whole.re - gone.re, im: whole.im - gone.im }) / size;
  };
  const closing = (closingDeg * Math.PI) / 180;
  const timeS = Array.from({ length: samples }, (_, k) => (untilS * k) / (samples - 1));
  const remaining = timeS.map(left);
  const { l1, l2, l3 } = fault.phases;
  const phases = (
    [
      ['L1', l1],
      ['L2', l2],
      ['L3', l3],
    ] as const
  ).map(([phase, phasor]): PhaseCourse => {
    const amplitude = (Math.SQRT2 * magnitude(phasor)) / 1000;
    // Phasors are referred to the voltage of L1: u = √2·U·sin(ωt + α).
    const start = closing + (amplitude === 0 ? 0 : angle(phasor));
    const offset = -amplitude * Math.sin(start);
    const dcAt = (t: number) => offset * Math.exp(-t / tauS);
    const currentAt = (t: number) => amplitude * left(t) * Math.sin(omega * t + start) + dcAt(t);
    const dc = timeS.map(dcAt);
    const [acKa, dcKa] = [(amplitude * left(partingS)) / Math.SQRT2, dcAt(partingS)];
    return {
      phase,
      current: timeS.map((t, k) => amplitude * remaining[k] * Math.sin(omega * t + start) + dc[k]),
      dc,
      upper: dc.map((value, k) => value + amplitude * remaining[k]),
      lower: dc.map((value, k) => value - amplitude * remaining[k]),
      peak: highest(currentAt, Math.min(untilS, 1.5 / frequencyHz)),
      parting: {
        acKa,
        dcKa,
        totalKa: Math.hypot(acKa, dcKa),
        dcPercent: acKa === 0 ? 0 : (100 * Math.abs(dcKa)) / (Math.SQRT2 * acKa),
      },
    };
  });
  return {
    frequencyHz: settingsOf(network).frequencyHz,
    timeS,
    phases,
    tauS,
    partingS,
    clearingS,
    ipKa: fault.ipA / 1000,
    sources: falls.map(({ share, by }) => ({ name: share.name, by })),
  };
}

function fallOf(
  share: SourceShare,
  element: Element,
): { readonly fall: Fall; readonly by: Course['sources'][number]['by'] } {
  const ratio = loadingOf(share);
  switch (element.kind) {
    case 'synchronousMachine':
    case 'powerStationUnit': {
      const machine = element.kind === 'powerStationUnit' ? element.generator : element;
      const { xd2Percent, xd1Percent, xdPercent, td2S, td1S } = machine;
      if (xd1Percent !== null && xdPercent !== null && td2S !== null && td1S !== null && ratio > 0)
        return {
          fall: byTimeConstants(
            { xd2: xd2Percent / 100, xd1: xd1Percent / 100, xd: xdPercent / 100, td2S, td1S },
            ratio,
          ),
          by: 'time constants',
        };
      return { fall: byTables((t) => mu(ratio, t), lambda(machine, ratio).max / ratio), by: 'µ, q and λ' };
    }
    case 'asynchronousMotor': {
      const perPair = element.ratedMw / element.polePairs;
      return { fall: byTables((t) => mu(ratio, t) * (ratio > 2 ? q(perPair, t) : 1), 0), by: 'µ, q and λ' };
    }
    case 'doublyFedMachine':
      return { fall: byTables((t) => mu(ratio, t), 0), by: 'µ, q and λ' };
    case 'staticDrive':
      // It feeds back only until its converter blocks, within the first periods (IEC 60909-0, 6.11).
      return { fall: (t) => Math.exp(-t / 0.03), by: '30 ms, assumed' };
    default:
      return { fall: steady, by: 'does not fall' };
  }
}

interface Reactances {
  readonly xd2: number;
  readonly xd1: number;
  readonly xd: number;
  readonly td2S: number;
  readonly td1S: number;
}

/** With a reactance between machine and fault the time constants lengthen: T″·(x″d + xe)/(x′d + xe)·x′d/x″d, T′ alike. */
function byTimeConstants({ xd2, xd1, xd, td2S, td1S }: Reactances, ratio: number): Fall {
  const outside = Math.max(1 / ratio - xd2, 0);
  const data = {
    xd2: xd2 + outside,
    xd1: xd1 + outside,
    xd: xd + outside,
    xq2: xd2 + outside,
    td2S: (td2S * (xd1 / xd2) * (xd2 + outside)) / (xd1 + outside),
    td1S: (td1S * (xd / xd1) * (xd1 + outside)) / (xd + outside),
    taS: 1,
  };
  const first = acAt(data, 0);
  return (t) => acAt(data, t) / first;
}

const tableTimes = [0.02, 0.05, 0.1, 0.25];

/** 1 at the start, the factors of the standard at their times, exponential in between; beyond 0.25 s towards what is left in the end. */
function byTables(at: (t: number) => number, end: number): Fall {
  const points = [{ t: 0, value: 1 }, ...tableTimes.map((t) => ({ t, value: Math.max(at(t), 1e-6) }))];
  const last = points[points.length - 1];
  const before = points[points.length - 2];
  // The slope of the last stretch goes on, towards the end value.
  const [from, to] = [Math.max(before.value - end, 1e-9), Math.max(last.value - end, 1e-9)];
  const rate = Math.max(Math.log(from / to) / (last.t - before.t), 0);
  return (t) => {
    if (t >= last.t) return end + (last.value - end) * Math.exp(-rate * (t - last.t));
    const k = points.findIndex((point) => point.t > t);
    const [p, r] = [points[k - 1], points[k]];
    return p.value * (r.value / p.value) ** ((t - p.t) / (r.t - p.t));
  };
}
