/** What devices see during a fault, by their inputs, as magnitudes in primary amperes. */
import { magnitude, scale, subtract } from '../linear/complex';
import { largestPhase } from '../faults/solution/contributions';
import { solidFault, type FaultCondition, type FaultKind } from '../faults/kinds';
import type { Fault, Iec60909Study } from '../faults/iec60909/study';
import type { Place } from '../faults/solution/solve';
import { toPhases, type SequenceCurrents, type SequenceValues } from '../sequence/components';
import { lookAt, type Sighting, type Watch } from '../studies/seen';
import { timeCurrents, type Device, type DeviceInput } from './device';
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
  device.functions.some((fn) => fn.enabled && (familyOf(fn).measuresVoltage?.(fn) ?? false));

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
  through: devices.flatMap(({ inputs }) => inputs.map((input) => input.through)),
  voltagesAt: devices.flatMap(({ voltageAt }, k) =>
    voltageAt && asking[k] ? [{ element: voltageAt.element, terminal: 0 }] : [],
  ),
  into: [],
});

/** The same for faults of any condition. */
export function seenUnder(
  study: Iec60909Study,
  place: Place,
  conditions: readonly FaultCondition[],
  devices: readonly Device[],
): (SeenFault | null)[] {
  let count = 0;
  const firsts = devices.map(({ inputs }) => (count += inputs.length) - inputs.length);
  const asking = devices.map(asksForVectors);
  return lookAt(study, place, conditions, watchOf(devices, asking)).map((looked) =>
    looked.ok
      ? {
          fault: looked.seen.fault,
          devices: dealt(looked.seen, devices, asking),
          main: firsts.map((k) => looked.seen.through[k] ?? null),
        }
      : null,
  );
}

/** What was sighted at the places of {@link watchOf}, device by device; phasors for those that ask for them. */
export function dealt(
  { through, voltages, voltagesBefore }: Pick<Sighting, 'through' | 'voltages' | 'voltagesBefore'>,
  devices: readonly Device[],
  asking: readonly boolean[],
): (DeviceSeen | null)[] {
  let next = 0;
  let voltage = 0;
  return devices.map((device, d) => {
    const own = through.slice(next, (next += device.inputs.length));
    const at = device.voltageAt && asking[d] ? voltage++ : null;
    if (!own[0]) return null;
    const seen: DeviceSeen = Object.fromEntries(
      device.inputs.flatMap((input, k): [string, SeenCurrents][] => {
        const components = own[k];
        if (!components) return [];
        const figures = figuresOf(components);
        if (!asking[d]) return [[input.id, figures]];
        const during = at === null ? null : voltages[at];
        const before = at === null ? null : voltagesBefore[at];
        return [[input.id, { ...figures, vectors: vectorsOf(device, input, components, during, before) }]];
      }),
    );
    // A function may look at more than one input: that of a parallel line.
    return asking[d] && device.inputs.length > 1
      ? Object.fromEntries(Object.entries(seen).map(([id, at]) => [id, { ...at, inputs: seen }]))
      : seen;
  });
}

const phasorsOf = (values: SequenceValues, factor: number): ThreePhasors => {
  const { l1, l2, l3 } = toPhases(values);
  return [scale(l1, factor), scale(l2, factor), scale(l3, factor)];
};

/** Currents count towards the protected side; a reversed polarity turns them, or the voltages, for the relay. */
function vectorsOf(
  { voltageAt }: Device,
  { towards, reversed }: DeviceInput,
  components: SequenceCurrents,
  during: SequenceValues | null,
  before: SequenceValues | null,
): SeenVectors {
  const currents = phasorsOf(components, (towards === 1 ? 1 : -1) * (reversed ? -1 : 1));
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
