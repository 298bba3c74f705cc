/** Arcs whose current changes while they burn: energies of the stages add up, and the boundary lies where their sum comes to 1.2 cal/cm². */
import { arcingCurrents, boundaryEnergy, energyRate, enclosureCorrection, type ArcPlace2018 } from './ieee2018';

/** A time over which the bolted current stays. */
export interface BoltedStage {
  readonly boltedKa: number;
  readonly durationMs: number;
}

export interface ArcStage extends BoltedStage {
  readonly arcingKa: number;
  readonly energy: number;
}

export interface Staged {
  readonly stages: readonly ArcStage[];
  readonly energy: number;
  readonly boundaryMm: number;
}

/** The standard gives no rule for stages: each takes the bolted current of the sources that are still closed. */
export function stagedEnergy(place: ArcPlace2018, stages: readonly BoltedStage[], reduced: boolean): Staged {
  const correction = enclosureCorrection(place);
  const known = stages.map((stage) => {
    const arcing = arcingCurrents(place, stage.boltedKa);
    const currents = { boltedKa: stage.boltedKa, arcing, reduced };
    return {
      ...stage,
      arcingKa: reduced ? arcing.reducedKa : arcing.currentKa,
      rate: energyRate(place, currents, correction),
    };
  });
  const { energies, ...sum } = summed(
    known.map(({ rate, durationMs: duration }) => ({ rate, duration })),
    place.distanceMm,
  );
  return { ...sum, stages: known.map(({ rate: _, ...stage }, k) => ({ ...stage, energy: energies[k] })) };
}

/** Stages by what each gives in a unit of its duration, over the distance: their energies at a distance, the sum, and its boundary. */
export function summed(
  stages: readonly { readonly rate: (distanceMm: number) => number; readonly duration: number }[],
  distanceMm: number,
): { readonly energies: readonly number[]; readonly energy: number; readonly boundaryMm: number } {
  const at = (mm: number) => stages.reduce((sum, { rate, duration }) => sum + rate(mm) * duration, 0);
  return {
    energies: stages.map(({ rate, duration }) => rate(distanceMm) * duration),
    energy: at(distanceMm),
    boundaryMm: boundaryOf(at),
  };
}

/** Distance at which an energy that falls with it comes to 1.2 cal/cm², in mm; 0 where it does nowhere. */
export function boundaryOf(energyAt: (distanceMm: number) => number, energy = boundaryEnergy): number {
  let [near, far] = [1e-3, 1e7];
  if (!(energyAt(near) > energy)) return 0;
  if (energyAt(far) > energy) return Infinity;
  for (let k = 0; k < 200 && far - near > 1e-10 * far; k++) {
    // Energies are powers of the distance: halved by the logarithm.
    const middle = Math.sqrt(near * far);
    if (energyAt(middle) > energy) near = middle;
    else far = middle;
  }
  return Math.sqrt(near * far);
}

/** Energy of a bolted current that is known at every time: Simpson's rule. */
export function energyOver(
  place: ArcPlace2018,
  boltedKaAt: (ms: number) => number,
  untilMs: number,
  reduced: boolean,
  steps = 2000,
): number {
  const correction = enclosureCorrection(place);
  const rate = (ms: number): number => {
    const boltedKa = boltedKaAt(ms);
    return energyRate(
      place,
      { boltedKa, arcing: arcingCurrents(place, boltedKa), reduced },
      correction,
    )(place.distanceMm);
  };
  const h = untilMs / steps;
  let sum = rate(0) + rate(untilMs);
  for (let k = 1; k < steps; k++) sum += (k % 2 === 1 ? 4 : 2) * rate(k * h);
  return (sum * h) / 3;
}
