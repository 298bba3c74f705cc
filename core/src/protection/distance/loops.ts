/**
 * The six loops of a distance relay: voltage, compensated current and polarising voltages of each, as phasors of one scale (primary or secondary), and
 * the impedance that follows. Earth loops: Z = U/(I + k0·3I0 + k0m·3I0p); phase loops: Z = (Ux − Uy)/(Ix − Iy). IEEE C37.113; textbooks.
 */
import { add, divide, magnitude, multiply, scale, subtract, type Complex } from '../../linear/complex';
import type { ThreePhasors } from '../family';

export const loopNames = ['L1E', 'L2E', 'L3E', 'L1L2', 'L2L3', 'L3L1'] as const;
export type LoopName = (typeof loopNames)[number];

/** How earth loops take the residual current in: by one complex factor, or apart for resistance and reactance. */
export type Compensation =
  | { readonly form: 'factor'; readonly k0: Complex }
  /** RE/RL and XE/XL: (R0/R1 − 1)/3 and (X0/X1 − 1)/3. */
  | { readonly form: 'apart'; readonly kr: number; readonly kx: number };

/** Residual current of the parallel line, counted from the same station into it, with k0m = Z0m/(3·Z1). */
export interface Mutual {
  readonly k0m: Complex;
  readonly residual: Complex;
}

export interface LoopsSeen {
  readonly currents: ThreePhasors;
  readonly voltages: ThreePhasors;
  /** Before the fault; null where nothing is remembered. */
  readonly before: ThreePhasors | null;
}

export interface Loop {
  readonly name: LoopName;
  readonly isEarth: boolean;
  readonly voltage: Complex;
  /** Compensated: the voltage over it is the impedance. */
  readonly current: Complex;
  /** Largest of the currents that it is made of: below a least one there is no impedance. */
  readonly measuredA: number;
  /** Null where the current is nought. */
  readonly impedance: Complex | null;
  /** Of the sound phases, turned to lie on the voltage of the loop while all is balanced. */
  readonly cross: Complex;
  /** The voltage of the loop before the fault. */
  readonly memory: Complex | null;
}

const j: Complex = { re: 0, im: 1 };
const root3 = Math.sqrt(3);
const sum = ([p, q, r]: ThreePhasors): Complex => add(add(p, q), r);

/** All loops, earth loops first. */
export function loopsOf(
  { currents, voltages, before }: LoopsSeen,
  compensation: Compensation,
  mutual: Mutual | null = null,
): readonly Loop[] {
  const residual = sum(currents);
  const parallel = mutual ? multiply(mutual.k0m, mutual.residual) : { re: 0, im: 0 };
  return loopNames.map((name, k): Loop => {
    const [x, y, z] = [k % 3, (k + 1) % 3, (k + 2) % 3];
    const isEarth = k < 3;
    if (!isEarth) {
      const voltage = subtract(voltages[x], voltages[y]);
      const current = subtract(currents[x], currents[y]);
      return {
        name,
        isEarth,
        voltage,
        current,
        measuredA: magnitude(current),
        impedance: quotient(voltage, current),
        cross: multiply(scale(j, -root3), voltages[z]),
        memory: before && subtract(before[x], before[y]),
      };
    }
    const voltage = voltages[x];
    const common = {
      name,
      isEarth,
      voltage,
      cross: scale(multiply(j, subtract(voltages[y], voltages[z])), 1 / root3),
      memory: before && before[x],
    };
    if (compensation.form === 'factor') {
      const current = add(add(currents[x], multiply(compensation.k0, residual)), parallel);
      return { ...common, current, measuredA: magnitude(current), impedance: quotient(voltage, current) };
    }
    const { kr, kx } = compensation;
    // U = R·(I + kr·3I0) + jX·(I + kx·3I0), two real equations.
    const own = add(currents[x], parallel);
    const [forR, forX] = [add(own, scale(residual, kr)), add(own, scale(residual, kx))];
    const determinant = forR.re * forX.re + forR.im * forX.im;
    const impedance =
      Math.abs(determinant) > 0
        ? {
            re: (voltage.re * forX.re + voltage.im * forX.im) / determinant,
            im: (voltage.im * forR.re - voltage.re * forR.im) / determinant,
          }
        : null;
    // The one current that gives this impedance; without voltage that of the reactance.
    const current = impedance && magnitude(impedance) > 0 ? divide(voltage, impedance) : forX;
    return { ...common, current, measuredA: magnitude(forX), impedance };
  });
}

const quotient = (voltage: Complex, current: Complex): Complex | null =>
  magnitude(current) > 0 ? divide(voltage, current) : null;

/** Factor of one kind from the data of a line: k0 = (Z0 − Z1)/(3·Z1). */
export const residualFactor = (z1: Complex, z0: Complex): Complex => divide(subtract(z0, z1), scale(z1, 3));

/** RE/RL and XE/XL from the data of a line. */
export const residualRatios = (z1: Complex, z0: Complex): { readonly kr: number; readonly kx: number } => ({
  kr: (z0.re / z1.re - 1) / 3,
  kx: (z0.im / z1.im - 1) / 3,
});

/** k0m = Z0m/(3·Z1). */
export const mutualFactor = (z1: Complex, z0m: Complex): Complex => divide(z0m, scale(z1, 3));

/** Factor by which primary ohms become secondary ones: CT ratio over VT ratio. */
export const toSecondary = (
  ct: { readonly primaryA: number; readonly secondaryA: number },
  vt: { readonly primaryKv: number; readonly secondaryV: number },
): number => ct.primaryA / ct.secondaryA / ((vt.primaryKv * 1000) / vt.secondaryV);
