/** Thermal image of one time constant: IEC 60255-149, t = τ·ln((I² − Ip²)/(I² − (k·Ib)²)). Currents as multiples of the basic current. */

/** From an image that the load `before` has left, to the trip at `multiple`; Infinity where it never trips, nought where it has. */
export function timeToTrip(tauS: number, k: number, multiple: number, before = 0): number {
  if (!(multiple > k)) return Infinity;
  if (before >= k) return 0;
  // log1p keeps the digits at high multiples, where the quotient is hardly above 1.
  return tauS * Math.log1p((k ** 2 - before ** 2) / (multiple ** 2 - k ** 2));
}

export const coldTime = (tauS: number, k: number, multiple: number): number => timeToTrip(tauS, k, multiple);

/** Time constant that gives `timeS` from cold at a multiple. */
export const timeConstantFor = (k: number, multiple: number, timeS: number): number =>
  timeS / Math.log1p(k ** 2 / (multiple ** 2 - k ** 2));

/** Image after `seconds` at a multiple; 1 is where it trips: k² of the heating. */
export const heated = (image: number, tauS: number, k: number, multiple: number, seconds: number): number => {
  const end = (multiple / k) ** 2;
  return image - (end - image) * Math.expm1(-seconds / tauS);
};

/** Seconds to cool from one image to a lower one without load. */
export const coolingTime = (tauS: number, from: number, to: number): number => tauS * Math.log(from / to);
