/** A line by itself in closed form, to compare with the whole system. */
import { add, inverse, magnitude, scale, zero, type Complex } from '../linear/complex';
import type { EarthCase } from './fromNetwork';
import { endlessLadder } from './grids';
import type { EarthReturnMethod } from './impedance';
import { kilometreOf, type EarthLine } from './system';

/** Closed forms for a line by itself: what of its current is not induced in its wires, and its impedance as the station sees it. */
export interface ClosedForm {
  readonly line: string;
  /** Reduction factor of the wires beside the phase that carries the current (EN 50522, annex I; IEC 60909-3). */
  readonly reduction: Complex;
  /** Of all wires together with earth as the return, Ω/km. */
  readonly wiresOhmPerKm: Complex | null;
  readonly seenOhm: Complex | null;
}

/** Of the stretch that begins at the station. */
export function closedForm(found: EarthCase, line: EarthLine, method: EarthReturnMethod): ClosedForm {
  const { frequencyHz } = found.system;
  const { conductors, soilOhmM, spansM, footings } = line.stretches[0];
  const per = kilometreOf(conductors, frequencyHz, soilOhmM, method);
  if (!per || per.wires.length === 0)
    return { line: line.name, reduction: { re: 1, im: 0 }, wiresOhmPerKm: null, seenOhm: null };
  // What a unit current of the first phase drives in all wires together.
  let driven = zero;
  per.wires.forEach((_, i) => {
    const k = i * per.drives.columns;
    driven = add(driven, { re: per.drives.re[k], im: per.drives.im[k] });
  });
  const wires = inverse(per.whole);
  const km = spansM[0] / 1000;
  const conductance = footings.reduce<number>((sum, each) => sum + (each ? 1 / magnitude(each) : 0), 0);
  const far = found.system.stations.find(({ name }) => name === line.source)?.earthing ?? null;
  const open = line.openAtHub.length >= per.wires.length;
  const seenOhm = open
    ? null
    : spansM.length > 1 && conductance > 0
      ? // The station stands before the first span: a ladder that begins along the wire.
        endlessLadder(scale(wires, km), spansM.length / conductance)
      : far && add(scale(wires, spansM.reduce((sum, each) => sum + each, 0) / 1000), far);
  return { line: line.name, reduction: { re: 1 - driven.re, im: -driven.im }, wiresOhmPerKm: wires, seenOhm };
}
