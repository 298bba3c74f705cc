/** The core of a current transformer as its data give it, and what it makes of a fault current. */
import type { CurrentTransformer } from '../model/switching';
import { limitFactor, limitingV, ratedBurdenOhm } from '../ratings/ctAdequacy';
import { curveFromKnee, type Core } from '../ratings/ctSaturation';

/** A P class holds its composite error up to EALF; the knee lies lower. Typical. */
const kneeShare = 0.8;
/** Exciting current at the knee over the rated one, where it is not given. Typical of protection cores. */
const usualExciting = 0.05;

export interface KnownCore extends Core {
  readonly kneeV: number;
  readonly burdenOhm: number;
  readonly windingOhm: number;
  /** What was not given and is taken as typical. */
  readonly assumed: readonly string[];
}

/** Null where neither knee nor class with burden tells anything, or a resistance is missing. */
export function coreOf(ct: CurrentTransformer, frequencyHz: number): KnownCore | null {
  const { windingOhm, burdenOhm, ratedVa, secondaryA, primaryA } = ct;
  if (windingOhm === null || burdenOhm === null) return null;
  const assumed: string[] = [];
  let { kneeV } = ct;
  const alf = limitFactor(ct.accuracy);
  if (kneeV === null) {
    if (alf === null || ratedVa === null) return null;
    kneeV = kneeShare * limitingV(alf, secondaryA, windingOhm, ratedBurdenOhm(ratedVa, secondaryA));
    assumed.push(`knee at ${100 * kneeShare} % of the limiting e.m.f.`);
  }
  const exciting = ct.kneeA ?? usualExciting * secondaryA;
  if (ct.kneeA === null) assumed.push(`exciting current ${100 * usualExciting} % of the rated one at the knee`);
  return {
    ratio: primaryA / secondaryA,
    loopOhm: windingOhm + burdenOhm,
    magnetising: curveFromKnee(kneeV, exciting, frequencyHz),
    kneeV,
    burdenOhm,
    windingOhm,
    assumed,
  };
}

/** Flux that is left, in webers, of the sign that meets a current of full positive offset. */
export const remanenceOf = ({ remanencePercent }: CurrentTransformer, core: Core): number =>
  (remanencePercent / 100) * core.magnetising[0].psiWb;
