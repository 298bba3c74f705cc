/**
 * Operating over restraining current, in per unit of a base current that is common to all sides. Every current counts into what is protected. IEEE C37.91 (transformers),
 * C37.243 (lines), C37.234 (busbars), as remembered; which quantity restrains is a property of the device type.
 */
import { add, magnitude, zero, type Complex } from '../../linear/complex';

/** mean: Σ|i|/n; sum: Σ|i|; max: the largest |i|. */
export const restraints = ['mean', 'sum', 'max'] as const;
export type Restraint = (typeof restraints)[number];

/** A pickup, a first slope through the origin up to the knee, and a second one from there on. */
export interface Characteristic {
  readonly pickup: number;
  readonly slope1: number;
  readonly knee: number;
  readonly slope2: number;
}

/** Operating current from which on it trips, at a restraining current. */
export const thresholdAt = ({ pickup, slope1, knee, slope2 }: Characteristic, restraint: number): number =>
  Math.max(pickup, restraint <= knee ? slope1 * restraint : slope1 * knee + slope2 * (restraint - knee));

export const operating = (currents: readonly Complex[]): number =>
  magnitude(currents.reduce((sum, each) => add(sum, each), zero));

export function restraining(currents: readonly Complex[], by: Restraint): number {
  const sizes = currents.map(magnitude);
  if (by === 'max') return Math.max(0, ...sizes);
  const sum = sizes.reduce((p, q) => p + q, 0);
  return by === 'sum' || sizes.length === 0 ? sum : sum / sizes.length;
}

/** Where an element stands in the plane, and how far it is from the characteristic: operating over threshold. */
export interface Point {
  readonly operating: number;
  readonly restraining: number;
  readonly threshold: number;
  readonly trips: boolean;
}

export function pointOf(currents: readonly Complex[], by: Restraint, characteristic: Characteristic): Point {
  const [iop, ires] = [operating(currents), restraining(currents, by)];
  const threshold = thresholdAt(characteristic, ires);
  return { operating: iop, restraining: ires, threshold, trips: iop > threshold };
}
