/** Energy, boundary and arcing currents of a course by the edition that the project has chosen; by the theoretical method where the models end. */
import { arcingCurrent2002, exposure2002, outOfRange2002, reducedShare2002 } from './ieee2002';
import { arcingCurrents, enclosureCorrection, energyRate, forbids, isConfirmed, outOfRange2018 } from './ieee2018';
import type { ArcPlace } from './equipment';
import { as2002 } from './equipment';
import { summed } from './stages';
import { theoreticalEnergy } from './theoretical';

export const arcMethods = ['2018', '2002', 'theoretical'] as const;
export type ArcMethod = (typeof arcMethods)[number];

export const methodTitles: Readonly<Record<ArcMethod, string>> = {
  2018: 'IEEE 1584-2018',
  2002: 'IEEE 1584-2002',
  theoretical: 'theoretical method (R. H. Lee)',
};

/** How arcs at a place are judged. */
export interface ArcModel {
  readonly method: ArcMethod;
  /** Whether anybody here could confirm the coefficients. */
  readonly confirmed: boolean;
  /** Why the edition is not used, or what of the place is beyond what it was tested for. */
  readonly remarks: readonly string[];
  /** Arcing current of a bolted current in kA, full or reduced. */
  readonly arcingKa: (boltedKa: number, reduced: boolean) => number;
  readonly hasReduced: boolean;
  /** J/cm² of each second, over the distance in mm. */
  readonly rate: (boltedKa: number, reduced: boolean) => (distanceMm: number) => number;
}

export function arcModel(edition: '2018' | '2002', place: ArcPlace, boltedKa: number, earthed: boolean): ArcModel {
  const { voltageKv } = place;
  const out = edition === '2018' ? outOfRange2018(place, boltedKa) : [];
  const beyond =
    edition === '2018'
      ? out.filter(forbids).map(({ message }) => message)
      : outOfRange2002(as2002(place, earthed), boltedKa);
  if (beyond.length > 0)
    return {
      method: 'theoretical',
      confirmed: false,
      remarks: [...beyond.map((each) => `${methodTitles[edition]} does not apply: ${each}`), theoreticalLimits],
      // The arc takes the largest power that the circuit gives: the energy counts the bolted current.
      arcingKa: (ka) => ka,
      hasReduced: false,
      rate: (ka) => (mm) => theoreticalEnergy(voltageKv, ka, 1, mm),
    };
  if (edition === '2002') {
    const own = as2002(place, earthed);
    const share = (reduced: boolean) => (reduced && voltageKv < 1 ? reducedShare2002 : 1);
    return {
      method: '2002',
      confirmed: false,
      remarks: [],
      arcingKa: (ka, reduced) => share(reduced) * arcingCurrent2002(own, ka),
      hasReduced: voltageKv < 1,
      rate: (ka, reduced) => {
        const arcingKa = share(reduced) * arcingCurrent2002(own, ka);
        const { energy } = exposure2002({ ...own, distanceMm: 610 }, arcingKa, 1);
        return (mm) => energy * (610 / mm) ** own.distanceExponent;
      },
    };
  }
  const correction = enclosureCorrection(place);
  return {
    method: '2018',
    confirmed: isConfirmed(place),
    remarks: out.map(({ message }) => message),
    arcingKa: (ka, reduced) => {
      const { currentKa, reducedKa } = arcingCurrents(place, ka);
      return reduced ? reducedKa : currentKa;
    },
    hasReduced: true,
    rate: (ka, reduced) => {
      const rate = energyRate(place, { boltedKa: ka, arcing: arcingCurrents(place, ka), reduced }, correction);
      return (mm) => 1000 * rate(mm);
    },
  };
}

const theoreticalLimits =
  'theoretical method: open air, largest power of the circuit; no reflection out of a box, too high by far at high voltage';

export interface JudgedStage {
  readonly fromS: number;
  readonly toS: number;
  readonly boltedKa: number;
  readonly arcingKa: number;
  readonly energy: number;
}

export interface JudgedArc {
  readonly stages: readonly JudgedStage[];
  /** J/cm² at the working distance. */
  readonly energy: number;
  /** Where it comes to 1.2 cal/cm², in mm. */
  readonly boundaryMm: number;
}

export function judgedArc(
  model: ArcModel,
  distanceMm: number,
  stages: readonly Omit<JudgedStage, 'energy'>[],
  reduced: boolean,
): JudgedArc {
  const { energies, ...sum } = summed(
    stages.map(({ fromS, toS, boltedKa }) => ({
      rate: boltedKa > 0 ? model.rate(boltedKa, reduced) : () => 0,
      duration: toS - fromS,
    })),
    distanceMm,
  );
  return { ...sum, stages: stages.map((stage, k) => ({ ...stage, energy: energies[k] })) };
}
