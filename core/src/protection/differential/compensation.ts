/**
 * Currents of the sides of a transformer made comparable: turned by the vector group, the zero sequence taken out where it has no way to the other side, over the rated current of
 * the side. IEC 60076-1, 7 for the clock numbers.
 */
import { add, scale, type Complex } from '../../linear/complex';
import type { ThreePhasors } from '../family';

/** A real 3 × 3 matrix by rows. */
export type Matrix3 = readonly (readonly [number, number, number])[];

/** Whether the zero sequence of a side counts. */
export type ZeroSequence = 'removed' | 'kept';

const radians = (degrees: number) => (degrees * Math.PI) / 180;

/** Turns the positive sequence forward by an angle in degrees and the negative one back; without the zero sequence, or with it as it is. */
export function turning(degrees: number, zero: ZeroSequence): Matrix3 {
  const third = zero === 'kept' ? 1 / 3 : 0;
  const at = (more: number) => (2 / 3) * Math.cos(radians(degrees + more)) + third;
  const [own, ahead, behind] = [at(0), at(120), at(-120)];
  return [
    [own, ahead, behind],
    [behind, own, ahead],
    [ahead, behind, own],
  ];
}

export const applied = (matrix: Matrix3, three: ThreePhasors): ThreePhasors =>
  matrix.map((row) =>
    row.reduce<Complex>((sum, factor, k) => add(sum, scale(three[k], factor)), { re: 0, im: 0 }),
  ) as unknown as ThreePhasors;

/** Rated current of a side in amperes: Sr/(√3·Ur); `tapPercent`: by how much the voltage is above the rated one. */
export const sideCurrentA = (ratedMva: number, ratedKv: number, tapPercent = 0): number =>
  (1000 * ratedMva) / (Math.sqrt(3) * ratedKv * (1 + tapPercent / 100));
