/**
 * Motors at starting: current and torque over slip. Torque by Kloss's formula through breakdown and locked-rotor torque; the least torques of IEC 60034-12,
 * design N, stand in where none are given (recalled, not verified).
 */
import { motorResistanceRatio } from '../sequence/asynchronousMotor';
import type { AsynchronousMotor } from '../model/sources';
import type { Complex } from '../linear/complex';

/** Least torques over rated torque by output in kW: locked rotor for 2, 4, 6, 8 poles, then breakdown for the same. IEC 60034-12, table of design N. */
const leastTorques: readonly (readonly [
  upToKw: number,
  lockedRotor: readonly number[],
  breakdown: readonly number[],
])[] = [
  [0.63, [1.9, 2, 1.7, 1.5], [2, 2, 1.7, 1.6]],
  [1, [1.8, 1.9, 1.7, 1.5], [2, 2, 1.8, 1.7]],
  [1.6, [1.8, 1.9, 1.6, 1.4], [2, 2, 1.9, 1.8]],
  [2.5, [1.7, 1.8, 1.6, 1.4], [2, 2, 1.9, 1.8]],
  [4, [1.6, 1.7, 1.5, 1.3], [2, 2, 1.9, 1.8]],
  [6.3, [1.5, 1.6, 1.5, 1.3], [2, 2, 1.9, 1.8]],
  [10, [1.5, 1.6, 1.5, 1.3], [2, 2, 1.8, 1.7]],
  [16, [1.4, 1.5, 1.4, 1.2], [2, 2, 1.8, 1.7]],
  [25, [1.3, 1.4, 1.4, 1.2], [1.9, 1.9, 1.8, 1.7]],
  [40, [1.2, 1.3, 1.3, 1.2], [1.9, 1.9, 1.8, 1.7]],
  [63, [1.1, 1.2, 1.2, 1.1], [1.8, 1.8, 1.7, 1.7]],
  [100, [1, 1.1, 1.1, 1], [1.8, 1.8, 1.7, 1.6]],
  [160, [0.9, 1, 1, 0.9], [1.7, 1.7, 1.7, 1.6]],
  [250, [0.8, 0.9, 0.9, 0.9], [1.7, 1.7, 1.6, 1.6]],
  [400, [0.75, 0.75, 0.75, 0.75], [1.6, 1.6, 1.6, 1.6]],
  [630, [0.65, 0.65, 0.65, 0.65], [1.6, 1.6, 1.6, 1.6]],
  [Infinity, [0.5, 0.5, 0.5, 0.5], [1.6, 1.6, 1.6, 1.6]],
];

/** Least locked-rotor and breakdown torque over rated torque (IEC 60034-12, design N). */
export function leastTorquesOf(ratedKw: number, polePairs: number): { lockedRotor: number; breakdown: number } {
  const [, lockedRotor, breakdown] = leastTorques.find(([upTo]) => ratedKw <= upTo)!;
  const column = Math.min(polePairs, 4) - 1;
  return { lockedRotor: lockedRotor[column], breakdown: breakdown[column] };
}

/** Kloss: T = 2·Tb/(s/sb + sb/s). */
export interface Torque {
  readonly breakdownNm: number;
  readonly breakdownSlip: number;
}

export const torqueAt = ({ breakdownNm, breakdownSlip }: Torque, slip: number): number =>
  (2 * breakdownNm) / (slip / breakdownSlip + breakdownSlip / slip);

export interface LoadTorque {
  readonly follows: 'constant' | 'linear' | 'quadratic';
  /** At synchronous speed. */
  readonly nm: number;
}

export const loadTorqueAt = ({ follows, nm }: LoadTorque, slip: number): number =>
  nm * { constant: 1, linear: 1 - slip, quadratic: (1 - slip) ** 2 }[follows];

/** What a motor is at starting; one of a group. */
export interface StartingMotor {
  readonly ratedA: number;
  /** At rated voltage. */
  readonly startingA: number;
  readonly powerFactor: number;
  readonly synchronousRpm: number;
  readonly ratedSlip: number;
  readonly ratedNm: number;
  readonly torque: Torque;
  readonly load: LoadTorque;
  readonly inertiaKgM2: number | null;
  /** Fields that a typical value stands for. */
  readonly assumed: readonly string[];
}

