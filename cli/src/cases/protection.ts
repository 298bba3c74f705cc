/** Cases of protective devices and of what they protect: trip times, gates, thermal images, damage curves. */
import * as machine from '@mesura/core/faults/course/machine';
import { runUp } from '@mesura/core/flow/motor';
import { throughWindings, type ShareFault, type WindingKind } from '@mesura/core/limits/windings';
import { energyTime, inrushPoints, mechanicalLine, pointTime, thermalK } from '@mesura/core/limits/transformer';
import type { ElementId } from '@mesura/core/model/fields';
import { atRest, type Progress, type SeenCurrents } from '@mesura/core/protection/family';
import { ggGates, kLinks, speedRatio, tLinks } from '@mesura/core/protection/fuse/gates';
import { instantaneousBand } from '@mesura/core/protection/miniature/index';
import { characteristics, resetTime } from '@mesura/core/protection/overcurrent/characteristics';
import { overcurrent } from '@mesura/core/protection/overcurrent/index';
import { genericRelays, newFunction } from '@mesura/core/protection/overcurrent/library';
import type { CharacteristicName, OvercurrentFunction } from '@mesura/core/protection/overcurrent/schema';
import { pickupFactor, timeCurrentOf } from '@mesura/core/protection/overcurrent/timeCurrent';
import { held, testedAt, tripTimes, trips } from '@mesura/core/protection/overload/trip';
import { coldTime, coolingTime, heated, timeConstantFor, timeToTrip } from '@mesura/core/protection/thermal/image';
import { adiabaticDensity, type Metal } from '@mesura/core/ratings/conductors';
import type { Inputs } from './case';

type Numbers = Record<string, number>;

const metals: Readonly<Record<string, Metal>> = { Cu: 'copper', Al: 'aluminium' };

/** A phase function whose pickup is one ampere, so that currents are multiples. */
export const unitFunction = (over: Partial<OvercurrentFunction>): OvercurrentFunction => ({
  ...newFunction('case' as ElementId, '51', genericRelays[0].ranges),
  pickup: 1,
  ...over,
});
export const unitRating = { primaryA: 1, secondaryA: 1 };
const seen = (phaseA: number): SeenCurrents => ({ phaseA, residualA: 0, negativeA: 0 });

/** Through steps of [seconds, multiple], the last one for as long as it takes; state after each, and the time of the trip. */
function through(fn: OvercurrentFunction, steps: readonly (readonly [number | null, number])[]) {
  let state: Progress = atRest;
  let timeS = 0;
  const shares: number[] = [];
  for (const [seconds, multiple] of steps) {
    const currents = seen(multiple);
    if (seconds === null) {
      const whole = timeCurrentOf(fn, unitRating).at(multiple).latestS;
      return { shares, tripS: timeS + (1 - state.share) * whole };
    }
    state = overcurrent.advance!(fn, unitRating, state, currents, seconds);
    shares.push(state.share);
    timeS += seconds;
  }
  return { shares, tripS: null };
}

/** By the name of the formula that the case gives. */
export const protectionFormulas: Readonly<
  Record<string, (inputs: Numbers, words: Record<string, string>) => number | readonly number[]>
