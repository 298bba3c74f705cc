/** Lines of equal energy of an arc at a busbar: how long it may burn at an arcing current until the energy at the working distance comes to a step of the project's table. */
import { arcPlace } from '../arc/equipment';
import { arcModel, methodTitles } from '../arc/judge';
import { joulesPerCalorie } from '../arc/ieee2018';
import type { ArcSettings } from '../model/arc';
import type { Bus } from '../model/switching';
import type { CurvePair } from '../protection/pointCurve';
import type { ArcLineName, LimitCurve } from './limit';

/** Times that the lines are drawn over, in seconds. */
const [soonestS, latestS] = [0.01, 10];
const points = 48;

/** The steps of clothing and the limit of the project, each once. */
const stepsOf = ({ clothing, limitCal }: ArcSettings): number[] =>
  [...new Set([...clothing.map(({ upToCal }) => upToCal), limitCal])].sort((p, q) => p - q);

/** None where the models do not reach: the voltage, the gap. */
export function arcLimits(bus: Bus, settings: ArcSettings): LimitCurve[] {
  const at = arcPlace(bus.arc, bus.nominalKv);
  const [least, most] = at.voltageKv <= 0.6 ? [0.7, 106] : [0.7, 65];
  const model = arcModel(settings.edition, at, 10, true);
  if (model.method === 'theoretical') return [];
  return stepsOf(settings).map((cal): LimitCurve => {
    const curve: CurvePair[] = [];
    for (let k = 0; k < points; k++) {
      const boltedKa = least * (most / least) ** (k / (points - 1));
      const currentA = 1000 * model.arcingKa(boltedKa, false);
      const timeS = (cal * joulesPerCalorie) / model.rate(boltedKa, false)(at.distanceMm);
      const last = curve.at(-1);
      // Beyond what the polynomials were fitted to, the arcing current falls again.
      if (timeS >= soonestS && timeS <= latestS && (!last || currentA > last[0])) curve.push([currentA, timeS]);
    }
    return {
      element: bus.id,
      line: arcLine(cal),
      title: `${bus.name} ${cal} cal/cm²`,
      kind: 'damage',
      kv: bus.nominalKv,
      points: curve,
      source: `${methodTitles[model.method]}, arcing current at the busbar`,
      mark: model.confirmed ? '' : 'remembered',
    };
  });
}

export const arcLine = (cal: number): ArcLineName => `arc${cal}`;
export const isArcLine = (line: string): line is ArcLineName => /^arc[\d.]+$/.test(line);
