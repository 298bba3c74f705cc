/**
 * Resistances of earth electrodes and grids, and what people may bear: closed forms in uniform and two-layer soil. Metres, ohm-metres, ohms, volts, seconds. IEEE 80 and EN 50522 as remembered; rods,
 * wires and rings after H. B. Dwight 1936, compared with integrals of the potential.
 */
import { add, divide, magnitude, multiply, subtract, type Complex } from '../linear/complex';
import { denseInverse, denseMatrix, addTo, entry, type DenseMatrix } from '../linear/dense';

/** J. G. Sverak 1984; IEEE 80 (as remembered): buried length, area, depth. */
export const sverak = (soilOhmM: number, lengthM: number, areaM2: number, depthM: number): number =>
  soilOhmM * (1 / lengthM + (1 / Math.sqrt(20 * areaM2)) * (1 + 1 / (1 + depthM * Math.sqrt(20 / areaM2))));

/** P. Laurent, J. Niemann: the disc of the same area, and the length. */
export const laurentNiemann = (soilOhmM: number, lengthM: number, areaM2: number): number =>
  (soilOhmM / 4) * Math.sqrt(Math.PI / areaM2) + soilOhmM / lengthM;

/** K1 and K2 of S. J. Schwarz 1954 over the ratio of the sides, by depth; straight lines of IEEE 80 (as remembered). */
const schwarzLines = {
  surface: [-0.04, 1.41, 0.15, 5.5],
  'sqrtA/10': [-0.05, 1.2, 0.1, 4.68],
  'sqrtA/6': [-0.05, 1.13, -0.05, 4.4],
} as const;
export type SchwarzDepth = keyof typeof schwarzLines;

export interface SchwarzGrid {
  readonly soilOhmM: number;
  readonly areaM2: number;
  readonly depthM: number;
  readonly lengthToWidth: number;
  readonly conductorM: number;
  readonly conductorRadiusM: number;
  readonly rods: number;
  readonly rodM: number;
  readonly rodRadiusM: number;
  readonly depth: SchwarzDepth;
}

/** Grid and rods together, IEEE 80, 14.3 (as remembered). */
export function schwarz(grid: SchwarzGrid) {
  const { soilOhmM, areaM2, depthM, lengthToWidth, conductorM, conductorRadiusM, rods, rodM, rodRadiusM, depth } = grid;
  const [slope1, at1, slope2, at2] = schwarzLines[depth];
  const k1 = slope1 * lengthToWidth + at1;
  const k2 = slope2 * lengthToWidth + at2;
  const root = Math.sqrt(areaM2);
  const spread = (k1 * conductorM) / root - k2;
  const r1 =
    (soilOhmM / (Math.PI * conductorM)) *
    (Math.log((2 * conductorM) / Math.sqrt(2 * conductorRadiusM * depthM)) + spread);
  const r2 =
    (soilOhmM / (2 * Math.PI * rods * rodM)) *
    (Math.log((4 * rodM) / rodRadiusM) - 1 + ((2 * k1 * rodM) / root) * (Math.sqrt(rods) - 1) ** 2);
  const rm = (soilOhmM / (Math.PI * conductorM)) * (Math.log((2 * conductorM) / rodM) + spread + 1);
  return { k1, k2, r1, r2, rm, ohm: (r1 * r2 - rm ** 2) / (r1 + r2 - 2 * rm) };
}

/** Mean potential of a straight wire that leaks evenly, with itself or a parallel one, over ρ·λ/2π: x is length over distance. */
const evenly = (x: number): number => Math.asinh(x) + 1 / x - Math.sqrt(1 + 1 / x ** 2);

/** Vertical rod from the surface. */
export const rod = (soilOhmM: number, lengthM: number, radiusM: number): number =>
  (soilOhmM / (2 * Math.PI * lengthM)) * (Math.log((4 * lengthM) / radiusM) - 1);
export const rodByPotential = (soilOhmM: number, lengthM: number, radiusM: number): number =>
  (soilOhmM / (2 * Math.PI * lengthM)) * evenly((2 * lengthM) / radiusM);

/** Straight horizontal wire of twice the half length. */
export function wire(soilOhmM: number, halfM: number, radiusM: number, depthM: number): number {
  const s = 2 * depthM;
  const series = s / (2 * halfM) - s ** 2 / (16 * halfM ** 2) + s ** 4 / (512 * halfM ** 4);
  return (
    (soilOhmM / (4 * Math.PI * halfM)) * (Math.log((4 * halfM) / radiusM) + Math.log((4 * halfM) / s) - 2 + series)
  );
}
export const wireByPotential = (soilOhmM: number, halfM: number, radiusM: number, depthM: number): number =>
  (soilOhmM / (4 * Math.PI * halfM)) * (evenly((2 * halfM) / radiusM) + evenly((2 * halfM) / (2 * depthM)));

