/**
 * In which direction a current flows, by a polarising voltage: phase L1 by U2 − U3 (the sound voltage across from it, which lags its own by 90°), residual by
 * −3U0. Forward while |arg I − arg Upol − characteristic angle| is below half of the sector. Forward is towards the protected side.
 */
import { add, angle, magnitude, scale, subtract, type Complex } from '../../linear/complex';
import type { Quantity, SeenCurrents, SeenVectors } from '../family';
import type { Direction } from './schema';

/** Currents that differ by less are the same. */
const alike = 1e-6;

type Three = readonly [Complex, Complex, Complex];

const crossVoltage = (u: Three, phase: number): Complex => subtract(u[(phase + 1) % 3], u[(phase + 2) % 3]);
const residualOf = (three: Three): Complex => add(add(three[0], three[1]), three[2]);

/** What polarises, by quantity and phase; per unit of the voltage that it has, or can have. Null where there is none to go by. */
function polarising(
  { voltages, before, ratedV }: SeenVectors,
  direction: Direction,
  quantity: Quantity,
  phase: number,
): Complex | null {
  if (!voltages) return null;
  const least = direction.minPolarisingPercent / 100;
  // Phase to phase it is the rated voltage; −3U0 is three times the phase voltage at most.
  const rated = quantity === 'phase' ? ratedV : Math.sqrt(3) * ratedV;
  const of = (u: Three) => (quantity === 'phase' ? crossVoltage(u, phase) : scale(residualOf(u), -1));
  const now = of(voltages);
  if (magnitude(now) >= least * rated && magnitude(now) > 0) return now;
  // Before the fault there is no residual voltage to remember.
  if (direction.withoutVoltage === 'block' || quantity !== 'phase' || !before) return null;
  return of(before);
}

export function isForward(
  current: Complex,
  polarisingV: Complex,
  { characteristicAngleDeg, sectorDeg }: Direction,
): boolean {
  const degrees = ((angle(current) - angle(polarisingV)) * 180) / Math.PI - characteristicAngleDeg;
  return Math.abs(wrapped(degrees)) < sectorDeg;
}

/**
 * By how much the current leads the voltage that polarises, in degrees between −180 and 180: of the phase with the largest current. What the characteristic
 * angle is held against. Null where no voltage tells.
 */
export function leadOf(direction: Direction, quantity: Quantity, { vectors }: SeenCurrents): number | null {
  if (!vectors) return null;
  const currents = quantity === 'residual' ? [residualOf(vectors.currents)] : vectors.currents;
  const sizes = currents.map(magnitude);
  // Two phases of a fault between phases carry the same: the first of them counts, not the one that rounding makes larger.
  const most = Math.max(...sizes);
  const phase = sizes.findIndex((size) => size >= most * (1 - alike));
  const voltage = polarising(vectors, direction, quantity, phase);
  if (!voltage) return null;
  return wrapped(((angle(currents[phase]) - angle(voltage)) * 180) / Math.PI);
}

/** Between −180 and 180 degrees. */
export const wrapped = (degrees: number): number => ((((degrees + 180) % 360) + 360) % 360) - 180;

/** The largest current of those that flow in the direction looked into; nought where none does, or no voltage tells. */
export function directedCurrent(direction: Direction, quantity: Quantity, seen: SeenCurrents): number {
  const { vectors } = seen;
  if (!vectors) return 0;
  const currents = quantity === 'residual' ? [residualOf(vectors.currents)] : vectors.currents;
  let most = 0;
  currents.forEach((current, phase) => {
    const voltage = polarising(vectors, direction, quantity, phase);
    if (!voltage) return;
    const looked = direction.looks === 'forward' ? current : scale(current, -1);
    if (isForward(looked, voltage, direction)) most = Math.max(most, magnitude(current));
  });
  return most;
}
