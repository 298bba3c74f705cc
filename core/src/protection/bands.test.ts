/** What holds for the bands of all families: ordered, falling with current, the same for a steady current whatever the steps; and the gates of the standards. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { expectFollowed, lastResult } from '../test/followed';
import { runs } from '../test/runs';
import { SilentTrace, Trace } from '../working/trace';
import { curvePoints, edgeTime, type Curves } from './curve';
import type { Device } from './device';
import { atRest, earliestOperation, latestClearing, type Family, type InputRating, type SeenCurrents } from './family';
import { ggGates } from './fuse/gates';
import { nearestLink } from './fuse';
import { cutOffA, linkCurves, linkSizes } from './fuse/link';
import { fuseClasses, type FuseFunction } from './fuse/schema';
import { pointsProblem } from '../model/curvePoints';
import { timeOn, type CurvePair } from './pointCurve';
import { familyNamed } from './registry';
import type { DeviceFunction } from './schemas';

const id = elementId('f');
const rating: InputRating = { primaryA: 200, secondaryA: 1 };
const seen = (phaseA: number, residualA = 0): SeenCurrents => ({ phaseA, residualA, negativeA: 0 });

interface Made {
  readonly name: string;
  readonly family: Family;
  readonly fn: DeviceFunction;
}
const make = (familyId: DeviceFunction['family'], variant: string, over: object = {}): Made => {
  const family = familyNamed(familyId) as unknown as Family;
  const fn = { ...family.fresh(id, variant, null), ...over } as DeviceFunction;
  return { name: `${family.code(fn)} ${JSON.stringify(over)}`, family, fn };
};

const all: readonly Made[] = [
  ...ggGates.map(([linkA]) => make('fuse', 'gG', { linkA })),
  ...linkSizes.aM.map((linkA) => make('fuse', 'aM', { linkA })),
  ...linkSizes.expulsionK.map((linkA) => make('fuse', 'expulsionK', { linkA })),
  ...linkSizes.expulsionT.map((linkA) => make('fuse', 'expulsionT', { linkA })),
  ...linkSizes.backup.map((linkA) => make('fuse', 'backup', { linkA })),
  make('release', 'release'),
  make('release', 'release', { parts: ['longTime', 'shortTime', 'instantaneous'], ii: 12 }),
  make('release', 'release', { parts: ['longTime', 'shortTime'], shortTime: 'i2t', isd: 3, tsdS: 0.4 }),
  make('miniature', 'B'),
  make('miniature', 'D', { ratedA: 125 }),
  ...['5', '10A', '10', '20', '30'].map((tripClass) => make('overload', '49', { tripClass, settingA: 87 })),
  make('thermal', '49', { preloadPercent: 80 }),
  make('overcurrent', '51LR', {
    characteristic: 'points',
    points: [
      [1.2, 60],
      [3, 8],
      [10, 0.9],
    ],
  }),
];

/** Of all parts together. */
const bandOf = ({ family, fn }: Made, currentA: number) => {
  const bands = family.timeCurrents!(fn, rating)
    .filter(({ quantity }) => quantity === 'phase')
    .map(({ at }) => at(currentA));
  return {
    earliestS: Math.min(...bands.map(({ earliestS }) => earliestS)),
    latestS: Math.min(...bands.map(({ latestS }) => latestS)),
  };
};

describe.each(all.map((made) => [made.name, made] as const))('%s', (_, made) => {
  const pickup = Math.min(...made.family.timeCurrents!(made.fn, rating).map(({ pickupA }) => pickupA));
  const currents = fc.double({ min: 0, max: 4, noNaN: true }).map((power) => 0.5 * pickup * 10 ** power);
  it('has a band in order that falls with current', () => {
    fc.assert(
      fc.property(currents, currents, (p, q) => {
        const [low, high] = [bandOf(made, Math.min(p, q)), bandOf(made, Math.max(p, q))];
        expect(low.earliestS).toBeLessThanOrEqual(low.latestS);
        expect(high.earliestS).toBeLessThanOrEqual(low.earliestS * (1 + 1e-12));
        expect(high.latestS).toBeLessThanOrEqual(low.latestS * (1 + 1e-12));
        expect(bandOf(made, pickup * 0.99).earliestS).toBe(Infinity);
      }),
      { seed: 41, numRuns: runs(60) },
    );
  });
  it('does at a steady current what it says, and writes how', () => {
    fc.assert(
      fc.property(currents, fc.integer({ min: 1, max: 40 }), (currentA, steps) => {
        const { band, pickedUp } = made.family.respond!(made.fn, rating, seen(currentA), new SilentTrace());
        expect(band).toEqual(bandOf(made, currentA));
        expect(pickedUp).toBe(band.earliestS < Infinity);
        if (band.latestS === Infinity) return;
        const run = (totalS: number) => {
          let state = atRest;
          for (let k = 0; k < steps; k++)
            state = made.family.advance!(made.fn, rating, state, seen(currentA), totalS / steps);
          return state.tripped;
        };
        expect(run(band.latestS)).toBe(true);
        if (band.latestS > 0) expect(run(band.latestS * 0.99)).toBe(false);
      }),
      { seed: 42, numRuns: runs(40) },
    );
    for (const currentA of [pickup * 0.9, pickup * 2, pickup * 9, pickup * 90]) {
      const trace = new Trace();
      const { band } = made.family.respond!(made.fn, rating, seen(currentA), trace);
      expectFollowed(trace.sections, `${made.name} at ${currentA} A`);
      const told = lastResult(
        trace.sections,
        made.family.id === 'fuse' || made.family.id === 'release' || made.family.id === 'miniature' ? 'tclear' : 't',
      );
      expect(told).toBe(band.latestS < Infinity ? band.latestS : undefined);
    }
  });
});

