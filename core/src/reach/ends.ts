/** Where a zone really ends: the place of a fault on a line for which the loop that a relay sees comes to the end of its reach, with what other sources feed in. */
import type { Complex } from '../linear/complex';
import type { FaultCondition } from '../faults/kinds';
import { terminalPlace, type Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import type { ElementId } from '../model/fields';
import { loopsOf, type Compensation, type LoopName } from '../protection/distance/loops';
import { seenAtEnds, type LineEnd } from './seen';

export interface ZoneEnd {
  /** From terminal 0 of the line. */
  readonly fraction: number;
  readonly impedance: Complex;
}

/** A place on a line; at its ends the nodes there. */
export const placeOn = (line: ElementId, fraction: number): Place =>
  fraction <= 0 || fraction >= 1 ? terminalPlace(line, fraction <= 0 ? 0 : 1) : { at: 'line', element: line, fraction };

/** What a loop comes to for a fault at a place; null where nothing is seen. */
export function apparent(
  study: Iec60909Study,
  relay: LineEnd,
  place: Place,
  condition: FaultCondition,
  loop: LoopName,
  compensation: Compensation,
): Complex | null {
  const [seen] = seenAtEnds(study, place, [condition], [relay]);
  const end = seen.ok ? seen.ends[0] : null;
  return end ? loopsOf(end, compensation).find(({ name }) => name === loop)!.impedance : null;
}

/** First looked at in so many steps: what a loop sees rises along a line, but for a line fed from both sides not at every step alike. */
const steps = 20;

/**
 * The first place, from one terminal of the line on, at which `beyond` changes its sign from below nought: found to 1e-9 of the line. Null where it does not along the
 * whole line.
 */
export function zoneEnd(
  line: ElementId,
  from: 0 | 1,
  impedanceAt: (place: Place) => Complex | null,
  beyond: (impedance: Complex) => number,
): ZoneEnd | null {
  const fractionOf = (along: number) => (from === 0 ? along : 1 - along);
  const look = (along: number) => {
    const fraction = fractionOf(along);
    const impedance = impedanceAt(placeOn(line, fraction));
    return impedance && { fraction, impedance, over: beyond(impedance) };
  };
  let low = 0;
  for (let k = 1; k <= steps; k++) {
    const at = look(k / steps);
    if (!at || at.over < 0) {
      low = k / steps;
      continue;
    }
    let high = k / steps;
    while (high - low > 1e-10) {
      const middle = (low + high) / 2;
      const found = look(middle);
      if (found && found.over >= 0) high = middle;
      else low = middle;
    }
    const end = look(high)!;
    return { fraction: end.fraction, impedance: end.impedance };
  }
  return null;
}
