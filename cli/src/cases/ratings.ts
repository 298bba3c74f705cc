/** Duties against ratings, by the kind that a case gives. */
import {
  closeAndLatch,
  interruptingDuty,
  lowVoltageFactor,
  mouldedFactor,
  xOverROf,
} from '@mesura/core/ratings/american';
import { comparedWith } from '@mesura/core/ratings/compared';
import {
  adiabaticConstant,
  adiabaticTemperature,
  bareDensity,
  bareDensityOver,
  bendingStress,
  cableShortCircuit,
  forceOnMiddle,
  type Insulation,
  type Metal,
} from '@mesura/core/ratings/conductors';
import { dcDuty, makingFactor, peakOf } from '@mesura/core/ratings/highVoltage';
import { boardPeakRatio, leastShortTimeKa, makingRatio, powerFactorOf } from '@mesura/core/ratings/lowVoltage';
import { oneSecondEquivalent, withstandOver } from '@mesura/core/ratings/thermal';
import {
  leastImpedancePercent,
  peakRatio,
  timesRated,
  winding,
  windingTemperature,
  windingTemperatureExact,
  type WindingMetal,
} from '@mesura/core/ratings/transformers';
import { exactPeak, lowVoltageFactors } from '@mesura/core/faults/c37/factors';
import { peakFactor } from '@mesura/core/faults/iec60909/peak';
import { heatOfDc, thermalCurrent } from '@mesura/core/faults/iec60909/thermal';
import { nextBreakingKa, nextPreferred } from '@mesura/core/model/standardSizes';
import { verdictTitles } from '@mesura/core/checks/check';
import type { Figure, Inputs } from './case';

const ok = (holds: boolean): string => verdictTitles[holds ? 'holds' : 'short'];

function verdict(duty: number, rating: number) {
  const { holds, utilisationPercent, marginPercent } = comparedWith(duty, rating);
  return { duty, rating, verdict: ok(holds), utilisationPercent, marginPercent };
}

const metals: Readonly<Record<string, Metal>> = { Cu: 'copper', Al: 'aluminium', Fe: 'steel' };
const lowerCase = (text: unknown): string => String(text).toLowerCase();

/** The case's own decay of the a.c. component: n is given, not found from Ik″/Ik. */
const thermal = (ikKa: number, kappa: number, frequencyHz: number, durationS: number, n: number): number =>
  n === 1
    ? thermalCurrent(ikKa, kappa, 1, frequencyHz, durationS).ithA
    : ikKa * Math.sqrt(heatOfDc(kappa, frequencyHz, durationS) + n);

type Figures = Record<string, Figure>;

