/** What a distance function measures, loop by loop, and which zones the loops lie in. In secondary ohms. */
import { add, magnitude, polar, scale, type Complex } from '../../linear/complex';
import type { InputRating, SeenVectors } from '../family';
import { inLoad, mho, offsetMho, quadrilateral, type Quadrilateral } from './characteristics';
import { loopsOf, type Compensation, type Loop, type Mutual } from './loops';
import type { DistanceFunction, DistanceZone } from './schema';

/** Degrees to radians. */
export const rad = (deg: number): number => (deg * Math.PI) / 180;

export const compensationOf = ({ compensation, k0, k0AngleDeg, kr, kx }: DistanceFunction): Compensation =>
  compensation === 'factor' ? { form: 'factor', k0: polar(k0, rad(k0AngleDeg)) } : { form: 'apart', kr, kx };

/** The function with the residual compensation of one of its zones. */
export const withZoneK0 = (fn: DistanceFunction, { k0, k0AngleDeg }: DistanceZone): DistanceFunction =>
  k0 === null ? fn : { ...fn, compensation: 'factor', k0, k0AngleDeg };

/** Primary ohms into secondary ones; 1 without a voltage transformer. */
export const secondaryOf = ({ primaryA, secondaryA }: InputRating, { ratedV, secondaryV }: SeenVectors): number =>
  secondaryV === null ? 1 : primaryA / secondaryA / (ratedV / secondaryV);

/** The loops in secondary ohms that carry enough to be measured; of earth loops none without residual current. */
export function measuredLoops(
  fn: DistanceFunction,
  rating: InputRating,
  vectors: SeenVectors,
  parallelResidual: Complex | null = null,
): readonly Loop[] {
  const { voltages, currents, before } = vectors;
  if (!voltages) return [];
  const factor = secondaryOf(rating, vectors);
  const mutual: Mutual | null =
    parallelResidual && fn.k0m > 0 ? { k0m: polar(fn.k0m, rad(fn.k0mAngleDeg)), residual: parallelResidual } : null;
  const residual = magnitude(currents.reduce((sum, each) => add(sum, each)));
  const largest = Math.max(...currents.map(magnitude));
  // A residual current of errors is none of an earth fault.
  const isEarth = residual >= Math.max(fn.earthPickup * rating.primaryA, 0.1 * largest);
  return loopsOf({ currents, voltages, before }, compensationOf(fn), mutual)
    .filter(({ isEarth: ofEarth, measuredA }) => measuredA >= fn.startPickup * rating.primaryA && (!ofEarth || isEarth))
    .map((loop) => ({
      ...loop,
      // Voltages in ohms times amperes: the currents stay as they are.
      voltage: scale(loop.voltage, factor),
      cross: scale(loop.cross, factor),
      memory: loop.memory && scale(loop.memory, factor),
      impedance: loop.impedance && scale(loop.impedance, factor),
    }));
}

export const zoneQuad = (fn: DistanceFunction, zone: DistanceZone, isEarth: boolean): Quadrilateral => {
  const reach = isEarth ? zone.reachEarthOhm : zone.reachOhm;
  const resistance = isEarth ? zone.resistanceEarthOhm : zone.resistanceOhm;
  return {
    reactance: reach * Math.sin(rad(fn.lineAngleDeg)),
    resistance,
    left: resistance,
    lineAngleDeg: fn.lineAngleDeg,
    tiltDeg: fn.tiltDeg,
    fromDeg: fn.fromDeg,
    toDeg: fn.toDeg,
  };
};

const turnedRound = (loop: Loop): Loop => ({
  ...loop,
  current: scale(loop.current, -1),
  impedance: loop.impedance && scale(loop.impedance, -1),
});

/** Whether a loop lies in a zone; `wider`: all reaches by so much longer. */
export function inZone(fn: DistanceFunction, zone: DistanceZone, loop: Loop, wider = 1): boolean {
  if (!zone.enabled) return false;
  if (
    fn.loadCut &&
    loop.impedance &&
    inLoad(loop.impedance, { resistance: fn.loadCut.resistanceOhm, angleDeg: fn.loadCut.angleDeg })
  )
    return false;
  const ways =
    zone.looks === 'both' ? [loop, turnedRound(loop)] : [zone.looks === 'forward' ? loop : turnedRound(loop)];
  return ways.some((each) => within(fn, zone, each, wider));
}

function within(fn: DistanceFunction, zone: DistanceZone, loop: Loop, wider: number): boolean {
  const size = wider * (loop.isEarth ? zone.reachEarthOhm : zone.reachOhm);
  const reach = polar(size, rad(fn.lineAngleDeg));
  if (size === 0) return false;
  switch (fn.characteristic) {
    case 'mho':
      return (mho(loop, reach, fn.polarisation) ?? mho(loop, reach, 'memory'))?.operates ?? false;
    case 'offsetMho':
      return offsetMho(loop, reach, fn.offsetPercent / 100).operates;
    case 'quadrilateral': {
      const shape = zoneQuad(fn, zone, loop.isEarth);
      const wide: Quadrilateral = {
        ...shape,
        reactance: wider * shape.reactance,
        resistance: wider * shape.resistance,
        left: wider * shape.left,
      };
      const { impedance } = loop;
      if (!impedance) return false;
      // Right at the relay the impedance has no direction: the voltage before the fault tells.
      if (magnitude(impedance) < 1e-6)
        return (mho(loop, reach, 'memory') ?? mho(loop, reach, 'cross'))?.operates ?? false;
      return quadrilateral(impedance, wide).operates;
    }
  }
}
