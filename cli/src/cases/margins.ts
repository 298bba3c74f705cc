/** Cases of margins between two devices: relays and fuses over a range of currents, breakers by their bands, reclosers with fuses. */
import {
  clearingBy,
  failsFrom,
  leastMargin,
  operatingBy,
  selectiveByEnergy,
  type Measuring,
} from '@mesura/core/grading/least';
import { leftToFuseFrom, savedUpTo, sourceFuseUpTo } from '@mesura/core/grading/recloser';
import type { ElementId } from '@mesura/core/model/fields';
import { ownInput, type TimeCurrent } from '@mesura/core/protection/family';
import { fuse as fuseFamily } from '@mesura/core/protection/fuse/index';
import { linkCurves } from '@mesura/core/protection/fuse/link';
import type { CharacteristicName } from '@mesura/core/protection/overcurrent/schema';
import { timeCurrentOf } from '@mesura/core/protection/overcurrent/timeCurrent';
import { release as releaseFamily } from '@mesura/core/protection/release/index';
import { releaseCurves } from '@mesura/core/protection/release/curves';
import type { ReleasePart } from '@mesura/core/protection/release/schema';
import type { Inputs } from './case';
import { unitFunction, unitRating } from './protection';

interface Stage {
  readonly characteristic: CharacteristicName;
  readonly pickupA: number;
  readonly timeMultiplier?: number;
  readonly delayS?: number;
}

interface RelayCase {
  readonly kind: 'relay';
  readonly stages: readonly Stage[];
  readonly errorPercent: number;
  readonly fixedErrorS: number;
  readonly breakerS: number;
  readonly overshootS: number;
}

interface FuseCase {
  readonly kind: 'fuse';
  readonly melting: [number, number][];
  readonly clearing: [number, number][];
  readonly preloadPercent?: number;
}

type DeviceCase = RelayCase | FuseCase;

interface Sees {
  readonly factor: number;
  readonly offsetA?: number;
}

const stageCurve = (stage: Stage, relay?: RelayCase): TimeCurrent =>
  timeCurrentOf(
    unitFunction({
      characteristic: stage.characteristic,
      pickup: stage.pickupA,
      timeMultiplier: stage.timeMultiplier ?? 1,
      delayS: stage.delayS ?? 0,
      dependentTo: null,
      errorPercent: relay?.errorPercent ?? 0,
      errorS: relay?.fixedErrorS ?? 0,
      overshootS: relay?.overshootS ?? 0,
    }),
    unitRating,
  );

const fuseCurve = ({ melting, clearing, preloadPercent = 0 }: FuseCase): TimeCurrent =>
  fuseFamily.timeCurrents!(
    { ...fuseFamily.fresh('case' as ElementId, 'gG', null), preloadPercent, points: { melting, clearing } },
    unitRating,
  )[0];

const curvesOf = (device: DeviceCase): readonly TimeCurrent[] =>
  device.kind === 'fuse' ? [fuseCurve(device)] : device.stages.map((stage) => stageCurve(stage, device));

/** Over the range that the case gives, from the pickup on: it leaves nothing below it out. */
function measuring(device: DeviceCase, sees: Sees, fullA: number, make: (fn: TimeCurrent, at: number) => Measuring) {
  const steadyA = sees.offsetA ?? 0;
  return curvesOf(device).map((fn) => ({
    ...make(fn, sees.factor * fullA + steadyA),
    steadyA,
    fromA: fn.accuracy ? fn.pickupA : make(fn, 0).fromA,
  }));
}

function margin(given: Inputs): unknown {
  const { upstream, downstream, upstreamSees, downstreamSees, faultCurrentRangeA, wantedMarginS } =
    given as unknown as {
      upstream: DeviceCase;
      downstream: DeviceCase;
      upstreamSees: Sees;
      downstreamSees: Sees;
      faultCurrentRangeA: readonly [number, number];
      wantedMarginS: number;
    };
  const [from, to] = faultCurrentRangeA;
  const openingS = downstream.kind === 'relay' ? downstream.breakerS : 0;
  const below = measuring(downstream, downstreamSees, to, (fn, at) => clearingBy(fn, at, openingS, 'bands'));
  const above = measuring(upstream, upstreamSees, to, (fn, at) => operatingBy(fn, at, 'bands'));
  // Asked for as a time, energies aside.
  const least = leastMargin(below.map(withoutEnergy), above.map(withoutEnergy), from / to);
  if (!least) return null;
  const faultA = to * least.scale;
  const at = ({ factor, offsetA = 0 }: Sees) => factor * faultA + offsetA;
  return {
    marginS: least.marginS,
    atFaultCurrentA: faultA,
    upstreamCurrentA: at(upstreamSees),
    downstreamCurrentA: at(downstreamSees),
    upstreamEarliestS: least.upstreamS,
    downstreamLatestS: least.downstreamS,
    holds: least.marginS >= wantedMarginS,
  };
}