> = {
  toc_dyn: ({ A, B, p, tr, TD, t1_s, M1, t2_s, M2, M3 }) =>
    through(
      unitFunction({
        characteristic: 'own',
        own: { k: A, alpha: p, c: B, tr },
        timeMultiplier: TD,
        reset: 'dependent',
        dependentTo: null,
      }),
      [
        [t1_s, M1],
        [t2_s, M2],
        [null, M3],
      ],
    ).tripS!,
  gg: ({ In_A }) => ggGates.find(([ratedA]) => ratedA === In_A)?.slice(1, 5) ?? [],
  mcb: ({ In_A, lo, hi }) => {
    const type = Object.values(instantaneousBand).find(([holds, to]) => holds === lo && to === hi);
    return type ? type.map((multiple) => multiple * In_A) : [];
  },
  speed: (_, { link }) => {
    const [, rated, type] = /^(\d+)([KT])$/.exec(link) ?? [];
    const row = (type === 'K' ? kLinks : tLinks).find(([ratedA]) => ratedA === Number(rated));
    return row ? speedRatio(row[1], row[5]) : [];
  },
  kfac: ({ theta_i_C, theta_f_C }, { material }) => adiabaticDensity(metals[material], theta_i_C, theta_f_C),
  c57109pt: ({ I_pu }) => pointTime(I_pu) ?? [],
  c57109m: ({ Zt_pu, Zs_pu, frac }) => {
    const { imax, k, fromS, thermalS } = mechanicalLine(frac, Zt_pu, Zs_pu);
    return [imax, k, fromS, thermalS];
  },
  c57109i: (given) => (given as unknown as { I_pu: number[] }).I_pu.map((times) => thermalK / times ** 2),
  motortherm: ({ tau_s, Ip_pu, I_pu, kIb_pu }) => timeToTrip(tau_s, kIb_pu, I_pu, Ip_pu),
  inrush: ({ S_kVA, V_kV }) => inrushPoints.map(([times]) => (times * S_kVA) / (Math.sqrt(3) * V_kV)),
};

const stepsOf = (given: Inputs) => given.steps as readonly (readonly [number | null, number])[];

/** By the kind that the case gives; figures in the order that the case asks for. */
export const protectionKinds: Readonly<Record<string, (inputs: Numbers, given: Inputs) => unknown>> = {
  'thermal-cold': ({ tauS, k, currentTimesBasic }) => finite(coldTime(tauS, k, currentTimesBasic)),
  'thermal-hot': ({ tauS, k, currentTimesBasic, preloadTimesBasic }) =>
    finite(timeToTrip(tauS, k, currentTimesBasic, preloadTimesBasic)),
  'thermal-sequence': ({ tauS, k, tauCoolingS, imageAtTrip, restartBelow }, given) => {
    if (!given.steps) return coolingTime(tauCoolingS, imageAtTrip, restartBelow);
    const figures: number[] = [];
    let [image, timeS] = [0, 0];
    for (const [seconds, multiple] of stepsOf(given)) {
      if (seconds === null) figures.push(timeS + timeToTrip(tauS, k, multiple, k * Math.sqrt(image)));
      else {
        image = heated(image, tauS, k, multiple, seconds);
        figures.push(image);
        timeS += seconds;
      }
    }
    return figures;
  },
  'overload-class': ({ k, timeAt72S }, given) => {
    if (timeAt72S !== undefined) {
      const tauS = timeConstantFor(k, testedAt, timeAt72S);
      return [tauS, coldTime(tauS, k, 6)];
    }
    const own = tripTimes[given.class as keyof typeof tripTimes];
    return String(given.asks).includes('held') ? [held, trips] : [own.from, own.to, own.warmS];
  },
  'i2t-line': ({ withstandA, durationS, atA, kAs05PerMm2, areaMm2 }) =>
    withstandA === undefined ? energyTime(kAs05PerMm2 * areaMm2, 1, atA) : energyTime(withstandA, durationS, atA),
  'transformer-withstand': ({ withstandTimesRated, ratedHvA, threePhaseFaultHvLineA }, given) => {
    if (given.factors) return (given.factors as number[]).map((factor) => factor * withstandTimesRated * ratedHvA);
    const [hv, lv] = [...String(given.connection)].map((letter) => letter.toUpperCase() as WindingKind);
    const fault: ShareFault = /^single/.test(String(given.fault))
      ? '1ph'
      : /^two/.test(String(given.fault))
        ? '2ph'
        : '3ph';
    const { line, winding } = throughWindings(hv, lv, fault);
    return [line * threePhaseFaultHvLineA, 100 * winding];
  },
  'motor-start': motorStart,
  'generator-decrement': (i) => {
    // A forced field raises the steady current that the transient one falls to.
    const xd = i.xdPu / (i.fieldForcingFactor ?? 1);
    const data = { xd, xd1: i.xd1Pu, xd2: i.xd2Pu, xq2: i.xd2Pu, td1S: i.td1S, td2S: i.td2S, taS: i.taS };
    const before = i.prefaultPu ?? 1;
    const ac = i.ratedA * before * machine.acAt(data, i.atS);
    if (i.taS === undefined) return ac;
    const dc = i.ratedA * before * machine.dcAt(data, i.atS);
    return [ac, dc, Math.hypot(ac, dc)];
  },
  '51V': ({ pickupA, timeMultiplier, voltagePu, currentA, belowVoltagePu, pickupFactor: factor }, given) => {
    const mode = given.mode === 'voltage-restrained' ? 'restrained' : 'controlled';
    const lowered = pickupFactor({ mode, belowPercent: 100 * (belowVoltagePu ?? 0.8), factor: factor ?? 1 }, voltagePu);
    const fn = unitFunction({
      characteristic: given.characteristic as CharacteristicName,
      timeMultiplier,
      pickup: pickupA * lowered,
      dependentTo: null,
    });
    return [pickupA * lowered, finite(timeCurrentOf(fn, unitRating).at(currentA).latestS)];
  },
  'C37.112-reset': ({ timeDial, multiple }, given) => {
    const name = given.characteristic as CharacteristicName;
    if (!given.steps) return resetTime(characteristics[name].tr, timeDial, multiple);
    const fn = unitFunction({ characteristic: name, timeMultiplier: timeDial, reset: 'dependent', dependentTo: null });
    const { shares, tripS } = through(fn, stepsOf(given));
    return [shares.at(-1), tripS];
  },
  'IEC-reset': ({ timeMultiplier, multiple, firstS, gapS, resetS }, given) => {
    const fn = unitFunction({
      characteristic: given.characteristic as CharacteristicName,
      timeMultiplier,
      reset: 'definite',
      resetS,
      dependentTo: null,
    });
    return through(fn, [
      [firstS, multiple],
      [gapS, 0],
      [null, multiple],
    ]).tripS;
  },
};

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

