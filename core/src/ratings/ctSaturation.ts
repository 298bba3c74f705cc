/**
 * A current transformer under a fault current, step by step: the flux of its core by dψ/dt = R·(ip/n − im(ψ)), its magnetising current by a curve of straight pieces. IEC
 * 61869-2, Annex 2E (the equations as such are physics). Secondary amperes, volts, webers of the whole secondary winding.
 */

/** Points of the magnetising curve in the first quadrant; straight between them, from the origin, and on with the last slope. */
export interface Magnetising {
  readonly imA: number;
  readonly psiWb: number;
}

export interface Core {
  readonly ratio: number;
  /** Of winding and burden together. */
  readonly loopOhm: number;
  readonly magnetising: readonly Magnetising[];
}

/** A primary current √2·I·(e^(−t/Tp)·cos θ − cos(ωt + θ)); θ = 0 is full offset, Tp = 0 none. */
export interface OffsetCurrent {
  readonly symmetricalA: number;
  readonly tpS: number;
  readonly inceptionRad: number;
  readonly frequencyHz: number;
}

export interface Saturated {
  /** First time at which the flux is beyond the first break of the curve, in seconds; null where it stays below. */
  readonly saturationS: number | null;
  readonly timeS: Float64Array;
  readonly primaryA: Float64Array;
  /** Primary over the ratio: what a core that never saturates would give. */
  readonly idealA: Float64Array;
  readonly secondaryA: Float64Array;
  readonly fluxWb: Float64Array;
}

export const offsetCurrent = ({ symmetricalA, tpS, inceptionRad, frequencyHz }: OffsetCurrent) => {
  const omega = 2 * Math.PI * frequencyHz;
  const [peak, offset] = [Math.SQRT2 * symmetricalA, Math.cos(inceptionRad)];
  const direct = (t: number) => (tpS > 0 ? Math.exp(-t / tpS) * offset : 0);
  return (t: number): number => peak * (direct(t) - Math.cos(omega * t + inceptionRad));
};

/** Magnetising current at a flux: odd, in straight pieces. */
export function magnetisingCurrent(curve: readonly Magnetising[]): (psi: number) => number {
  const points = [{ imA: 0, psiWb: 0 }, ...curve];
  return (psi) => {
    const size = Math.abs(psi);
    let k = 1;
    while (k < points.length - 1 && size > points[k].psiWb) k++;
    const [from, to] = [points[k - 1], points[k]];
    const im = from.imA + ((size - from.psiWb) * (to.imA - from.imA)) / (to.psiWb - from.psiWb);
    return psi < 0 ? -im : im;
  };
}

/** Points of a curve from the knee as class PX gives it: e.m.f. and exciting current there, r.m.s.; 10 % more voltage takes half as much current again. */
export function curveFromKnee(kneeV: number, kneeA: number, frequencyHz: number): Magnetising[] {
  const psi = (volts: number) => (Math.SQRT2 * volts) / (2 * Math.PI * frequencyHz);
  const im = Math.SQRT2 * kneeA;
  return [
    { imA: im, psiWb: psi(kneeV) },
    { imA: 12 * im, psiWb: psi(1.14 * kneeV) },
    { imA: 400 * im, psiWb: psi(1.24 * kneeV) },
  ];
}

/** By the classical Runge–Kutta method; `stepS` far below a period. Remanence in webers of the winding. */
export function saturated(
  { ratio, loopOhm, magnetising }: Core,
  current: (timeS: number) => number,
  durationS: number,
  { remanenceWb = 0, stepS = 2e-5 }: { readonly remanenceWb?: number; readonly stepS?: number } = {},
): Saturated {
  const im = magnetisingCurrent(magnetising);
  const kneeWb = magnetising[0].psiWb;
  const slope = (t: number, psi: number) => loopOhm * (current(t) / ratio - im(psi));
  const count = Math.ceil(durationS / stepS) + 1;
  const [timeS, primaryA, idealA, secondaryA, fluxWb] = Array.from({ length: 5 }, () => new Float64Array(count));
  let psi = remanenceWb;
  let saturationS: number | null = Math.abs(psi) >= kneeWb ? 0 : null;
  for (let k = 0; k < count; k++) {
    const t = k * stepS;
    const primary = current(t);
    timeS[k] = t;
    primaryA[k] = primary;
    idealA[k] = primary / ratio;
    secondaryA[k] = primary / ratio - im(psi);
    fluxWb[k] = psi;
    const before = psi;
    const h = stepS;
    const k1 = slope(t, psi);
    const k2 = slope(t + h / 2, psi + (h / 2) * k1);
    const k3 = slope(t + h / 2, psi + (h / 2) * k2);
    const k4 = slope(t + h, psi + h * k3);
    psi += (h / 6) * (k1 + 2 * k2 + 2 * k3 + k4);
    if (saturationS === null && Math.abs(psi) >= kneeWb && k < count - 1) {
      const [from, to] = [Math.abs(before), Math.abs(psi)];
      saturationS = t + (to > from ? (h * (kneeWb - from)) / (to - from) : h);
    }
  }
  return { saturationS, timeS, primaryA, idealA, secondaryA, fluxWb };
}

/** Root mean square over each whole period, from samples at equal steps (trapezoidal). */
export function rmsByPeriod(values: Float64Array, stepS: number, frequencyHz: number): number[] {
  const periodS = 1 / frequencyHz;
  const count = Math.floor(((values.length - 1) * stepS) / periodS + 1e-9);
  return Array.from({ length: count }, (_, p) => {
    const [from, to] = [Math.round((p * periodS) / stepS), Math.round(((p + 1) * periodS) / stepS)];
    let sum = 0;
    for (let k = from; k < to; k++) sum += (values[k] ** 2 + values[k + 1] ** 2) / 2;
    return Math.sqrt(sum / (to - from));
  });
}

/** The part of rated frequency over one period that begins at a time, as r.m.s. cosine and sine parts of e^(jωt). */
export function fundamental(
  values: Float64Array,
  stepS: number,
  frequencyHz: number,
  fromS: number,
  harmonic = 1,
): { readonly re: number; readonly im: number } {
  const samples = Math.round(1 / (frequencyHz * stepS));
  const first = Math.round(fromS / stepS);
  const omega = 2 * Math.PI * frequencyHz * harmonic;
  let [re, im] = [0, 0];
  for (let k = first; k < first + samples; k++) {
    const angle = omega * k * stepS;
    re += values[k] * Math.cos(angle);
    im -= values[k] * Math.sin(angle);
  }
  const factor = Math.SQRT2 / samples;
  return { re: re * factor, im: im * factor };
}
