/** What a differential function makes of the currents at its inputs: points in its plane, phase by phase, for residual and negative sequence. */
import { add, scale, subtract, zero, type Complex } from '../../linear/complex';
import { toComponents } from '../../sequence/components';
import type { ElementId } from '../../model/fields';
import type { SeenCurrents, ThreePhasors } from '../family';
import { operating, pointOf, type Characteristic, type Point } from './characteristic';
import { applied, turning, type Matrix3 } from './compensation';
import type { DifferentialFunction, DifferentialSide } from './schema';

export const characteristicOf = (fn: DifferentialFunction): Characteristic => ({
  pickup: fn.pickup,
  slope1: fn.slope1Percent / 100,
  knee: fn.knee,
  slope2: fn.slope2Percent / 100,
});

/** A pickup and one slope through the origin. */
export const sequenceCharacteristic = (fn: DifferentialFunction, pickup: number): Characteristic => ({
  pickup,
  slope1: fn.sequenceSlopePercent / 100,
  knee: 0,
  slope2: fn.sequenceSlopePercent / 100,
});

const matrices = new Map<string, Matrix3>();

/** How the currents of a side are turned. */
export function matrixOf({ clock, zero: homopolar }: Pick<DifferentialSide, 'clock' | 'zero'>): Matrix3 | null {
  if (clock === 0 && homopolar === 'kept') return null;
  const key = `${clock} ${homopolar}`;
  let matrix = matrices.get(key);
  if (!matrix) matrices.set(key, (matrix = turning(30 * clock, homopolar)));
  return matrix;
}

/** Currents of a side in per unit, comparable with those of the others. */
export function matched(side: DifferentialSide, currents: ThreePhasors): ThreePhasors {
  const own = currents.map((each) => scale(each, 1 / side.baseA)) as unknown as ThreePhasors;
  const matrix = matrixOf(side);
  return matrix ? applied(matrix, own) : own;
}

/** One element of a function in its plane. */
export interface ElementPoint extends Point {
  /** "L1", "3I0", "I2". */
  readonly name: string;
  readonly element: 'phase' | 'residual' | 'negative';
  readonly characteristic: Characteristic;
}

const phaseNames = ['L1', 'L2', 'L3'] as const;
const residualOf = ([p, q, r]: ThreePhasors): Complex => add(p, add(q, r));

/** j·Ic·U/(Ur/√3): what the line draws of this voltage, in amperes. */
const chargingOf = (chargingA: number, voltage: Complex, ratedV: number): Complex => {
  const factor = (chargingA * Math.sqrt(3)) / ratedV;
  return { re: -factor * voltage.im, im: factor * voltage.re };
};

/** Sides that take part, in per unit; null where a current that the function needs is not known. */
export function sidesSeen(
  fn: DifferentialFunction,
  seen: SeenCurrents,
  only?: readonly string[],
): readonly ThreePhasors[] | null {
  const sides = only ? fn.sides.filter(({ input }) => only.includes(input)) : fn.sides;
  const found: ThreePhasors[] = [];
  for (const [k, side] of sides.entries()) {
    const at = seen.inputs?.[side.input] ?? (side.input === fn.input ? seen : undefined);
    if (!at) return null;
    const currents = at.vectors?.currents ?? (at.phaseA === 0 ? ([zero, zero, zero] as const) : null);
    if (!currents) return null;
    const { vectors } = seen;
    const compensated =
      k === 0 && fn.chargingA !== null && vectors?.voltages
        ? (currents.map((each, phase) =>
            subtract(each, chargingOf(fn.chargingA!, vectors.voltages![phase], vectors.ratedV)),
          ) as unknown as ThreePhasors)
        : currents;
    found.push(matched(side, compensated));
  }
  return found;
}

/** What is compared with each other. */
export interface Compared {
  /** Of busbars: the first one of the zone. */
  readonly bus?: ElementId;
  /** None: all of the function. */
  readonly inputs?: readonly string[];
  readonly breakers?: readonly ElementId[];
}

/** Of busbars each zone as the switches stand, of all else the function as a whole. */
export function comparedIn({ code, buses }: DifferentialFunction, { zones }: SeenCurrents): readonly Compared[] {
  if (code !== '87B' || buses.length === 0) return [{}];
  return buses.flatMap((bus): Compared[] => {
    const zone = zones?.get(bus);
    // Two busbars that are joined are one zone: the first of them stands for both.
    if (!zone || buses.some((other) => other < bus && zone.buses.includes(other))) return [];
    return [{ bus, inputs: zone.inputs, breakers: zone.breakers }];
  });
}

const nearness = (fn: DifferentialFunction, sides: readonly ThreePhasors[]): number =>
  fn.scheme === 'highImpedance'
    ? sumA(fn, sides) / highImpedanceA(fn, 1, sides.length)
    : Math.max(...pointsOf(fn, sides).map((each) => each.operating / each.threshold));

/** Sides of what is nearest to its trip; null where a current that the function needs is not known. */
export function nearestSides(fn: DifferentialFunction, seen: SeenCurrents): readonly ThreePhasors[] | null {
  const all = comparedIn(fn, seen).flatMap(({ inputs }) => {
    const sides = sidesSeen(fn, seen, inputs);
    return sides && sides.length > 0 ? [{ sides, near: nearness(fn, sides) }] : [];
  });
  return all.length > 0 ? all.reduce((p, q) => (q.near > p.near ? q : p)).sides : null;
}

/** All elements in use, in the plane. */
export function pointsOf(fn: DifferentialFunction, sides: readonly ThreePhasors[]): readonly ElementPoint[] {
  const points: ElementPoint[] = [];
  if (fn.code === '87N') {
    const characteristic = characteristicOf(fn);
    const residuals = sides.map(residualOf);
    points.push({ name: '3I0', element: 'phase', characteristic, ...pointOf(residuals, fn.restraint, characteristic) });
    return points;
  }
  const characteristic = characteristicOf(fn);
  phaseNames.forEach((name, phase) => {
    const currents = sides.map((three) => three[phase]);
    points.push({ name, element: 'phase', characteristic, ...pointOf(currents, fn.restraint, characteristic) });
  });
  const sequence = (name: '3I0' | 'I2', element: 'residual' | 'negative', pickup: number | null) => {
    if (pickup === null) return;
    const own = sequenceCharacteristic(fn, pickup);
    const currents = sides.map((three) =>
      element === 'residual' ? residualOf(three) : toComponents(three[0], three[1], three[2]).negative,
    );
    points.push({ name, element, characteristic: own, ...pointOf(currents, fn.restraint, own) });
  };
  sequence('3I0', 'residual', fn.residualPickup);
  sequence('I2', 'negative', fn.negativePickup);
  return points;
}

/** Primary amperes from which on a high-impedance scheme operates: relay, all current transformers and varistor are fed. */
export const highImpedanceA = (fn: DifferentialFunction, turns: number, count: number): number =>
  turns * (fn.relayA + count * fn.magnetisingA + fn.varistorA);

/** Largest sum of a phase, or of all of them for restricted earth fault, in primary amperes. */
export function sumA(fn: DifferentialFunction, sides: readonly ThreePhasors[]): number {
  if (fn.code === '87N') return operating(sides.map(residualOf));
  return Math.max(...[0, 1, 2].map((phase) => operating(sides.map((three) => three[phase]))));
}
