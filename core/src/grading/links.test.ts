/** Margins of fuses, low-voltage breakers and reclosers: by energy, by bands, over the range that they work together in. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { elementId } from '../model/fields';
import { familyNamed } from '../protection/registry';
import type { TimeCurrent } from '../protection/family';
import { ggGates } from '../protection/fuse/gates';
import { runs } from '../test/runs';
import { energyIn, type PairState } from './margin';
import { clearingBy, failsFrom, leastMargin, operatingBy, selectiveByEnergy } from './least';
import { leftToFuseFrom, savedUpTo, sourceFuseUpTo } from './recloser';
import type { Curves } from '../protection/curve';
import type { Device } from '../protection/device';

const id = elementId('f');
const rating = { primaryA: 1, secondaryA: 1 };
const fuse = familyNamed('fuse');
const link = (linkA: number, of = 'gG'): TimeCurrent =>
  fuse.timeCurrents!({ ...fuse.fresh(id, of, null), linkA }, rating)[0];
const release = familyNamed('release');
const breaker = (over: Partial<ReturnType<typeof release.fresh>>) =>
  release.timeCurrents!({ ...release.fresh(id, 'release', null), ...over }, rating);
const relay = familyNamed('overcurrent');
const curve = (pickup: number, timeMultiplier: number): TimeCurrent =>
  relay.timeCurrents!(
    { ...relay.fresh(id, '51', null), characteristic: 'iecC', pickup, timeMultiplier, dependentTo: null },
    rating,
  )[0];

const device = (functions: readonly TimeCurrent[]): Curves => ({
  device: { inputs: [{ id: 'own' }], openingS: 0 } as unknown as Device,
  functions,
});
const state = (currentA: number): PairState => ({
  kind: '3ph',
  condition: elementId('c'),
  downstream: { own: { phaseA: currentA, residualA: 0, negativeA: 0 } },
  upstream: { own: { phaseA: currentA, residualA: 0, negativeA: 0 } },
});

describe('two fuses', () => {
  it('of gG are selective from two steps on: by time where that counts, by energy below', () => {
    for (let k = 0; k < ggGates.length - 2; k++) {
      const [minor, next, major] = [0, 1, 2].map((n) => link(ggGates[k + n][0]));
      const currentA = 200 * ggGates[k][0];
      const energy = (above: TimeCurrent) => energyIn(state(currentA), device([minor]), device([above]), 'phase')!;
      const holds = (above: TimeCurrent) => selectiveByEnergy(energy(above).throughA2s, energy(above).meltingA2s);
      expect([holds(major), holds(next)]).toEqual([true, false]);
      // The gates of small links are wide: what the standard assures is not asked of their edges once more.
      expect(
        leastMargin([clearingBy(minor, currentA, 0, 'bands')], [operatingBy(major, currentA, 'bands')]),
      ).toBeNull();
      expect(
        leastMargin([clearingBy(minor, currentA, 0, 'bands')], [operatingBy(next, currentA, 'bands')]),
      ).not.toBeNull();
    }
  });
  it('that see different shares of the current melt by what each sees', () => {
    const at = state(20000);
    const half: PairState = { ...at, upstream: { own: { phaseA: 10000, residualA: 0, negativeA: 0 } } };
    const [p, q] = [at, half].map((each) => energyIn(each, device([link(63)]), device([link(80)]), 'phase')!);
    expect(q.meltingA2s).toBeCloseTo(4 * p.meltingA2s, 6);
    expect(energyIn(state(300), device([link(63)]), device([link(80)]), 'phase')).toBeNull();
    expect(energyIn(at, device(breaker({})), device([link(80)]), 'phase')).toBeNull();
    // What limits no energy melts whatever stands before it.
    expect(energyIn(at, device([link(20, 'expulsionK')]), device([link(80)]), 'phase')!.throughA2s).toBe(Infinity);
  });
});

describe('two breakers', () => {
  const below = breaker({ ratedA: 160, ir: 1, ii: 10, parts: ['longTime', 'instantaneous'] });
  const above = (ii: number) =>
    breaker({ ratedA: 630, ir: 1, isd: 6, tsdS: 0.2, ii, parts: ['longTime', 'shortTime', 'instantaneous'] });
  const upTo = (ii: number, fullA = 50e3) => {
    const share = failsFrom(
      below.map((fn) => clearingBy(fn, fullA, 0, 'bands')),
      above(ii).map((fn) => operatingBy(fn, fullA, 'bands')),
      0,
    );
    return share === null ? null : share * fullA;
  };
  it('are selective up to where the instantaneous part above may open', () => {
    fc.assert(
      fc.property(fc.integer({ min: 8, max: 40 }), (ii) => {
        expect(upTo(ii)!).toBeCloseTo(0.8 * ii * 630, 3);
      }),
      { seed: 3, numRuns: runs(20) },
    );
    expect(upTo(12, 5000)).toBeNull();
  });
  it('as a walk over 20,000 currents finds it', () => {
    const upper = breaker({
      ratedA: 250,
      ir: 1,
      trS: 8,
      isd: 4,
      tsdS: 0.05,
      shortTime: 'i2t',
      ii: 30,
      parts: ['longTime', 'shortTime'],
    });
    const lower = breaker({ ratedA: 200, ir: 1, trS: 8, ii: 15, parts: ['longTime', 'instantaneous'] });
    const full = 20e3;
    const latest = (i: number) => Math.min(...lower.map((fn) => (i < fn.assuredA ? Infinity : fn.at(i).latestS)));
    const earliest = (i: number) => Math.min(...upper.map((fn) => (i < fn.pickupA ? Infinity : fn.at(i).earliestS)));
    let walked: number | null = null;
    for (let k = 0; k <= 20000 && walked === null; k++) {
      const i = 100 * (full / 100) ** (k / 20000);
      if (latest(i) < Infinity && earliest(i) < latest(i)) walked = i;
    }
    const share = failsFrom(
      lower.map((fn) => clearingBy(fn, full, 0, 'bands')),
      upper.map((fn) => operatingBy(fn, full, 'bands')),
      0,
    );
    expect((share! * full) / walked!).toBeCloseTo(1, 3);
  });
});

describe('a recloser and a fuse', () => {
  const [fast, slow, spur] = [curve(160, 0.01), curve(160, 0.1), link(65, 'expulsionK')];
  const both = { fast, slow, fuse: spur, openingS: 0.04, factor: 1.35 };
  it('work together from where the slow curve waits to where the fast one is too late', () => {
    const to = savedUpTo(both, 100, 20000)!;
    const opened = (i: number) => 1.35 * (fast.at(i).latestS + 0.04);
    expect(spur.at(to).earliestS).toBeCloseTo(opened(to), 6);
    expect(spur.at(to * 1.01).earliestS).toBeLessThan(opened(to * 1.01));
    const from = leftToFuseFrom(both, 100, 20000)!;
    expect(slow.at(from * 1.001).earliestS).toBeGreaterThan(spur.at(from * 1.001).latestS);
    expect(savedUpTo({ ...both, factor: 1 }, 100, 20000)!).toBeGreaterThan(to);
    expect(savedUpTo({ ...both, fast: null }, 100, 20000)).toBeNull();
    expect(leftToFuseFrom({ ...both, slow: null }, 100, 20000)).toBeNull();
    // Never where the fuse is far too small.
    expect(savedUpTo({ ...both, fuse: link(6, 'expulsionK') }, 100, 20000)).toBeNull();
  });
  it('on the source side the fuse outlasts the slow operation up to a current that its share moves', () => {
    const big = link(200, 'expulsionT');
    const upTo = (share: number) => sourceFuseUpTo(slow, big, 0.04, { factor: 2, share }, 200, 50000)!;
    expect(big.at(upTo(0.5) * 0.5).earliestS).toBeCloseTo(2 * (slow.at(upTo(0.5)).latestS + 0.04), 5);
    expect(upTo(0.4)).toBeGreaterThan(upTo(0.5));
  });
});
