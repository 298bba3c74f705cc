/**
 * Impedances and capacitances of overhead lines from the geometry of the tower: Carson's earth return (1926), shield wires eliminated,
 * conductors taken as transposed. Lengths in metres, results per kilometre.
 */
import { add, multiply, scale, type Complex } from '../linear/complex';
import { addTo, denseInverse, denseMatrix, entry, kronReduce, type DenseMatrix } from '../linear/dense';
import type { Tower, TowerConductor } from '../model/branches';

/** `series`: Carson's infinite series for the height in hand; `depth`: its limit for low heights, the equivalent depth De. */
export type EarthReturn = 'series' | 'depth';

const epsilon0 = 8.854187817e-12;

const eulerGamma = 0.5772156649015329;

/** De = 2·e^(½ − γ)/√(ωµ0/ρ) in metres: 658.87·√(ρ/f). */
export function equivalentDepth(earthResistivityOhmM: number, frequencyHz: number): number {
  return (
    (2 * Math.exp(0.5 - eulerGamma)) / Math.sqrt((2 * Math.PI * frequencyHz * 4e-7 * Math.PI) / earthResistivityOhmM)
  );
}

/**
 * Impedance in Ω/km of a loop of conductor and earth, without the conductor's own resistance. `distance`: GMR, or distance to the other conductor;
 * `imageDistance` and `imageAngle` (from the vertical): to its image below ground.
 */
export function earthReturnImpedance(
  frequencyHz: number,
  earthResistivityOhmM: number,
  distance: number,
  imageDistance: number,
  imageAngle: number,
  earthReturn: EarthReturn,
): Complex {
  const omega = 2 * Math.PI * frequencyHz;
  if (earthReturn === 'depth') {
    const depth = equivalentDepth(earthResistivityOhmM, frequencyHz);
    return { re: (omega * 1e-4 * Math.PI) / 2, im: omega * 2e-4 * Math.log(depth / distance) };
  }
  const { p, q } = carson(imageDistance * Math.sqrt((omega * 4e-7 * Math.PI) / earthResistivityOhmM), imageAngle);
  return { re: omega * 4e-4 * p, im: omega * 2e-4 * (Math.log(imageDistance / distance) + 2 * q) };
}

/** Carson's correction terms P and Q by their series up to k⁴; good to five digits for k up to 1, far above any line at power frequency. */
export function carson(k: number, theta: number): { p: number; q: number } {
  const root2 = Math.SQRT2;
  const log = Math.log(2 / k);
  const c = (n: number) => Math.cos(n * theta);
  const s = (n: number) => Math.sin(n * theta);
  const p =
    Math.PI / 8 -
    (k * c(1)) / (3 * root2) +
    ((k * k) / 16) * (c(2) * (5 / 4 - eulerGamma + log) + theta * s(2)) +
    (k ** 3 * c(3)) / (45 * root2) -
    (Math.PI * k ** 4 * c(4)) / 1536;
  const q =
    (1 / 2 - eulerGamma) / 2 +
    log / 2 +
    (k * c(1)) / (3 * root2) -
    (Math.PI * k * k * c(2)) / 64 +
    (k ** 3 * c(3)) / (45 * root2) -
    (k ** 4 / 384) * (theta * s(4) + c(4) * (log + 1.0895));
  return { p, q };
}

/** Radius of one conductor that stands for a bundle on a circle: (n·r·R^(n−1))^(1/n). */
export function bundled(radiusM: number, { bundle, bundleSpacingMm }: TowerConductor): number {
  if (bundle === 1) return radiusM;
  const circle = bundleSpacingMm / 1000 / (2 * Math.sin(Math.PI / bundle));
  return (bundle * radiusM * circle ** (bundle - 1)) ** (1 / bundle);
}

/** Series impedance matrix in Ω/km of all conductors in the order given; earth is the return. */
export function primitiveImpedance(
  conductors: readonly TowerConductor[],
  frequencyHz: number,
  earthResistivityOhmM: number,
  earthReturn: EarthReturn = 'series',
): DenseMatrix {
  const m = denseMatrix(conductors.length);
  conductors.forEach((a, i) =>
    conductors.forEach((b, j) => {
      const across = a.xM - b.xM;
      const own = i === j ? bundled(a.gmrMm / 1000, a) : Math.hypot(across, a.heightM - b.heightM);
      const image = Math.hypot(across, a.heightM + b.heightM);
      const angle = Math.atan2(Math.abs(across), a.heightM + b.heightM);
      addTo(m, i, j, earthReturnImpedance(frequencyHz, earthResistivityOhmM, own, image, angle, earthReturn));
      if (i === j) addTo(m, i, j, { re: a.rOhmPerKm / a.bundle, im: 0 });
    }),
  );
  return m;
}

/** Maxwell's potential coefficients in km/F. */
function potentialCoefficients(conductors: readonly TowerConductor[]): DenseMatrix {
  const m = denseMatrix(conductors.length);
  conductors.forEach((a, i) =>
    conductors.forEach((b, j) => {
      const across = a.xM - b.xM;
      const own = i === j ? bundled(a.radiusMm / 1000, a) : Math.hypot(across, a.heightM - b.heightM);
      const image = Math.hypot(across, a.heightM + b.heightM);
      addTo(m, i, j, { re: Math.log(image / own) / (2 * Math.PI * epsilon0) / 1000, im: 0 });
    }),
  );
  return m;
}