describe('fuse links', () => {
  it('go through the gates of their class', () => {
    for (const [linkA, min10S, max5S, min01S, max01S] of ggGates) {
      const { melting, clearing } = linkCurves({ class: 'gG', linkA, points: null })!;
      expect(timeOn(melting, min10S)).toBeCloseTo(10, 9);
      expect(timeOn(melting, min01S)).toBeCloseTo(0.1, 9);
      expect(timeOn(clearing, max5S)).toBeCloseTo(5, 9);
      expect(timeOn(clearing, max01S)).toBeCloseTo(0.1, 9);
      expect(timeOn(melting, 1.24 * linkA)).toBe(Infinity);
      expect(timeOn(clearing, 1.6 * linkA)).toBeLessThanOrEqual(14400);
    }
  });
  it('of gG in the ratio of two steps are selective by energy, of one step are not', () => {
    for (let k = 2; k < ggGates.length; k++) {
      const [, , , , , , , melts] = ggGates[k];
      expect(ggGates[k - 2][8]).toBeLessThanOrEqual(melts);
      expect(ggGates[k - 1][8]).toBeGreaterThan(melts);
    }
  });
  it('heat adiabatically where they melt within the tenth of a second that the energies are about', () => {
    for (const of of fuseClasses)
      for (const linkA of linkSizes[of]) {
        const { melting } = linkCurves({ class: of, linkA, points: null })!;
        const [i] = melting[melting.length - 1];
        expect((2 * i) ** 2 * timeOn(melting, 2 * i)).toBeCloseTo(i ** 2 * timeOn(melting, i), 3);
      }
  });
  it('are curves: no point bends back, whatever the class and size', () => {
    for (const of of fuseClasses)
      for (const linkA of linkSizes[of]) {
        const { melting, clearing } = linkCurves({ class: of, linkA, points: null })!;
        expect([pointsProblem(melting), pointsProblem(clearing)], `${linkA} A ${of}`).toEqual([null, null]);
      }
  });
  it('are made in sizes: another class takes its nearest, a drag walks along them, points of one’s own stay', () => {
    const family = familyNamed('fuse');
    const made = family.fresh(id, 'gG', null);
    expect(nearestLink('expulsionK', 90)).toBe(100);
    expect(family.withChoice!({ ...made, linkA: 315 }, 'class', 'expulsionT').linkA).toBe(200);
    const walked = new Set<number>();
    for (let currentA = 40; currentA < 30000; currentA *= 1.03)
      walked.add(family.dragged!(made, rating, 'time', { currentA, timeS: 0.2 }).linkA);
    expect(walked.size).toBe(linkSizes.gG.length);
    for (const size of linkSizes.gG) {
      // Held on the melting curve of a size it is that size.
      const { melting } = linkCurves({ class: 'gG', linkA: size, points: null })!;
      const [currentA, timeS] = melting[2];
      expect(family.dragged!(made, rating, 'pickup', { currentA, timeS }).linkA).toBe(size);
    }
    const points = {
      melting: [
        [10, 5],
        [100, 0.01],
      ],
      clearing: [
        [12, 6],
        [110, 0.02],
      ],
    } as FuseFunction['points'];
    const own = { ...made, points };
    expect(family.dragged!(own, rating, 'time', { currentA: 500, timeS: 0.2 })).toBe(own);
    expect(family.timeCurrents!(own, rating)[0].at(10)).toEqual({ earliestS: 5, latestS: Infinity });
    expect(family.timeCurrents!({ ...made, linkA: 99 }, rating)).toEqual([]);
    expect(family.timeCurrents!({ ...own, preloadPercent: 20 }, rating)[0].at(100).earliestS).toBeCloseTo(0.008, 12);
  });
  it('let no more through than the current itself would peak at, and rise as its cube root', () => {
    const [a2s, f] = [20e3, 50];
    expect(cutOffA(a2s, 20e3, f) / cutOffA(a2s, 2.5e3, f)).toBeCloseTo(2, 9);
    // The energy of a current that rises in proportion to time: i²·t/3.
    const prospective = 20e3;
    const peak = cutOffA(a2s, prospective, f);
    const t = peak / (Math.SQRT2 * prospective * 2 * Math.PI * f);
    expect((peak ** 2 * t) / 3).toBeCloseTo(a2s, 6);
    expect(cutOffA(a2s, 100, f)).toBeCloseTo(1.8 * Math.SQRT2 * 100, 9);
  });
});