const withoutEnergy = (each: Measuring): Measuring => ({ ...each, fn: { ...each.fn, energy: undefined } });

interface BreakerCase {
  readonly ratedA: number;
  readonly longTimeAt6InS: number;
  readonly longTimeTolerancePercent: number;
  readonly longTimeClearingS?: number;
  readonly shortTimeTimesIn?: number;
  readonly shortTimeTolerancePercent?: number;
  readonly shortTimeDelayMinS?: number;
  readonly instantaneousTimesIn: number | null;
  readonly instantaneousTolerancePercent: number;
  readonly instantaneousClearingS?: number;
  readonly icwKa?: number | null;
}

function breakerCurves(breaker: BreakerCase): readonly TimeCurrent[] {
  const parts: ReleasePart[] = ['longTime'];
  if (breaker.shortTimeTimesIn) parts.push('shortTime');
  if (breaker.instantaneousTimesIn) parts.push('instantaneous');
  return releaseCurves({
    ...releaseFamily.fresh('case' as ElementId, 'release', ownInput as ElementId),
    parts,
    ratedA: breaker.ratedA,
    ir: 1,
    trS: breaker.longTimeAt6InS,
    isd: breaker.shortTimeTimesIn ?? 1,
    tsdS: breaker.shortTimeDelayMinS ?? 0,
    ii: breaker.instantaneousTimesIn ?? 1,
    trTolerancePercent: breaker.longTimeTolerancePercent,
    isdTolerancePercent: breaker.shortTimeTolerancePercent ?? 0,
    iiTolerancePercent: breaker.instantaneousTolerancePercent,
    clearingS: breaker.instantaneousClearingS ?? breaker.longTimeClearingS ?? 0,
  });
}

function breakers(given: Inputs): unknown {
  const { upstream, downstream } = given as unknown as { upstream: BreakerCase; downstream: BreakerCase };
  // Far beyond everything that can be set: without an instantaneous part it is the short-time rating that ends it.
  const full = 500e3;
  const share = failsFrom(
    breakerCurves(downstream).map((fn) => clearingBy(fn, full, 0, 'bands')),
    breakerCurves(upstream).map((fn) => operatingBy(fn, full, 'bands')),
    1e-6,
  );
  const limits = [share === null ? Infinity : (share * full) / 1000, upstream.icwKa ?? Infinity];
  return { selectiveUpToKa: Math.min(...limits) };
}

interface RecloserCase {
  readonly fast?: Stage;
  readonly slow?: Stage;
  readonly breakerS: number;
  readonly factorOnFastCurve?: number;
  readonly factorOnSlowCurve?: number;
  readonly fuse: FuseCase;
  readonly fuseSeesFactor?: number;
  readonly rangeA?: readonly [number, number];
}

function recloser(given: Inputs): unknown {
  const {
    fast,
    slow,
    breakerS: openingS,
    factorOnFastCurve,
    factorOnSlowCurve,
    fuse,
    fuseSeesFactor,
    rangeA,
  } = given as unknown as RecloserCase;
  const link = fuseCurve(fuse);
  const [fromA, toA] = rangeA ?? [link.pickupA, 50 * link.pickupA];
  const [quick, late] = [fast, slow].map((stage) => (stage ? stageCurve(stage) : null));
  if (factorOnSlowCurve !== undefined)
    return {
      coordinatedToA: sourceFuseUpTo(
        late!,
        link,
        openingS,
        { factor: factorOnSlowCurve, share: fuseSeesFactor ?? 1 },
        fromA,
        toA,
      ),
    };
  const beyond = { fast: quick, slow: late, fuse: link, openingS, factor: factorOnFastCurve! };
  return {
    coordinatedFromA: leftToFuseFrom(beyond, fromA, toA),
    coordinatedToA: savedUpTo(beyond, fromA, toA),
  };
}

/** By the kind that the case gives. */
export const marginKinds: Readonly<Record<string, (inputs: Record<string, number>, given: Inputs) => unknown>> = {
  'relay-relay': (_, given) => margin(given),
  'relay-fuse': (_, given) => margin(given),
  'fuse-relay': (_, given) => margin(given),
  'fuse-fuse': (_, given) => margin(given),
  'fuse-fuse-energy': ({ majorPrearcingI2t, minorTotalI2t }) => ({
    ratio: minorTotalI2t / majorPrearcingI2t,
    marginPercent: 100 * (1 - minorTotalI2t / majorPrearcingI2t),
    selective: selectiveByEnergy(minorTotalI2t, majorPrearcingI2t),
  }),
  'fuse-fuse-rated': (_, given) => ({
    selective: (given.pairsMajorMinorA as [number, number][]).map((pair) => {
      const [major, minor] = pair.map((linkA) => linkCurves({ class: 'gG', linkA, points: null })!);
      return selectiveByEnergy(minor.throughA2s, major.meltingA2s);
    }),
  }),
  'recloser-fuse': (_, given) => recloser(given),
  'lv-breakers': (_, given) => breakers(given),
};
