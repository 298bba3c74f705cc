/** Resistance of arcs and of earth faults, where nobody has said more. */

/** Distance between phases in metres, and resistance of an earth fault in ohms, by the voltage up to which they are usual (kV). */
const levels = [
  { upToKv: 24, spacingM: 1, earthOhm: 5 },
  { upToKv: 52, spacingM: 1.5, earthOhm: 8 },
  { upToKv: 84, spacingM: 2.5, earthOhm: 10 },
  { upToKv: 170, spacingM: 4, earthOhm: 15 },
  { upToKv: 300, spacingM: 6, earthOhm: 20 },
  { upToKv: Infinity, spacingM: 9, earthOhm: 25 },
] as const;

const levelOf = (kv: number) => levels.find(({ upToKv }) => kv <= upToKv)!;

/** Ours, for want of better: typical of overhead lines. */
export const earthFaultOhm = (kv: number): number => levelOf(kv).earthOhm;
export const phaseSpacingM = (kv: number): number => levelOf(kv).spacingM;

/** Arc in still air, A. R. van C. Warrington (1931), as remembered: R = 28710·L/I^1.4, L in metres, I in amperes. */
export const warringtonOhm = (lengthM: number, ampere: number): number => (28_710 * lengthM) / ampere ** 1.4;
