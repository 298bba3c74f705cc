/**
 * The theoretical method for arcs in open air where the empirical models end (R. H. Lee, 1982; IEEE 1584-2002, 5.6, as remembered): the arc takes the largest power that the circuit can give. Above
 * 15 kV it overstates by far, in boxes it leaves reflection out.
 */
import { formula, quantityOf, SilentTrace, type Trace } from '../working/trace';
import { boundaryEnergy } from './ieee2018';

const source = 'R. H. Lee 1982; IEEE 1584-2002, 5.6 (as remembered)';

/** J·mm²/(cm²·kV·kA·s). */
const constant = 2.142e6;

export const theoreticalEnergy = (voltageKv: number, boltedKa: number, timeS: number, distanceMm: number): number =>
  (constant * voltageKv * boltedKa * timeS) / distanceMm ** 2;

export const theoreticalBoundary = (
  voltageKv: number,
  boltedKa: number,
  timeS: number,
  energy = boundaryEnergy,
): number => Math.sqrt((constant * voltageKv * boltedKa * timeS) / energy);

/** Both, with working. */
export function theoreticalExposure(
  voltageKv: number,
  boltedKa: number,
  timeS: number,
  distanceMm: number,
  trace: Trace = new SilentTrace(),
): { readonly energy: number; readonly boundaryMm: number } {
  const [v, i, t] = [quantityOf('V', voltageKv, 'kV'), quantityOf('Ibf', boltedKa, 'kA'), quantityOf('t', timeS, 's')];
  const energy = trace.step(
    'E',
    formula`2142000 · ${v} · ${i} · ${t} / ${quantityOf('D', distanceMm, 'mm')}^2`,
    theoreticalEnergy(voltageKv, boltedKa, timeS, distanceMm),
    'J/cm²',
    source,
  );
  const boundary = trace.step(
    'DB',
    formula`√(2142000 · ${v} · ${i} · ${t} / ${quantityOf('EB', boundaryEnergy, 'J/cm²')})`,
    theoreticalBoundary(voltageKv, boltedKa, timeS),
    'mm',
    source,
  );
  return { energy: energy.value, boundaryMm: boundary.value };
}
