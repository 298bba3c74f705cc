/** What a person wears at an energy, and how near one may come to live parts. */
import type { Clothing } from '../model/arc';
import { joulesPerCalorie } from './ieee2018';

export const caloriesOf = (joules: number): number => joules / joulesPerCalorie;

/** Null above the last step of the table: nobody works there. */
export function clothingFor(table: readonly Clothing[], energy: number): Clothing | null {
  const cal = caloriesOf(energy);
  return [...table].sort((p, q) => p.upToCal - q.upToCal).find(({ upToCal }) => cal <= upToCal) ?? null;
}

export interface ShockBoundaries {
  /** For persons without instruction, to exposed parts that do not move, in metres. */
  readonly limitedM: number;
  /** Null: contact is avoided. */
  readonly restrictedM: number | null;
}

export const shockSource = 'NFPA 70E, Tables 130.4(E)(a) and (b) (as remembered)';

/** From a voltage on, phase to phase for a.c.: limited and restricted approach, in metres. */
const steps: Readonly<
  Record<'ac' | 'dc', readonly (readonly [kv: number, limitedM: number, restrictedM: number | null])[]>
> = {
  ac: [
    [0.05, 1, null],
    [0.151, 1, 0.3],
    [0.751, 1.5, 0.7],
    [15.1, 1.8, 0.8],
    [36.1, 2.5, 0.8],
    [46.1, 2.5, 1],
    [72.6, 2.5, 1],
    [121.1, 3, 1.1],
    [145.1, 3.6, 1.3],
    [169.1, 4, 1.7],
    [242.1, 4.7, 2.8],
    [362.1, 5.8, 3.6],
    [550.1, 7.2, 4.9],
  ],
  dc: [
    [0.05, 1, null],
    [0.301, 1, 0.3],
    [1.001, 1.5, 0.5],
    [5.001, 1.5, 0.7],
  ],
};

/** Null below 50 V. */
export function shockBoundaries(voltageKv: number, system: 'ac' | 'dc'): ShockBoundaries | null {
  const step = steps[system].filter(([kv]) => voltageKv >= kv).at(-1);
  return step ? { limitedM: step[1], restrictedM: step[2] } : null;
}