/** Ring of a diameter, of wire of a diameter. */
export const ring = (soilOhmM: number, diameterM: number, wireM: number, depthM: number): number =>
  (soilOhmM / (2 * Math.PI ** 2 * diameterM)) *
  (Math.log((8 * diameterM) / wireM) + Math.log((4 * diameterM) / (2 * depthM)));

/** The same by the potential of ring and image, which needs no small depth. */
export function ringByPotential(soilOhmM: number, diameterM: number, wireM: number, depthM: number): number {
  const at = (z: number): number => {
    const size = Math.hypot(diameterM, z);
    return ellipticK(diameterM / size) / size;
  };
  return (soilOhmM / (2 * Math.PI ** 2)) * (at(wireM / 2) + at(2 * depthM));
}

/** Complete elliptic integral of the first kind by the arithmetic–geometric mean. */
function ellipticK(k: number): number {
  let [a, b] = [1, Math.sqrt(1 - k * k)];
  for (let n = 0; n < 60 && Math.abs(a - b) > 1e-16 * a; n++) [a, b] = [(a + b) / 2, Math.sqrt(a * b)];
  return Math.PI / (2 * a);
}

export const hemisphere = (soilOhmM: number, radiusM: number): number => soilOhmM / (2 * Math.PI * radiusM);
export const disc = (soilOhmM: number, radiusM: number): number => soilOhmM / (4 * radiusM);

/** Soil of an upper layer over another. */
export interface TwoLayers {
  readonly upperOhmM: number;
  readonly lowerOhmM: number;
  readonly thicknessM: number;
}

const reflection = ({ upperOhmM, lowerOhmM }: TwoLayers): number => (lowerOhmM - upperOhmM) / (lowerOhmM + upperOhmM);

function images(soil: TwoLayers, term: (n: number) => number): number {
  const k = reflection(soil);
  let sum = 0;
  for (let n = 1; n <= 20_000; n++) {
    const factor = k ** n;
    sum += factor * term(n);
    if (Math.abs(factor) < 1e-15) break;
  }
  return sum;
}

/** Rod wholly in the upper layer, G. F. Tagg 1964 (as remembered). */
export const rodInTwoLayers = (soil: TwoLayers, lengthM: number, radiusM: number): number =>
  (soil.upperOhmM / (2 * Math.PI * lengthM)) *
  (Math.log((4 * lengthM) / radiusM) -
    1 +
    images(soil, (n) => {
      const far = 2 * n * soil.thicknessM;
      return Math.log((far + lengthM) / (far - lengthM));
    }));
export const rodInTwoLayersByPotential = (soil: TwoLayers, lengthM: number, radiusM: number): number => {
  const whole = 2 * lengthM;
  return (
    (soil.upperOhmM / (2 * Math.PI * lengthM)) *
    (evenly(whole / radiusM) +
      images(soil, (n) => {
        const c = 2 * n * soil.thicknessM;
        return ((c + whole) * Math.log1p(whole / c) + (c - whole) * Math.log1p(-whole / c)) / whole;
      }))
  );
};

/** Resistivity that a line of four probes sees over this soil (F. Wenner 1915). */
export const wennerOhmM = (soil: TwoLayers, spacingM: number): number =>
  soil.upperOhmM *
  (1 +
    4 *
      images(soil, (n) => {
        const x = ((2 * n * soil.thicknessM) / spacingM) ** 2;
        return 1 / Math.sqrt(1 + x) - 1 / Math.sqrt(4 + x);
      }));

/** Decrement factor: r.m.s. value of a fully offset current over its a.c. part. IEEE 80, 15.10. */
export function decrement(xOverR: number, frequencyHz: number, seconds: number) {
  const timeS = xOverR / (2 * Math.PI * frequencyHz);
  return { timeS, factor: Math.sqrt(1 + (timeS / seconds) * (1 - Math.exp((-2 * seconds) / timeS))) };
}

