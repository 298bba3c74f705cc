/** Voltage factor c. IEC 60909-0:2016, Table 1. */
import type { VoltageFactor } from '../../assembly/assemble';

/** c by nominal voltage in kV; `tolerancePercent` is the tolerance of low-voltage networks, 6 or 10. */
export function voltageFactor(tolerancePercent: number): VoltageFactor {
  const low = tolerancePercent <= 6 ? { max: 1.05, min: 0.95 } : { max: 1.1, min: 0.9 };
  const high = { max: 1.1, min: 1.0 };
  return (nominalKv, faultCase) => (nominalKv <= 1 ? low : high)[faultCase];
}
