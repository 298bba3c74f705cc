/** Proofs of loadability. */
import {
  largestReach,
  loadProof,
  pickupProof,
  ratedByReach,
  requiredCurrent,
  type Criterion,
  type LoadCharacteristic,
} from '@mesura/core/reach/loadability';
import { toSecondary } from '@mesura/core/protection/distance/loops';
import type { Inputs } from './case';
import type { RelayCase } from './distance';

type Shape =
  | { readonly type: 'mho'; readonly Zr: number; readonly mta: number }
  | {
      readonly type: 'mhoEncroachment';
      readonly Zr: number;
      readonly mta: number;
      readonly Rload: number;
      readonly cut: number;
    }
  | {
      readonly type: 'quadrilateral';
      readonly Rr: number;
      readonly Xr: number;
      readonly phi: number;
      readonly tilt: number;
    };

interface Given extends Pick<RelayCase, 'ct' | 'vt'> {
  readonly criterion: number | string;
  readonly characteristicPrimaryOhm?: Shape;
  readonly nominalKv: number;
  readonly facilityRatingA: number;
  readonly rating15MinuteA: number;
  readonly XSOhm: number;
  readonly XLOhm: number;
  readonly XROhm: number;
  readonly endOfLineFaultA: number;
  readonly nameplateMVA: number;
  readonly emergencyRatingA: number;
  readonly practicalLimitA: number;
  readonly lineOhm: number;
  readonly lineAngleDegrees: number;
  readonly highestMtaDegrees: number;
  readonly pickupSecondaryA?: number;
}

const shapeOf = (shape: Shape): LoadCharacteristic => {
  switch (shape.type) {
    case 'mho':
      return { type: 'mho', reach: shape.Zr, angleDeg: shape.mta };
    case 'mhoEncroachment':
      return { type: 'mhoEncroachment', reach: shape.Zr, angleDeg: shape.mta, loadR: shape.Rload, cutDeg: shape.cut };
    case 'quadrilateral':
      return {
        type: 'quadrilateral',
        resistance: shape.Rr,
        reactance: shape.Xr,
        lineAngleDeg: shape.phi,
        tiltDeg: shape.tilt,
      };
  }
};

function criterionOf(given: Given): Criterion | null {
  const { nominalKv } = given;
  switch (String(given.criterion)) {
    case '1':
      return { criterion: 1, ratingA: given.facilityRatingA };
    case '2':
      return { criterion: 2, rating15A: given.rating15MinuteA };
    case '3a':
      return { criterion: '3a', nominalKv, lineX: given.XLOhm };
    case '3b':
      return { criterion: '3b', nominalKv, nearX: given.XSOhm, lineX: given.XLOhm, farX: given.XROhm };
    case '5':
      return { criterion: 5, endFaultA: given.endOfLineFaultA };
    case '10':
      return { criterion: 10, nominalKv, nameplateMva: given.nameplateMVA, emergencyA: given.emergencyRatingA };
    case '13':
      return { criterion: 13, limitA: given.practicalLimitA };
    default:
      return null;
  }
}

export function loadability(inputs: Inputs): unknown {
  const given = inputs as unknown as Given;
  const of = criterionOf(given);
  if (given.pickupSecondaryA !== undefined && of) {
    const pickupPrimaryA = (given.pickupSecondaryA * given.ct.primaryA) / given.ct.secondaryA;
    const { required, marginPercent, holds } = pickupProof(pickupPrimaryA, of);
    return { pickupPrimaryA, requiredCurrentA: required.ampere, marginPercent, holds };
  }
  const shape = given.characteristicPrimaryOhm && shapeOf(given.characteristicPrimaryOhm);
  if (!shape) return null;
  const secondary = toSecondary(given.ct, given.vt);
  const { nominalKv } = given;
  const rated = of ? null : ratedByReach(nominalKv, given.lineOhm, given.lineAngleDegrees, given.highestMtaDegrees);
  const proof = loadProof(shape, nominalKv, of ?? { criterion: 13, limitA: rated!.ratingA });
  const { required } = of ? { required: requiredCurrent(of) } : proof;
  return {
    requiredCurrentA: required.ampere,
    Zload30PrimaryOhm: proof.loadOhm,
    Zload30SecondaryOhm: proof.loadOhm * secondary,
    Z30PrimaryOhm: proof.reachOhm,
    Z30SecondaryOhm: proof.reachOhm * secondary,
    loadabilityA: proof.loadabilityA,
    loadabilityMVA: proof.loadabilityMva,
    marginPercent: proof.marginPercent,
    holds: proof.holds,
    largestZrPrimaryOhm: shape.type === 'mho' ? largestReach(proof.loadOhm, shape.angleDeg) : undefined,
    greatestTransferA: required.transferMw === null ? undefined : required.ofA,
    greatestTransferMW: required.transferMw ?? undefined,
    nameplateA: of?.criterion === 10 ? (of.nameplateMva * 1000) / (Math.sqrt(3) * nominalKv) : undefined,
    by: required.by,
    lineRatedByLoadabilityA: rated?.ratingA,
    ZrOhm: rated?.reachOhm,
  };
}
