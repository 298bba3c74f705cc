/** What devices see during a fault, by their inputs, as magnitudes in primary amperes. */
import { magnitude, scale, subtract } from '../linear/complex';
import { largestPhase } from '../faults/solution/contributions';
import { solidFault, type FaultCondition, type FaultKind } from '../faults/kinds';
import type { Fault, Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import type { Topology } from '../model/topology';
import {
  noCurrents,
  scaleComponents,
  toPhases,
  type SequenceCurrents,
  type SequenceValues,
} from '../sequence/components';
import { lookAt, type Sighting, type Watch } from '../studies/seen';
import { timeCurrents, type Device, type DeviceInput } from './device';
import { zonesIn } from './busZones';
import { familyOf } from './registry';
import type { DeviceSeen, SeenCurrents, SeenVectors, ThreePhasors } from './family';

export const figuresOf = (components: SequenceCurrents): SeenCurrents => {
  const phases = toPhases(components);
  return {
    phaseA: largestPhase(phases),
    residualA: magnitude(phases.residual),
    negativeA: magnitude(components.negative),
  };
};

/** Whether a device asks for more than magnitudes: a direction, a voltage. */
export const asksForVectors = (device: Device): boolean =>
  timeCurrents(device).some(({ measure }) => measure !== undefined) ||
  device.functions.some(
    (fn) => fn.enabled && ((familyOf(fn).measuresVoltage?.(fn) ?? false) || (familyOf(fn).looksAtAll?.(fn) ?? false)),
  );

/** One fault as several devices see it. */
export interface SeenFault {
  readonly fault: Fault;
  /** By device, in the order asked. Null where its first input lies in a ring of closed switches, or nothing is closed there. */
  readonly devices: readonly (DeviceSeen | null)[];
  /** Through the first input of each, from terminal 0 to 1. */
  readonly main: readonly (SequenceCurrents | null)[];
}

/** Solid faults of some kinds at a place, as devices see them; null where there is no fault to compute. */
export const seenBy = (
  study: Iec60909Study,
  place: Place,
  kinds: readonly FaultKind[],
  devices: readonly Device[],
): (SeenFault | null)[] => seenUnder(study, place, kinds.map(solidFault), devices);

/** Where devices look; `asking`: which of them ask for voltages, where they have any. */
export const watchOf = (devices: readonly Device[], asking: readonly boolean[]): Required<Watch> => ({
  through: devices.flatMap(({ inputs }) => inputs.filter(({ star }) => !star).map((input) => input.through)),
  voltagesAt: devices.flatMap(({ voltageAt }, k) =>
    voltageAt && asking[k] ? [{ element: voltageAt.element, terminal: 0 }] : [],
  ),
  into: devices.flatMap(({ inputs }) =>
    inputs.flatMap(({ through, star }) => (star ? [{ element: through, terminal: star.terminal }] : [])),
  ),
});

/** The same for faults of any condition. */
export function seenUnder(
  study: Iec60909Study,
  place: Place,
  conditions: readonly FaultCondition[],
  devices: readonly Device[],
): (SeenFault | null)[] {
  let count = 0;
  const firsts = devices.map(({ inputs }) => {
    const own = inputs.filter(({ star }) => !star).length;
    return (count += own) - own;
  });
  const asking = devices.map(asksForVectors);
  return lookAt(study, place, conditions, watchOf(devices, asking)).map((looked) =>
    looked.ok
      ? {
          fault: looked.seen.fault,
          devices: dealt(looked.seen, devices, asking, looked.seen.fault.study.assembly.topology),
          main: firsts.map((k) => looked.seen.through[k] ?? null),
        }
      : null,
  );
}

/** What was sighted at the places of {@link watchOf}, device by device; phasors for those that ask for them. `topology`: of the state, for zones of busbars. */
export function dealt(
  { through, voltages, voltagesBefore, into }: Pick<Sighting, 'through' | 'voltages' | 'voltagesBefore' | 'into'>,
  devices: readonly Device[],
  asking: readonly boolean[],
  topology: Topology,
): (DeviceSeen | null)[] {
  let next = 0;
  let voltage = 0;
  let star = 0;
  return devices.map((device, d) => {
    const own = device.inputs.map((input) => (input.star ? atStarPoint(into[star++], input.star.of) : through[next++]));
    const at = device.voltageAt && asking[d] ? voltage++ : null;
    if (!own[0]) return null;
    const zones = zonesIn(topology, device);
    const seen: DeviceSeen = Object.fromEntries(
      device.inputs.flatMap((input, k): [string, SeenCurrents][] => {
        const components = own[k];
        if (!components) return [];
        const figures = figuresOf(components);
        if (!asking[d]) return [[input.id, figures]];
        const during = at === null ? null : voltages[at];
        const before = at === null ? null : voltagesBefore[at];
        const vectors = vectorsOf(device, input, components, during, before);
        return [[input.id, { ...figures, vectors, ...(zones && { zones }) }]];
      }),
    );
    // A function may look at more than one input: that of a parallel line, the other sides of a transformer.
    return asking[d] && device.inputs.length > 1
      ? Object.fromEntries(Object.entries(seen).map(([id, each]) => [id, { ...each, inputs: seen }]))
      : seen;
  });
}

/** From the star point into the windings: the opposite of what flows in at the terminals; in the neutral the sum of all phases. */
function atStarPoint(into: SequenceCurrents | null, of: 'neutral' | 'winding'): SequenceCurrents | null {
  if (!into) return null;
  const out = scaleComponents(into, -1);
  return of === 'winding' ? out : { ...noCurrents, zero: out.zero };
}

const phasorsOf = (values: SequenceValues, factor: number): ThreePhasors => {
  const { l1, l2, l3 } = toPhases(values);
  return [scale(l1, factor), scale(l2, factor), scale(l3, factor)];
};

/** Currents count towards the protected side; a reversed polarity turns them, or the voltages, for the relay. */
function vectorsOf(
  { voltageAt }: Device,
  { towards, reversed, star }: DeviceInput,
  components: SequenceCurrents,
  during: SequenceValues | null,
  before: SequenceValues | null,
): SeenVectors {
  const currents = phasorsOf(components, (towards === 1 || star ? 1 : -1) * (reversed ? -1 : 1));
  const way = voltageAt?.reversed ? -1 : 1;
  const ratedV = (voltageAt?.ratedKv ?? 0) * 1000;
  const voltages = during && phasorsOf(during, way);
  const least = voltages && Math.min(...[0, 1, 2].map((k) => magnitude(subtract(voltages[k], voltages[(k + 1) % 3]))));
  return {
    currents,
    voltages,
    before: before && phasorsOf(before, way),
    ratedV,
    secondaryV: voltageAt?.secondaryV ?? null,
    leastVoltage: least === null ? null : least / ratedV,
  };
}