describe('a curve by points', () => {
  const points: CurvePair[] = [
    [10, 100],
    [100, 1],
    [100, 0.5],
    [1000, 0.05],
  ];
  it('is straight on log–log paper, vertical where it stands upright, and goes on as it ends', () => {
    expect(timeOn(points, 9.99)).toBe(Infinity);
    expect(timeOn(points, Math.sqrt(1000))).toBeCloseTo(10, 9);
    expect(timeOn(points, 100)).toBeCloseTo(1, 12);
    expect(timeOn(points, 100.0001)).toBeCloseTo(0.5, 4);
    expect(timeOn(points, 10000)).toBeCloseTo(0.005, 9);
    expect(timeOn([], 5)).toBe(Infinity);
  });
  it('says which point is wrong', () => {
    expect(pointsProblem([[1, 1]])).toMatch(/two points/);
    expect(
      pointsProblem([
        [2, 1],
        [1, 0.5],
      ]),
    ).toMatch(/^point 2: the current/);
    expect(
      pointsProblem([
        [1, 1],
        [2, 2],
      ]),
    ).toMatch(/^point 2: the time/);
    expect(
      pointsProblem([
        [1, 1],
        [1, 1],
      ]),
    ).toMatch(/twice/);
    expect(
      pointsProblem([
        [1, 1],
        [0, 1],
      ]),
    ).toMatch(/above 0/);
    expect(pointsProblem(points)).toBeNull();
  });
});

describe('edges', () => {
  const relay = familyNamed('overcurrent');
  const fn = { ...relay.fresh(id, '51', null), characteristic: 'definite' as const, pickup: 1, delayS: 1 };
  const curve = relay.timeCurrents!({ ...fn, errorPercent: 5, errorS: 0.02, overshootS: 0.03 }, rating)[0];
  it('of a relay count its errors; the breaker and the overshoot only where two devices meet', () => {
    expect(edgeTime(curve, 300, 'nominal')).toBe(1);
    expect(edgeTime(curve, 300, 'latest')).toBeCloseTo(1.07, 12);
    expect(edgeTime(curve, 300, 'earliest')).toBeCloseTo(0.93, 12);
    expect(latestClearing(curve, 300, 0.06)).toBeCloseTo(1.13, 12);
    expect(earliestOperation(curve, 300)).toBeCloseTo(0.9, 12);
  });
  it('of what clears by itself are its band', () => {
    const link = familyNamed('fuse').timeCurrents!(familyNamed('fuse').fresh(id, 'gG', null), rating)[0];
    const { earliestS, latestS } = link.at(700);
    expect([edgeTime(link, 700, 'earliest'), edgeTime(link, 700, 'latest')]).toEqual([earliestS, latestS]);
    expect([earliestOperation(link, 700), latestClearing(link, 700, 0.06)]).toEqual([earliestS, latestS]);
    const curves: Curves = { device: {} as Device, functions: [link] };
    const late = curvePoints(curves, 'phase', 5000, 20, 'latest');
    const early = curvePoints(curves, 'phase', 5000, 20, 'earliest');
    expect(early[0].currentA).toBeCloseTo(125, 9);
    expect(late[0].currentA).toBeCloseTo(160, 6);
  });
});

describe('a miniature circuit breaker', () => {
  const latest = (system: 'ac' | 'dc', multiple: number) => {
    const { family, fn } = make('miniature', 'C', { ratedA: 20, system });
    return family.timeCurrents!(fn, { primaryA: 20, secondaryA: 20 })[0].at(20 * multiple).latestS;
  };
  it('heats at constant I²t between the last current that the standard names and its instantaneous trip, never below that', () => {
    expect(latest('ac', 2.55)).toBeCloseTo(60, 6);
    expect(latest('ac', 9)).toBeCloseTo(60 * (2.55 / 9) ** 2, 6);
    expect(latest('ac', 10)).toBe(0.1);
    expect(latest('dc', 10)).toBeCloseTo(60 * (2.55 / 10) ** 2, 6);
    expect(latest('dc', 15)).toBe(0.1);
  });
});
