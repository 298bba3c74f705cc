/** How an energy came about: arcing current, enclosure, every stage, their sum. */
import type { Network } from '../model/network';
import { nameIn, settingsOf } from '../model/network';
import { quantityOf, Trace, formula, type Part, type Section } from '../working/trace';
import { as2002 } from './equipment';
import { arcingCurrent2002, exposure2002, reducedShare2002 } from './ieee2002';
import { arcingCurrents, enclosureCorrection, exposure } from './ieee2018';
import { methodTitles } from './judge';
import { spotName, type ArcResult, type ArcRow } from './study';
import { theoreticalExposure } from './theoretical';
import { caloriesOf } from './clothing';

/** Of the full or the reduced arcing current. */
export function arcWorking(network: Network, row: ArcRow, result: ArcResult, reduced: boolean): Section[] {
  const { at, spot } = row;
  const own = reduced ? result.reduced : result.full;
  if (!own) return [];
  const trace = new Trace();
  const mark = result.confirmed ? '' : ', coefficients as remembered';
  trace.section(`${spotName(network, spot)}: ${methodTitles[result.method]}${mark}`, spot.bus);
  const correction = result.method === '2018' ? enclosureCorrection(at, trace) : null;
  const energies = own.stages.map(({ boltedKa, fromS, toS, energy }, k) => {
    trace.section(`Stage ${k + 1}: ${text(fromS)} to ${text(toS)} s, bolted current ${boltedKa.toPrecision(4)} kA`);
    const seconds = toS - fromS;
    if (correction) {
      const arcing = arcingCurrents(at, boltedKa, trace);
      exposure(at, { boltedKa, arcing, reduced }, 1000 * seconds, correction, trace);
    } else if (result.method === '2002') {
      const place = as2002(at, result.earthed);
      const full = arcingCurrent2002(place, boltedKa, trace);
      const share = reduced && at.voltageKv < 1 ? reducedShare2002 : 1;
      exposure2002(place, share * full, seconds, trace);
    } else theoreticalExposure(at.voltageKv, boltedKa, seconds, at.distanceMm, trace);
    return quantityOf(`E${k + 1}`, energy, 'J/cm²');
  });
  trace.section('All stages');
  const sum = trace.step(
    'E',
    energies.flatMap((each, k): Part[] => (k === 0 ? [each] : [' + ', each])),
    own.energy,
    'J/cm²',
    undefined,
    ended(network, row, own),
  );
  trace.step('E', formula`${sum} / 4.184`, caloriesOf(own.energy), 'cal/cm²');
  return trace.sections;
}

function ended(network: Network, { longestS }: ArcRow, { governing, limited }: ArcResult['full']): string {
  if (limited || !governing)
    return `not cleared within ${longestS} s (longest time, ${settingsOf(network).arc.longestS} s in the project)`;
  const { device, code, trippedS, openedS, element } = governing;
  return `${nameIn(network, device)}, ${code}, trips after ${text(trippedS)} s; ${nameIn(network, element)} has opened after ${text(openedS)} s`;
}

const text = (seconds: number) => String(Number(seconds.toFixed(4)));