/** Touch and step voltages that a person bears, IEEE 80, clause 8 (as remembered); a surface layer of no thickness is the soil itself. */
export function tolerable(soilOhmM: number, surfaceOhmM: number, thicknessM: number, seconds: number) {
  const surface = thicknessM > 0 ? surfaceOhmM : soilOhmM;
  const cs = thicknessM > 0 ? 1 - (0.09 * (1 - soilOhmM / surfaceOhmM)) / (2 * thicknessM + 0.09) : 1;
  const of = (ohm: number, ampere: number) => ((1000 + ohm) * ampere) / Math.sqrt(seconds);
  return {
    cs,
    touch50V: of(1.5 * cs * surface, 0.116),
    touch70V: of(1.5 * cs * surface, 0.157),
    step50V: of(6 * cs * surface, 0.116),
    step70V: of(6 * cs * surface, 0.157),
    metalTouch50V: of(0, 0.116),
  };
}

/** Permissible touch voltage, EN 50522, Table B.3 (as remembered). */
const permissible: readonly (readonly [seconds: number, volts: number])[] = [
  [0.05, 716],
  [0.1, 654],
  [0.2, 537],
  [0.5, 220],
  [1, 117],
  [2, 96],
  [5, 86],
  [10, 85],
];

/** Between the points of the table straight over the logarithm of the time; beyond them the nearest. */
export function permissibleTouchV(seconds: number): number {
  const k = permissible.findIndex(([at]) => at >= seconds);
  if (k === 0) return permissible[0][1];
  if (k < 0) return permissible.at(-1)![1];
  const [[t1, u1], [t2, u2]] = [permissible[k - 1], permissible[k]];
  return u1 + ((u2 - u1) * Math.log(seconds / t1)) / Math.log(t2 / t1);
}

/** Reduction factor of wires beside a phase: part of its current that returns in earth far from both ends. `z`: in Ω/km, the phase first. EN 50522, annex I; IEC 60909-3. */
export function reductionFactor(z: DenseMatrix): Complex {
  const wires = z.rows - 1;
  const own = denseMatrix(wires);
  for (let i = 0; i < wires; i++) for (let j = 0; j < wires; j++) addTo(own, i, j, entry(z, i + 1, j + 1));
  const inverse = denseInverse(own);
  if (!inverse) return { re: 1, im: 0 };
  let returned: Complex = { re: 0, im: 0 };
  for (let i = 0; i < wires; i++)
    for (let j = 0; j < wires; j++) returned = add(returned, multiply(entry(inverse, i, j), entry(z, j + 1, 0)));
  return subtract({ re: 1, im: 0 }, returned);
}

/** Reduction factor of a sheath earthed at both ends: its resistance over its impedance with earth as the return. */
export const sheathReduction = (rOhmPerKm: number, impedance: Complex): Complex =>
  divide({ re: rOhmPerKm, im: 0 }, impedance);

/** Impedance of an endless ladder of equal spans and towers from its first span on, J. Endrenyi 1967. */
export const endlessLadder = (span: Complex, towerOhm: number): Complex => {
  const square = add(multiply(span, span), multiply(span, { re: 4 * towerOhm, im: 0 }));
  const size = Math.sqrt(magnitude(square));
  const half = Math.atan2(square.im, square.re) / 2;
  return {
    re: (span.re + size * Math.cos(half)) / 2,
    im: (span.im + size * Math.sin(half)) / 2,
  };
};

/** Of so many spans, each with a tower at its far end; the last one with an electrode in parallel where there is one. */
export function ladder(span: Complex, towerOhm: number, spans: number, endOhm: number | null): Complex {
  let z: Complex = { re: endOhm === null ? towerOhm : (towerOhm * endOhm) / (towerOhm + endOhm), im: 0 };
  for (let k = 0; k < spans; k++) {
    const along = add(span, z);
    z = k === spans - 1 ? along : divide(multiply(along, { re: towerOhm, im: 0 }), add(along, { re: towerOhm, im: 0 }));
  }
  return z;
}

/** Least cross-section of a conductor that reaches a temperature, in mm²; IEEE 80, 11.3 (as remembered). */
export const sectionTo = (given: {
  readonly kA: number;
  readonly seconds: number;
  readonly ambientC: number;
  readonly endC: number;
  readonly alpha: number;
  readonly k0: number;
  /** µΩ·cm. */
  readonly resistivity: number;
  /** J/(cm³·°C). */
  readonly capacity: number;
}): number =>
  given.kA /
  Math.sqrt(
    ((given.capacity * 1e-4) / (given.seconds * given.alpha * given.resistivity)) *
      Math.log((given.k0 + given.endC) / (given.k0 + given.ambientC)),
  );
