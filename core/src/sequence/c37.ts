/** Machine multipliers of IEEE C37.010 (first-cycle and interrupting networks) for the reactances of rotating machines. Recalled, not verified. */
import type { Basis } from './stamp';

/** 746 W. */
const horsepowerMw = 0.000746;

/** Factor on a motor's subtransient impedance; null: it does not count in this network. `polePairs` tells 3600 from 1800 r/min. */
export function motorMultiplier(basis: Basis, ratedMw: number, polePairs: number): number | null {
  if (basis === 'thirtyCycle') return null;
  const hp = ratedMw / horsepowerMw;
  const large = polePairs >= 2 ? hp > 1000 : hp > 250;
  if (basis === 'firstCycle') return large ? 1 : hp >= 50 ? 1.2 : 1.67;
  return large ? 1.5 : hp >= 50 ? 3 : null;
}
