/**
 * What a current transformer must be able to give, and what it can: electromotive forces, accuracy limit and dimensioning factors. IEC 61869-2, Annex 2A to 2C, and IEEE
 * C37.110, as remembered. Resistances in ohms, electromotive forces in volts r.m.s., times in seconds.
 */

/** Accuracy limit factor on the nameplate: the 20 of 5P20; null for a class without one. */
export const limitFactor = (accuracy: string): number | null => {
  const found = /^\s*\d+(?:\.\d+)?\s*PR?\s*(\d+(?:\.\d+)?)\s*$/i.exec(accuracy);
  return found ? Number(found[1]) : null;
};

/** Burden of the nameplate: Rbn = Sr/Isr². */
export const ratedBurdenOhm = (ratedVa: number, secondaryA: number): number => ratedVa / secondaryA ** 2;

/** Secondary limiting e.m.f. of a P or PR class: EALF = ALF·Isr·(Rct + Rbn). */
export const limitingV = (alf: number, secondaryA: number, windingOhm: number, burdenOhm: number): number =>
  alf * secondaryA * (windingOhm + burdenOhm);

/** Accuracy limit with the burden that is connected: ALF′ = ALF·(Rct + Rbn)/(Rct + Rb). */
export const effectiveAlf = (alf: number, windingOhm: number, ratedOhm: number, burdenOhm: number): number =>
  (alf * (windingOhm + ratedOhm)) / (windingOhm + burdenOhm);

/** Rated knee point e.m.f. of class PX: Ek = Kx·(Rct + Rb)·Isr. */
export const kneeOfPx = (kx: number, windingOhm: number, burdenOhm: number, secondaryA: number): number =>
  kx * (windingOhm + burdenOhm) * secondaryA;

/** E.m.f. that a symmetrical current asks for, `factor` times as much for its d.c. part and remanence: Kssc·Ktd·Isr·(Rct + Rb). */
export const neededV = (
  multiple: number,
  secondaryA: number,
  windingOhm: number,
  burdenOhm: number,
  factor = 1,
): number => multiple * factor * secondaryA * (windingOhm + burdenOhm);

/** Knee for a current with full offset and no remanence: (1 + X/R)·(If/n)·(Rct + Rb), IEEE C37.110. */
export const kneeByXOverR = (xOverR: number, secondaryFaultA: number, windingOhm: number, burdenOhm: number): number =>
  (1 + xOverR) * secondaryFaultA * (windingOhm + burdenOhm);

/** Time constants of the network and of the secondary loop; Ts Infinity: a core that does not decay. */
export interface Constants {
  readonly tpS: number;
  readonly tsS: number;
  readonly frequencyHz: number;
}

/** ω·Tp·Ts/(Tp − Ts)·(e^(−t/Tp) − e^(−t/Ts)): the flux of the d.c. part over the peak of that of the symmetrical current. */
export function directPart({ tpS, tsS, frequencyHz }: Constants, timeS: number): number {
  const omega = 2 * Math.PI * frequencyHz;
  if (tsS === Infinity) return omega * tpS * (1 - Math.exp(-timeS / tpS));
  if (Math.abs(tpS - tsS) < 1e-9 * tsS) return omega * timeS * Math.exp(-timeS / tpS);
  return ((omega * tpS * tsS) / (tpS - tsS)) * (Math.exp(-timeS / tpS) - Math.exp(-timeS / tsS));
}

/** Transient dimensioning factor as the envelope of the flux: its d.c. part and 1. */
export const ktd = (constants: Constants, timeS: number): number => directPart(constants, timeS) + 1;

/** When the envelope is largest. */
export function timeOfLargest({ tpS, tsS }: Constants): number {
  if (tsS === Infinity) return Infinity;
  if (Math.abs(tpS - tsS) < 1e-9 * tsS) return tpS;
  return ((tpS * tsS) / (tpS - tsS)) * Math.log(tpS / tsS);
}

/** Transient factor at a time after inception at an angle: 0 is full offset. For ω·Ts far above 1. */
export function ktf(constants: Constants, timeS: number, inceptionRad = 0): number {
  const omega = 2 * Math.PI * constants.frequencyHz;
  const decay = constants.tsS === Infinity ? 1 : Math.exp(-timeS / constants.tsS);
  return (
    directPart(constants, timeS) * Math.cos(inceptionRad) +
    Math.sin(inceptionRad) * decay -
    Math.sin(omega * timeS + inceptionRad)
  );
}

/** The angle of inception that gives the largest factor at a time, in radians, and that factor. */
export function worstInception(constants: Constants, timeS: number): { readonly rad: number; readonly factor: number } {
  const wt = 2 * Math.PI * constants.frequencyHz * timeS;
  const decay = constants.tsS === Infinity ? 1 : Math.exp(-timeS / constants.tsS);
  // Ktf = (P − sin ωt)·cos θ + (e^(−t/Ts) − cos ωt)·sin θ.
  const [along, across] = [directPart(constants, timeS) - Math.sin(wt), decay - Math.cos(wt)];
  return { rad: Math.atan2(across, along), factor: Math.hypot(along, across) };
}

/** Duty closed–open–closed–open: what the first fault leaves of flux after the dead time, and the second. */
export const ktdTwice = (constants: Constants, firstS: number, deadS: number, secondS: number): number =>
  ktd(constants, firstS) * Math.exp(-(deadS + secondS) / constants.tsS) + ktd(constants, secondS);
