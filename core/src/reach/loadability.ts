/**
 * Loadability of phase distance and overcurrent protection after NERC PRC-023: the load that a line must be able to carry at 0.85 of the nominal voltage and a power
 * factor angle of 30° stays outside of the characteristic. Wording and factors of the criteria as remembered.
 */

import type { DistanceFunction } from '../protection/distance/schema';

export type LoadCharacteristic =
  | { readonly type: 'mho'; readonly reach: number; readonly angleDeg: number }
  | {
      readonly type: 'mhoEncroachment';
      readonly reach: number;
      readonly angleDeg: number;
      readonly loadR: number;
      readonly cutDeg: number;
    }
  /** A circle over the reach and a share of it backward. */
  | {
      readonly type: 'offsetMho';
      readonly reach: number;
      readonly offset: number;
      readonly angleDeg: number;
      readonly cut?: LoadCutOut | null;
    }
  | {
      readonly type: 'quadrilateral';
      readonly resistance: number;
      readonly reactance: number;
      readonly lineAngleDeg: number;
      readonly tiltDeg: number;
      readonly cut?: LoadCutOut | null;
    };

/** Resistance from which on the load is cut out, and up to which angle. */
export interface LoadCutOut {
  readonly loadR: number;
  readonly cutDeg: number;
}

/** A zone of a distance function as the load meets it, in primary ohms; without a function the quadrilateral that is usual. `secondary`: secondary ohms of a primary one. */
export function characteristicOf(
  fn: DistanceFunction | null,
  zone: { readonly reach: number; readonly resistance: number; readonly angleDeg: number },
  secondary: number,
): LoadCharacteristic {
  const { reach, resistance, angleDeg } = zone;
  const cut = fn?.loadCut ? { loadR: fn.loadCut.resistanceOhm / secondary, cutDeg: fn.loadCut.angleDeg } : null;
  switch (fn?.characteristic) {
    case 'mho':
      return cut ? { type: 'mhoEncroachment', reach, angleDeg, ...cut } : { type: 'mho', reach, angleDeg };
    case 'offsetMho':
      return { type: 'offsetMho', reach, offset: fn.offsetPercent / 100, angleDeg, cut };
    default:
      return {
        type: 'quadrilateral',
        resistance,
        reactance: reach * Math.sin(rad(angleDeg)),
        lineAngleDeg: angleDeg,
        tiltDeg: fn?.tiltDeg ?? -3,
        cut,
      };
  }
}

export const loadAngleDeg = 30;
export const loadVoltage = 0.85;
export const loadSource = 'NERC PRC-023-6, R1 (as remembered)';

const rad = (deg: number): number => (deg * Math.PI) / 180;
const root3 = Math.sqrt(3);
const quotientMargin = (has: number, asked: number): number => 100 * (has / asked - 1);

/** Reach of a characteristic along an angle, in its ohms; Infinity where it has no end there. */
export function reachAlong(shape: LoadCharacteristic, deg = loadAngleDeg): number {
  const whole = uncutReach(shape, deg);
  const cut = 'cut' in shape ? shape.cut : null;
  return cut && Math.abs(deg) < cut.cutDeg ? Math.min(whole, cut.loadR / Math.cos(rad(deg))) : whole;
}

function uncutReach(shape: LoadCharacteristic, deg: number): number {
  switch (shape.type) {
    case 'mho':
      return Math.max(0, shape.reach * Math.cos(rad(shape.angleDeg - deg)));
    case 'offsetMho': {
      const { reach, offset } = shape;
      // |t·e − c| = r with the centre c along the angle of the circle.
      const [centre, radius] = [(reach * (1 - offset)) / 2, (reach * (1 + offset)) / 2];
      const along = centre * Math.cos(rad(shape.angleDeg - deg));
      const across = centre * Math.sin(rad(shape.angleDeg - deg));
      return along + Math.sqrt(Math.max(0, radius ** 2 - across ** 2));
    }
    case 'mhoEncroachment': {
      const circle = Math.max(0, shape.reach * Math.cos(rad(shape.angleDeg - deg)));
      return Math.abs(deg) < shape.cutDeg ? Math.min(circle, shape.loadR / Math.cos(rad(deg))) : circle;
    }
    case 'quadrilateral': {
      const { resistance, reactance, lineAngleDeg, tiltDeg } = shape;
      const [ray, line, tilt] = [deg, lineAngleDeg, tiltDeg].map((each) => Math.tan(rad(each)));
      const right = ray < line ? resistance / (1 - ray / line) : Infinity;
      const top = ray > tilt ? (reactance * (1 - tilt / line)) / (ray - tilt) : Infinity;
      return Math.min(right, top) / Math.cos(rad(deg));
    }
  }
}

/** Impedance of a load current at the voltage that is asked for. */
export const loadOhm = (nominalKv: number, ampere: number): number =>
  (loadVoltage * nominalKv * 1000) / (root3 * ampere);

/** Load current that a reach at 30° allows. */
export const loadabilityA = (nominalKv: number, ohm: number): number => loadOhm(nominalKv, ohm);

/** Greatest reach of a mho at its angle that lets a load impedance at 30° be. */
export const largestReach = (ohm: number, angleDeg: number): number => ohm / Math.cos(rad(angleDeg - loadAngleDeg));