export interface LineConstants {
  readonly z1: Complex;
  readonly z0: Complex;
  /** Mean self and mutual impedance of the three phases, Ω/km: Z1 = Zs − Zm, Z0 = Zs + 2·Zm. */
  readonly zSelf: Complex;
  readonly zMutual: Complex;
  readonly b1UsPerKm: number;
  readonly b0UsPerKm: number;
}

/** Conductors of a tower sorted for the reduction: circuits in order, each L1, L2, L3, then the shield wires. */
function sorted(tower: Tower): { conductors: TowerConductor[]; circuits: number[] } {
  const circuits = [...new Set(tower.conductors.filter((c) => c.circuit > 0).map((c) => c.circuit))].sort(
    (p, q) => p - q,
  );
  const phases = circuits.flatMap((circuit) =>
    [1, 2, 3].flatMap((phase) => tower.conductors.filter((c) => c.circuit === circuit && c.phase === phase)),
  );
  return { conductors: [...phases, ...tower.conductors.filter((c) => c.circuit === 0)], circuits };
}

/** What is wrong with a tower for this circuit, in words; null when it can be used. */
export function towerProblem(tower: Tower, circuit: number): string | null {
  for (const phase of [1, 2, 3])
    if (tower.conductors.filter((c) => c.circuit === circuit && c.phase === phase).length !== 1)
      return `${tower.name} must have one conductor L${phase} of circuit ${circuit}`;
  const { circuits } = sorted(tower);
  for (const other of circuits)
    if (tower.conductors.filter((c) => c.circuit === other).length !== 3)
      return `${tower.name}: circuit ${other} must have the three conductors L1, L2 and L3`;
  for (const [i, a] of tower.conductors.entries())
    for (const b of tower.conductors.slice(i + 1))
      if (Math.hypot(a.xM - b.xM, a.heightM - b.heightM) < 0.01)
        return `${tower.name}: two conductors stand at the same place`;
  return null;
}

const meanOf = (m: DenseMatrix, rows: readonly number[], columns: readonly number[], diagonal: boolean): Complex => {
  let sum: Complex = { re: 0, im: 0 };
  let count = 0;
  for (const [p, i] of rows.entries())
    for (const [q, j] of columns.entries())
      if ((p === q) === diagonal) {
        sum = add(sum, entry(m, i, j));
        count++;
      }
  return scale(sum, 1 / count);
};

/** Constants of one circuit; other circuits of the tower are open (they carry no current), shield wires are earthed. Null: see {@link towerProblem}. */
export function lineConstants(
  tower: Tower,
  circuit: number,
  frequencyHz: number,
  earthReturn: EarthReturn = 'series',
): LineConstants | null {
  if (towerProblem(tower, circuit)) return null;
  const { conductors, circuits } = sorted(tower);
  const live = circuits.length * 3;
  const z = kronReduce(primitiveImpedance(conductors, frequencyHz, tower.earthResistivityOhmM, earthReturn), live);
  const capacitance = inverseReduced(potentialCoefficients(conductors), live);
  if (!z || !capacitance) return null;
  const rows = [0, 1, 2].map((k) => circuits.indexOf(circuit) * 3 + k);
  const [zSelf, zMutual] = [meanOf(z, rows, rows, true), meanOf(z, rows, rows, false)];
  const [cSelf, cMutual] = [meanOf(capacitance, rows, rows, true).re, meanOf(capacitance, rows, rows, false).re];
  const omega = 2 * Math.PI * frequencyHz;
  return {
    zSelf,
    zMutual,
    z1: { re: zSelf.re - zMutual.re, im: zSelf.im - zMutual.im },
    z0: { re: zSelf.re + 2 * zMutual.re, im: zSelf.im + 2 * zMutual.im },
    b1UsPerKm: omega * (cSelf - cMutual) * 1e6,
    b0UsPerKm: omega * (cSelf + 2 * cMutual) * 1e6,
  };
}

/** The capacitance matrix of the live conductors in F/km: potential coefficients reduced to them (earthed wires carry no voltage), inverted. */
function inverseReduced(potential: DenseMatrix, live: number): DenseMatrix | null {
  const reduced = kronReduce(potential, live);
  return reduced && denseInverse(reduced);
}

/** Zero-sequence mutual impedance in Ω/km between two circuits of a tower: three times the mean over their nine pairs of conductors. */
export function mutualImpedance(
  tower: Tower,
  first: number,
  second: number,
  frequencyHz: number,
  earthReturn: EarthReturn = 'series',
): Complex | null {
  if (first === second || towerProblem(tower, first) || towerProblem(tower, second)) return null;
  const { conductors, circuits } = sorted(tower);
  const live = circuits.length * 3;
  const z = kronReduce(primitiveImpedance(conductors, frequencyHz, tower.earthResistivityOhmM, earthReturn), live);
  if (!z) return null;
  let sum: Complex = { re: 0, im: 0 };
  for (let p = 0; p < 3; p++)
    for (let q = 0; q < 3; q++)
      sum = add(sum, entry(z, circuits.indexOf(first) * 3 + p, circuits.indexOf(second) * 3 + q));
  return multiply(sum, { re: 1 / 3, im: 0 });
}