export function startingMotor(motor: AsynchronousMotor, frequencyHz: number): StartingMotor {
  const { ratedMw, ratedKv, powerFactor, efficiencyPercent, startingRatio, polePairs, loadingPercent } = motor;
  const assumed: string[] = [];
  const or = <T>(value: T | null, typical: () => T, field: string): T => {
    if (value !== null) return value;
    assumed.push(field);
    return typical();
  };
  const ratedA = (ratedMw * 1000) / (Math.sqrt(3) * ratedKv * (efficiencyPercent / 100) * powerFactor);
  const least = leastTorquesOf(ratedMw * 1000, polePairs);
  const start = or(motor.startTorque, () => least.lockedRotor, 'startTorque');
  const pullOut = or(motor.pullOutTorque, () => Math.max(least.breakdown, start), 'pullOutTorque');
  const startPowerFactor = or(
    motor.startPowerFactor,
    () => {
      const ratio = motor.rOverX ?? motorResistanceRatio(ratedKv, ratedMw / polePairs);
      return ratio / Math.hypot(ratio, 1);
    },
    'startPowerFactor',
  );
  // Kloss through the locked rotor, and the slip at which it gives the rated torque.
  const steep = Math.max(pullOut / start, 1);
  const breakdownSlip = steep - Math.sqrt(steep ** 2 - 1);
  const ratedSlip = breakdownSlip * (pullOut - Math.sqrt(pullOut ** 2 - 1));
  const synchronousRpm = (60 * frequencyHz) / polePairs;
  const ratedNm = (ratedMw * 1e6) / ((2 * Math.PI * synchronousRpm * (1 - ratedSlip)) / 60);
  // The load asks for its share of the rated torque at rated speed.
  const nm = (ratedNm * loadingPercent) / 100 / loadTorqueAt({ follows: motor.loadTorque, nm: 1 }, ratedSlip);
  return {
    ratedA,
    startingA: startingRatio * ratedA,
    powerFactor: startPowerFactor,
    synchronousRpm,
    ratedSlip,
    ratedNm,
    torque: { breakdownNm: pullOut * ratedNm, breakdownSlip },
    load: { follows: motor.loadTorque, nm },
    inertiaKgM2: motor.inertiaKgM2,
    assumed,
  };
}

/** Impedance over that with the rotor locked: stator and rotor resistance and reactance in series, the rotor's over slip, its angle kept at standstill. */
export function impedanceAt(
  { powerFactor, torque }: Pick<StartingMotor, 'powerFactor' | 'torque'>,
  slip: number,
): Complex {
  const x = Math.sqrt(1 - powerFactor ** 2);
  const rotor = Math.min(torque.breakdownSlip * x, powerFactor);
  return { re: powerFactor - rotor + rotor / slip, im: x };
}

export interface RunUp {
  readonly runsUp: boolean;
  /** Null when it does not run up. */
  readonly timeS: number | null;
  /** Torque with the rotor locked, at the voltage of the start. */
  readonly startTorqueNm: number;
  /** Where it comes to rest when it does not run up; 1: it does not start. */
  readonly stallSlip: number | null;
  /** Time over slip, for a curve. */
  readonly course: readonly { readonly slip: number; readonly timeS: number; readonly accelerating: number }[];
}

export interface RunUpGiven {
  readonly torque: Torque;
  readonly load: LoadTorque;
  readonly inertiaKgM2: number;
  readonly synchronousRpm: number;
  readonly endSlip: number;
  /** Torque factor over slip: the square of the voltage in per unit, and of the starter's reduction. */
  readonly factor: (slip: number) => number;
}

/** Points and weights of Gauss and Legendre between −1 and 1. */
const gauss = [
  [0.1488743389816312, 0.2955242247147529],
  [0.4333953941292472, 0.2692667193099963],
  [0.6794095682990244, 0.219086362515982],
  [0.8650633666889845, 0.1494513491505806],
  [0.9739065285171717, 0.0666713443086881],
] as const;

const pieces = 48;

/** J·dω/dt = torque of the motor less that of the load, from standstill to a slip near the end. */
export function runUp({ torque, load, inertiaKgM2, synchronousRpm, endSlip, factor }: RunUpGiven): RunUp {
  const accelerating = (slip: number) => factor(slip) * torqueAt(torque, slip) - loadTorqueAt(load, slip);
  const startTorqueNm = factor(1) * torqueAt(torque, 1);
  const stallSlip = firstStall(accelerating, endSlip);
  if (stallSlip !== null) return { runsUp: false, timeS: null, startTorqueNm, stallSlip, course: [] };
  const momentum = inertiaKgM2 * ((2 * Math.PI * synchronousRpm) / 60);
  // Evenly spread in the logarithm of slip: near the end little torque is left.
  const edge = (k: number) => endSlip ** (k / pieces);
  const course = [{ slip: 1, timeS: 0, accelerating: accelerating(1) }];
  let timeS = 0;
  for (let k = 0; k < pieces; k++) {
    const [high, low] = [edge(k), edge(k + 1)];
    const [middle, half] = [(high + low) / 2, (high - low) / 2];
    for (const [x, weight] of gauss)
      for (const sign of [-1, 1]) timeS += (weight * half * momentum) / accelerating(middle + sign * x * half);
    course.push({ slip: low, timeS, accelerating: accelerating(low) });
  }
  return { runsUp: true, timeS, startTorqueNm, stallSlip: null, course };
}

/** The first slip on the way from standstill at which nothing accelerates any more; null when there is none before the end. */
function firstStall(accelerating: (slip: number) => number, endSlip: number): number | null {
  if (accelerating(1) <= 0) return 1;
  const steps = 2000;
  let high = 1;
  for (let k = 1; k <= steps; k++) {
    let low = endSlip ** (k / steps);
    if (accelerating(low) > 0) {
      high = low;
      continue;
    }
    for (let n = 0; n < 80; n++) {
      const middle = (low + high) / 2;
      if (accelerating(middle) > 0) high = middle;
      else low = middle;
    }
    return (low + high) / 2;
  }
  return null;
}
