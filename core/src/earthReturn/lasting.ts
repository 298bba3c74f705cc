/** How long an earth fault lasts: chosen, or played with all protection of the network until nothing feeds it any more. */
import type { Place } from '../faults/solution/solve';
import { elementId, type ElementId } from '../model/fields';
import { settingsOf } from '../model/network';
import { newTrial } from '../model/trial';
import type { Studies } from '../studies/studies';
import { runTrial } from '../trials/trial';
import type { EarthFaultKind } from './fromNetwork';

export interface Lasting {
  readonly timeS: number;
  /** Whose trip cleared it at last. */
  readonly device: ElementId | null;
  /** `project`: nothing clears it, and the time of the project stands in. */
  readonly by: 'chosen' | 'protection' | 'project';
}

const asked = elementId('earth-return');

/** `place`: null without a network. */
export function lastingOf(studies: Studies, condition: ElementId, place: Place | null, kind: EarthFaultKind): Lasting {
  const { earthReturn, ratingLimits } = settingsOf(studies.network);
  if (earthReturn.durationS !== null || !place)
    return { timeS: earthReturn.durationS ?? 0, device: null, by: 'chosen' };
  const at =
    place.at === 'terminal'
      ? { element: place.element, terminal: place.terminal, fraction: null }
      : { element: place.element, terminal: null, fraction: place.fraction };
  const fault = { type: 'shunt', ...at, kind, odd: 0, phaseOhm: 0, earthOhm: 0 } as const;
  const ran = runTrial(studies, { ...newTrial(asked, 'earth return', [fault]), condition }, false);
  const clearedS = ran.ok ? ran.result.played.clearedS : null;
  if (!ran.ok || clearedS === null) return { timeS: ratingLimits.clearingS, device: null, by: 'project' };
  // The last device whose trip opened something until then.
  const trips = ran.result.played.events.filter(
    ({ kind: what, device, atS }) => (what === 'trip' || what === 'melt') && device !== undefined && atS <= clearedS,
  );
  return { timeS: clearedS, device: trips.at(-1)?.device ?? null, by: 'protection' };
}
