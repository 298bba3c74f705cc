/** What devices see during a fault, by their inputs, as magnitudes in primary amperes. */
import { magnitude } from '../linear/complex';
import { largestPhase } from '../faults/solution/contributions';
import type { FaultKind } from '../faults/kinds';
import type { Fault, Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import { toPhases, type SequenceCurrents } from '../sequence/components';
import { look, type Sighting } from '../studies/seen';
import type { Device } from './device';
import type { DeviceSeen, SeenCurrents } from './family';

export const figuresOf = (components: SequenceCurrents): SeenCurrents => {
  const phases = toPhases(components);
  return {
    phaseA: largestPhase(phases),
    residualA: magnitude(phases.residual),
    negativeA: magnitude(components.negative),
  };
};

/** One fault as several devices see it. */
export interface SeenFault {
  readonly fault: Fault;
  /** By device, in the order asked. Null where its first input lies in a ring of closed switches, or nothing is closed there. */
  readonly devices: readonly (DeviceSeen | null)[];
}

/** Solid faults of some kinds at a place, as devices see them; null where there is no fault to compute. */
export function seenBy(
  study: Iec60909Study,
  place: Place,
  kinds: readonly FaultKind[],
  devices: readonly Device[],
): (SeenFault | null)[] {
  const through = devices.flatMap(({ inputs }) => inputs.map((input) => input.through));
  return look(study, place, kinds, { through }).map((looked) =>
    looked.ok ? { fault: looked.seen.fault, devices: dealt(looked.seen, devices) } : null,
  );
}

function dealt({ through }: Sighting, devices: readonly Device[]): (DeviceSeen | null)[] {
  let next = 0;
  return devices.map(({ inputs }) => {
    const own = through.slice(next, (next += inputs.length));
    if (!own[0]) return null;
    return Object.fromEntries(
      inputs.flatMap(({ id }, k): [string, SeenCurrents][] => {
        const components = own[k];
        return components ? [[id, figuresOf(components)]] : [];
      }),
    );
  });
}
