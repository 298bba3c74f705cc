/** Resistance of arcs and of earth faults, where nobody has said more. */
import { needsZeroSequence, solidFault, type FaultCondition } from '../faults/kinds';
import { faultAtPlace, type Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import { add, magnitude } from '../linear/complex';

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

/**
 * The fault with its arc added: between phases (half of it in each), or from a phase to earth; at the current of the solid fault, on the length between phases that is
 * usual at the voltage of the place. Where nothing flows it stays as it is.
 */
export function withArc(study: Iec60909Study, place: Place, condition: FaultCondition): FaultCondition {
  const solid = faultAtPlace(study, place, { ...solidFault(condition.kind), odd: condition.odd });
  if (!solid.ok) return condition;
  const { l1, l2, l3 } = solid.fault.phases;
  const ampere = Math.max(...[l1, l2, l3].map(magnitude));
  if (ampere < 1) return condition;
  const arc = warringtonOhm(phaseSpacingM(solid.fault.nominalKv), ampere);
  const isToEarth = needsZeroSequence(condition.kind);
  return isToEarth
    ? { ...condition, earthOhm: add(condition.earthOhm, { re: arc, im: 0 }) }
    : { ...condition, phaseOhm: add(condition.phaseOhm, { re: arc / 2, im: 0 }) };
}