/** Each is given numbers by name. */
export const ratingKinds: Readonly<Record<string, (inputs: Record<string, number>, given: Inputs) => Figures>> = {
  'hv-breaking': ({ ibKa, ratedBreakingKa }) => ({
    ...verdict(ibKa, ratedBreakingKa),
    nextStandard: nextBreakingKa(ibKa),
  }),
  'hv-dc': (i) => {
    const partingMs = i.minimumOpeningTimeMs + i.relayTimeMs;
    const { timeConstantMs, frequencyHz } = i;
    const dc = dcDuty({
      partingMs,
      timeConstantMs,
      frequencyHz,
      xOverR: i.networkXOverR,
      breaking: i.ibKa,
      rated: i.ratedBreakingKa,
    });
    return {
      ...verdict(100 * dc.duty, 100 * dc.rated),
      contactPartingMs: partingMs,
      networkTimeConstantMs: dc.networkTimeConstantMs,
      dutyAsymmetricKa: dc.dutyAsymmetric,
      ratedAsymmetricKa: dc.ratedAsymmetric,
      asymmetricVerdict: ok(comparedWith(dc.dutyAsymmetric, dc.ratedAsymmetric).holds),
    };
  },
  'hv-making': ({ frequencyHz, timeConstantMs, ratedBreakingKa, ikKa, xOverR }) => {
    const factor = makingFactor(frequencyHz, timeConstantMs);
    return {
      ...verdict(peakOf(ikKa, 1 / xOverR), factor * ratedBreakingKa),
      makingFactor: factor,
      kappa: peakFactor(1 / xOverR),
      exactPeakKa: ikKa * exactPeak(xOverR),
    };
  },
  'lv-making': ({ icuKa, ikKa, rOverX }) => {
    const { n, powerFactor } = makingRatio(icuKa);
    return {
      ...verdict(peakOf(ikKa, rOverX), n * icuKa),
      n,
      testPowerFactor: powerFactor,
      networkPowerFactor: powerFactorOf(rOverX),
      breakingVerdict: ok(comparedWith(ikKa, icuKa).holds),
      kappa: peakFactor(rOverX),
    };
  },
  icw: ({ icwKa, icwTimeS, ikKa, kappa, frequencyHz, durationS, n }) => {
    const ith = thermal(ikKa, kappa, frequencyHz, durationS, n ?? 1);
    return {
      ...verdict(ith, withstandOver(icwKa, icwTimeS, durationS)),
      m: heatOfDc(kappa, frequencyHz, durationS),
      jouleIntegralA2s: (1000 * ith) ** 2 * durationS,
    };
  },
  'icw-min': ({ ratedA }) => ({ minimumIcwKa: leastShortTimeKa(ratedA) }),
  'board-peak': ({ icwKa, ikKa, rOverX }) => {
    const { n, powerFactor } = boardPeakRatio(icwKa);
    return {
      ...verdict(peakOf(ikKa, rOverX), n * icwKa),
      n,
      powerFactor,
      kappa: peakFactor(rOverX),
      icwVerdict: ok(comparedWith(ikKa, icwKa).holds),
    };
  },
  'cable-60949': ({ sectionMm2, initialC, finalC, ithKa, durationS }, { material, insulation }) => {
    const metal = metals[String(material)];
    const { adiabaticA, loss, permissibleA } = cableShortCircuit(
      metal,
      lowerCase(insulation) as Insulation,
      sectionMm2,
      initialC,
      finalC,
      durationS,
    );
    return {
      ...verdict(ithKa, adiabaticA / 1000),
      K: adiabaticConstant(metal),
      adiabaticKa: adiabaticA / 1000,
      X: loss && loss.x,
      Y: loss && loss.y,
      epsilon: loss && loss.epsilon,
      nonAdiabaticKa: permissibleA / 1000,
      nonAdiabaticVerdict: ok(comparedWith(ithKa, permissibleA / 1000).holds),
      finalTemperatureAdiabaticC: adiabaticTemperature(metal, sectionMm2, initialC, 1000 * ithKa, durationS),
    };
  },
  'busbar-thermal': ({ sectionMm2, initialC, finalC, ikKa, kappa, durationS, frequencyHz, n }, { material }) => {
    const ith = thermal(ikKa, kappa, frequencyHz, durationS, n ?? 1);
    const density = bareDensity(metals[String(material)], initialC, finalC);
    const allowed = bareDensityOver(density, durationS);
    return {
      ...verdict((1000 * ith) / sectionMm2, allowed),
      ratedDensity1s: density,
      ithKa: ith,
      neededSectionMm2: (1000 * ith) / allowed,
    };
  },
  'busbar-force': ({ ipKa, spanM, effectiveSpacingM, sectionModulusCm3, permissibleMPa, beta, Vsigma, Vr }) => {
    const forceN = forceOnMiddle(1000 * ipKa, spanM, effectiveSpacingM);
    const stress = bendingStress(forceN, spanM, 1e-6 * sectionModulusCm3, { beta, vSigma: Vsigma, vr: Vr });
    return { ...verdict(1e-6 * stress, permissibleMPa), forceN };
  },
  'ct-thermal': ({ primaryA, ithTimesIn, idynOverIth, ikKa, kappa, durationS, frequencyHz }) => {
    const rated = (primaryA * ithTimesIn) / 1000;
    const ith = thermalCurrent(ikKa, kappa, 1, frequencyHz, durationS).ithA;
    const equivalent = oneSecondEquivalent(ith, durationS);
    const peak = Math.SQRT2 * kappa * ikKa;
    return {
      ...verdict(ith, withstandOver(rated, 1, durationS)),
      nextStandard: nextBreakingKa(Math.max(ith, equivalent)),
      oneSecondEquivalentKa: equivalent,
      peakKa: peak,
      idynKa: idynOverIth * rated,
      peakVerdict: ok(comparedWith(peak, idynOverIth * rated).holds),
    };
  },
  'trafo-peak-factor': ({ xOverR }) => ({
    printed: Number(exactPeak(xOverR).toFixed(2)),
    closedForm: peakRatio(xOverR),
    exactPeakFactor: exactPeak(xOverR),
  }),
  'trafo-thermal': (i, { metal }) => {
    const of: WindingMetal = String(metal) === 'Al' ? 'aluminium' : 'copper';
    const times = timesRated(i.ukPercent, i.ratedKva / 1000, i.systemMva);
    return {
      ...verdict(windingTemperature(of, i.initialC, i.densityAtFaultAPerMm2, i.durationS), winding[of].limitC),
      exponentialC: windingTemperatureExact(of, i.initialC, i.densityAtFaultAPerMm2, i.durationS),
      shortCircuitKa: (times * i.ratedKva) / 1000 / (Math.sqrt(3) * i.lvKv),
      timesRated: times,
    };
  },
  'trafo-min-uk': ({ ratedKva }) => ({ ukPercent: leastImpedancePercent(ratedKva) }),
  'c37-interrupting': ({ contactPartingCycles, S, xOverR, eOverXKa, ratedSymmetricalKa }) => {
    const { duty, factor, unclippedFactor, within80Percent, plainUpTo } = interruptingDuty(
      eOverXKa,
      xOverR,
      ratedSymmetricalKa,
      { partingCycles: contactPartingCycles, s: S },
    );
    return {
      ...verdict(duty, ratedSymmetricalKa),
      factor,
      unclippedFactor,
      simplified80PercentRule: within80Percent,
      xOverRWhereFactorIsOne: plainUpTo,
    };
  },
  'c37-latch': ({ eOverXKa, ratedPeakKa, xOverR, factor }) => {
    const latch = closeAndLatch(eOverXKa, xOverR, factor);
    return {
      ...verdict(latch.duty, ratedPeakKa),
      exactPeakKa: latch.exactPeak,
      exactVerdict: ok(comparedWith(latch.exactPeak, ratedPeakKa).holds),
      momentaryRmsAt1_6Ka: latch.momentaryRms,
      factorRms: latch.rmsFactor,
      peakFactorSimplified: latch.peakFactor,
    };
  },
  'c3713-factor': ({ xOverR }) => {
    const { unfused, fused } = lowVoltageFactors(xOverR);
    const printed = (factor: number) => Number(factor.toFixed(2));
    return { unfused, fused, printedUnfused: printed(unfused), printedFused: printed(fused) };
  },
  c3713: ({ symmetricalKa, ratedKa, powerFactorPercent }, { fused }) => {
    const xOverR = xOverROf(powerFactorPercent / 100);
    const factor = lowVoltageFactor(xOverR, fused === true);
    return { ...verdict(symmetricalKa * factor, ratedKa), factor, xOverR };
  },
  'mccb-pf': ({ symmetricalKa, ratedKa, powerFactorPercent, testPowerFactorPercent }) => {
    const { factor, exactRatio } = mouldedFactor(xOverROf(powerFactorPercent / 100), testPowerFactorPercent / 100);
    return { ...verdict(symmetricalKa * factor, ratedKa), factor, exactPeakRatio: exactRatio };
  },
  'rated-current': ({ currentA }) => ({ nextStandardA: nextPreferred(currentA) }),
};
