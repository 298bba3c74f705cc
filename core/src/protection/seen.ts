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
import type { ElementId } from '../model/fields';
import { lookAt, type Glance, type Sighting, type Watch } from '../studies/seen';
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

/** Where in a watch the inputs and the voltage of a device stand. */
interface Slots {
  /** Of the currents through elements, or into them at star points. */
  readonly inputs: readonly { readonly star: boolean; readonly at: number }[];
  readonly voltage: number | null;
}

export interface DeviceWatch {
  readonly watch: Required<Watch>;
  readonly slots: readonly Slots[];
}

/** Where devices look; `asking`: which of them ask for voltages, where they have any. */
export function watchOf(devices: readonly Device[], asking: readonly boolean[]): DeviceWatch {
  const watch = { through: [] as ElementId[], into: [] as NodeAt[], voltagesAt: [] as NodeAt[] };
  const slots = devices.map(({ inputs, voltageAt }, d): Slots => {
    const at = inputs.map(({ through, star }) => {
      if (star) return { star: true, at: watch.into.push({ element: through, terminal: star.terminal }) - 1 };
      return { star: false, at: watch.through.push(through) - 1 };
    });
    const hasVoltage = voltageAt && asking[d];
    return {
      inputs: at,
      voltage: hasVoltage ? watch.voltagesAt.push({ element: voltageAt.element, terminal: 0 }) - 1 : null,
    };
  });
  return { watch, slots };
}

type NodeAt = { readonly element: ElementId; readonly terminal: number };

/** The same for faults of any condition. */
export function seenUnder(
  study: Iec60909Study,
  place: Place,
  conditions: readonly FaultCondition[],
  devices: readonly Device[],
): (SeenFault | null)[] {
  const asking = devices.map(asksForVectors);
  const { watch, slots } = watchOf(devices, asking);
  return lookAt(study, place, conditions, watch).map((looked) => {
    if (!looked.ok) return null;
    const { seen } = looked;
    const { topology } = seen.fault.study.assembly;
    const glance = glanceOf(seen);
    return {
      fault: seen.fault,
      devices: devices.map((device, d) => dealt(glance, device, slots[d], asking[d], topology)),
      main: slots.map(({ inputs }) => (inputs[0] && !inputs[0].star ? glance.through(inputs[0].at) : null)),
    };
  });
}

/** No phase is above this. */
const sizeOf = (found: SequenceCurrents | null): number =>
  found ? magnitude(found.positive) + magnitude(found.negative) + magnitude(found.zero) : 0;

/** What is seen at all places of a watch that has been looked at. */
export const glanceOf = ({
  through,
  into,
  voltages,
  voltagesBefore,
}: Pick<Sighting, 'through' | 'voltages' | 'voltagesBefore' | 'into'>): Glance => ({
  through: (k) => through[k] ?? null,
  mostA: (k) => sizeOf(through[k] ?? null),
  into: (k) => into[k] ?? null,
  voltage: (k) => voltages[k],
  voltageBefore: (k) => voltagesBefore[k],
});

/** Components at an input of a device; null where the current is not determined. */
function componentsAt(glance: Glance, { inputs }: Slots, device: Device, k: number): SequenceCurrents | null {
  const { star, at } = inputs[k];
  return star ? atStarPoint(glance.into(at), device.inputs[k].star!.of) : glance.through(at);
}

/** What a device sees, with phasors if it asks for them. `topology`: of the state, for zones of busbars. Null where its first input sees nothing that is determined. */
export function dealt(
  glance: Glance,
  device: Device,
  slots: Slots,
  asks: boolean,
  topology: Topology,
): DeviceSeen | null {
  const own = device.inputs.map((_, k) => componentsAt(glance, slots, device, k));
  if (!own[0]) return null;
  const zones = zonesIn(topology, device);
  const during = slots.voltage === null ? null : glance.voltage(slots.voltage);
  const before = slots.voltage === null ? null : glance.voltageBefore(slots.voltage);
  const seen: DeviceSeen = Object.fromEntries(
    device.inputs.flatMap((input, k): [string, SeenCurrents][] => {
      const components = own[k];
      if (!components) return [];
      const figures = figuresOf(components);
      if (!asks) return [[input.id, figures]];
      const vectors = vectorsOf(device, input, components, during, before);
      return [[input.id, { ...figures, vectors, ...(zones && { zones }) }]];
    }),
  );
  // A function may look at more than one input: that of a parallel line, the other sides of a transformer.
  return asks && device.inputs.length > 1
    ? Object.fromEntries(Object.entries(seen).map(([id, each]) => [id, { ...each, inputs: seen }]))
    : seen;
}

/** What all devices see of one fault, found for each when it is asked for. */
export class SeenByAll {
  private readonly known: (DeviceSeen | null | undefined)[];

  constructor(
    private readonly glance: Glance,
    private readonly devices: readonly Device[],
    private readonly slots: readonly Slots[],
    private readonly topology: Topology,
  ) {
    this.known = devices.map(() => undefined);
  }

  of(index: number): DeviceSeen | null {
    const known = this.known[index];
    if (known !== undefined) return known;
    return (this.known[index] = dealt(this.glance, this.devices[index], this.slots[index], true, this.topology));
  }

  /** No phase current at any of its inputs is above this, in amperes. */
  mostA(index: number): number {
    let most = 0;
    const slots = this.slots[index];
    for (const { star, at } of slots.inputs)
      most = Math.max(most, star ? sizeOf(this.glance.into(at)) : this.glance.mostA(at));
    return most;
  }
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