/** What a criterion asks for, as a current that must not be tripped for. */
export type Criterion =
  /** Highest seasonal rating nearest to 4 h. */
  | { readonly criterion: 1; readonly ratingA: number }
  /** Highest seasonal rating of 15 minutes. */
  | { readonly criterion: 2; readonly rating15A: number }
  /** Greatest transfer at 1.0 per unit on both ends of the line reactance. */
  | { readonly criterion: '3a'; readonly nominalKv: number; readonly lineX: number }
  /** The same at 1.05 per unit behind the reactances of the sources. */
  | {
      readonly criterion: '3b';
      readonly nominalKv: number;
      readonly nearX: number;
      readonly lineX: number;
      readonly farX: number;
    }
  /** Line with series compensation: its highest emergency rating, or the transfer over it. */
  | { readonly criterion: 4; readonly ratingA: number; readonly transferA: number }
  /** Weak source: largest three-phase current at the far end. */
  | { readonly criterion: 5; readonly endFaultA: number }
  /** Generation far from load: what it gives together. */
  | { readonly criterion: 6; readonly nominalKv: number; readonly generationMva: number }
  /** Largest flow in the direction of the load, or of the generation, in any configuration. */
  | { readonly criterion: 7 | 8 | 9; readonly flowA: number }
  /** A transformer: its name plate, or its emergency rating. */
  | {
      readonly criterion: 10;
      readonly nominalKv: number;
      readonly nameplateMva: number;
      readonly emergencyA: number;
    }
  /** Other practical limits. */
  | { readonly criterion: 13; readonly limitA: number };

export interface Required {
  readonly ampere: number;
  readonly factor: number;
  /** What the factor is of, in amperes. */
  readonly ofA: number;
  /** Transfer in MW, for the criteria about it. */
  readonly transferMw: number | null;
  readonly by: 'rating' | 'transfer' | 'fault' | 'generation' | 'flow' | 'nameplate' | 'emergency' | 'limit';
}

export function requiredCurrent(of: Criterion): Required {
  const plain = (factor: number, ofA: number, by: Required['by'], transferMw: number | null = null): Required => ({
    ampere: factor * ofA,
    factor,
    ofA,
    transferMw,
    by,
  });
  switch (of.criterion) {
    case 1:
      return plain(1.5, of.ratingA, 'rating');
    case 2:
      return plain(1.15, of.rating15A, 'rating');
    case '3a': {
      const { nominalKv, lineX } = of;
      return plain(1.15, (Math.SQRT2 * nominalKv * 1000) / (root3 * lineX), 'transfer', nominalKv ** 2 / lineX);
    }
    case '3b': {
      const x = of.nearX + of.lineX + of.farX;
      const kv = 1.05 * of.nominalKv;
      return plain(1.15, (Math.SQRT2 * kv * 1000) / (root3 * x), 'transfer', kv ** 2 / x);
    }
    case 4:
      return of.ratingA >= of.transferA ? plain(1.15, of.ratingA, 'rating') : plain(1.15, of.transferA, 'transfer');
    case 6:
      return plain(2.3, (of.generationMva * 1000) / (root3 * of.nominalKv), 'generation');
    case 7:
    case 8:
    case 9:
      return plain(1.15, of.flowA, 'flow');
    case 5:
      return plain(1.7, of.endFaultA, 'fault');
    case 10: {
      const plate = (of.nameplateMva * 1000) / (root3 * of.nominalKv);
      return 1.5 * plate >= 1.15 * of.emergencyA
        ? plain(1.5, plate, 'nameplate')
        : plain(1.15, of.emergencyA, 'emergency');
    }
    case 13:
      return plain(1.15, of.limitA, 'limit');
  }
}

export interface LoadProof {
  readonly required: Required;
  /** Smallest impedance of the load that must be let be, and reach of the characteristic towards it. */
  readonly loadOhm: number;
  readonly reachOhm: number;
  readonly loadabilityA: number;
  readonly loadabilityMva: number;
  readonly marginPercent: number;
  readonly holds: boolean;
}

/** A characteristic in primary ohms against a criterion. */
export function loadProof(shape: LoadCharacteristic, nominalKv: number, of: Criterion): LoadProof {
  const required = requiredCurrent(of);
  const reachOhm = reachAlong(shape);
  const ampere = loadabilityA(nominalKv, reachOhm);
  return {
    required,
    loadOhm: loadOhm(nominalKv, required.ampere),
    reachOhm,
    loadabilityA: ampere,
    loadabilityMva: (root3 * loadVoltage * nominalKv * ampere) / 1000,
    marginPercent: quotientMargin(ampere, required.ampere),
    holds: ampere > required.ampere,
  };
}

/** Criterion 12: a reach that the protection of the line needs, at the steepest angle there is, and the rating that the line then has. */
export function ratedByReach(
  nominalKv: number,
  lineOhm: number,
  lineAngleDeg: number,
  steepestDeg: number,
): { readonly reachOhm: number; readonly reach30: number; readonly loadabilityA: number; readonly ratingA: number } {
  const reachOhm = (1.25 * lineOhm) / Math.cos(rad(steepestDeg - lineAngleDeg));
  const reach30 = reachOhm * Math.cos(rad(steepestDeg - loadAngleDeg));
  const ampere = loadabilityA(nominalKv, reach30);
  return { reachOhm, reach30, loadabilityA: ampere, ratingA: ampere / 1.15 };
}

/** A phase overcurrent pickup against a criterion. */
export const pickupProof = (
  pickupA: number,
  of: Criterion,
): { readonly required: Required; readonly marginPercent: number; readonly holds: boolean } => {
  const required = requiredCurrent(of);
  return {
    required,
    marginPercent: quotientMargin(pickupA, required.ampere),
    holds: pickupA > required.ampere,
  };
};
