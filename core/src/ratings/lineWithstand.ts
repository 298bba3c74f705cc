/** What one circuit of a line or cable bears over a time: by IEC 60949 where it is insulated, by IEC 60865-1 where it is bare. */
import type { ElementOf } from '../model/element';
import { bareDensity, bareDensityOver, cableShortCircuit, conductorTemperatures, type Metal } from './conductors';

type Line = Pick<ElementOf<'line'>, 'sectionMm2' | 'metal' | 'insulation' | 'serviceTemperatureC'>;

/** Conductor temperatures in °C: in service, and at the end of a short circuit; of bare ones as IEC 60865-1 recommends. */
function temperaturesOf(metal: Metal, insulation: Line['insulation'], sectionMm2: number) {
  if (insulation === 'none') return { service: 80, fault: metal === 'copper' ? 300 : 200 };
  const { service, fault, faultAbove300Mm2 } = conductorTemperatures[insulation];
  return { service, fault: sectionMm2 > 300 ? faultAbove300Mm2 : fault };
}

export interface LineWithstand {
  readonly initialC: number;
  readonly finalC: number;
  /** Amperes over a duration in seconds. */
  allowedA(durationS: number): number;
}

/** Null without a cross-section; `nominalKv` between the phases. */
export function lineWithstand(
  { sectionMm2, metal, insulation, serviceTemperatureC }: Line,
  nominalKv: number | undefined,
): LineWithstand | null {
  if (sectionMm2 === null) return null;
  const { service, fault: finalC } = temperaturesOf(metal, insulation, sectionMm2);
  const initialC = serviceTemperatureC ?? service;
  return {
    initialC,
    finalC,
    allowedA: (durationS) =>
      insulation === 'none'
        ? bareDensityOver(bareDensity(metal, initialC, finalC), durationS) * sectionMm2
        : cableShortCircuit(metal, insulation, sectionMm2, initialC, finalC, durationS, nominalKv).permissibleA,
  };
}