function motorStart(i: Numbers, given: Inputs): unknown {
  const torque = { breakdownNm: i.breakdownTorqueNm, breakdownSlip: i.breakdownSlip };
  const factor = () => i.voltagePu ** 2;
  const constant = given.loadTorque === 'constant';
  const to = (endSlip: number) =>
    runUp({
      torque,
      load: {
        follows: constant ? 'constant' : 'quadratic',
        nm: i.loadTorqueNm ?? i.loadTorqueAtSynchronousNm,
      },
      inertiaKgM2: i.inertiaKgm2,
      synchronousRpm: (i.synchronousRadPerS * 30) / Math.PI,
      endSlip,
      factor,
    });
  // Where the case ends at times and names no slip: as near to the speed of the load as it comes.
  const ends = i.endSlip === undefined ? [0.005, 0.01, 0.015, 0.02, 0.03, 0.05, 0.1] : [i.endSlip];
  const run = ends.map(to).find(({ runsUp }) => runsUp) ?? to(ends[0]);
  if (!i.lockedRotorA) return run.timeS;
  const current = (slip: number) =>
    i.voltagePu * i.lockedRotorA * Math.sqrt((1 + i.breakdownSlip ** 2) / (1 + (i.breakdownSlip / slip) ** 2));
  const slipAt = (timeS: number) => {
    // Time falls with the slip at the end of the run.
    let [low, high] = [run.course.at(-1)!.slip, 1];
    for (let k = 0; k < 50; k++) {
      const middle = Math.sqrt(low * high);
      if (to(middle).timeS! > timeS) low = middle;
      else high = middle;
    }
    return high;
  };
  if (given.atS) return (given.atS as number[]).map((timeS) => current(slipAt(timeS)));
  let energy = 0;
  for (let k = 1; k < run.course.length; k++) {
    const [p, q] = [run.course[k - 1], run.course[k]];
    // Simpson over the step, the middle by the torque there.
    const middle = slipAt((p.timeS + q.timeS) / 2);
    energy += ((q.timeS - p.timeS) / 6) * (current(p.slip) ** 2 + 4 * current(middle) ** 2 + current(q.slip) ** 2);
  }
  return energy;
}
