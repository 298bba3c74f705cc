/** Devices on a chart that are not in the network: made of what the chart keeps of them, or of a device that is; and put into its place. */
import type { ChartGuest } from '../../model/chart';
import { newElement } from '../../model/defaults';
import type { ElementId } from '../../model/fields';
import type { Network } from '../../model/network';
import {
  arcingS,
  deviceOf,
  usualOpeningS,
  type Device,
  type DeviceElement,
  type DeviceKind,
} from '../../protection/device';
import { ownInput } from '../../protection/family';
import type { DeviceFunction } from '../../protection/schemas';

const kindOf = ({ type, functions }: ChartGuest): DeviceKind =>
  type === 'relay'
    ? 'relay'
    : type === 'fuse'
      ? 'fuse'
      : type === 'recloser'
        ? 'recloser'
        : type === 'contactor' || functions.some(({ family }) => family === 'overload')
          ? 'motorProtection'
          : 'release';

/** Its functions measure at the inputs of the device whose place it takes; those that this one lacks at the first. */
const measuringAt = (functions: readonly DeviceFunction[], inputs: readonly string[]): DeviceFunction[] =>
  functions.map((fn) => ({
    ...fn,
    input: (inputs.includes(fn.input ?? ownInput) ? fn.input : inputs[0] === ownInput ? null : inputs[0]) as ElementId,
  }));

/** A guest as a device. `functions`: its settings under trial, where they are not those kept. */
export function guestDevice(network: Network, guest: ChartGuest, functions = guest.functions): Device {
  const place = guest.standsFor === null ? undefined : deviceOf(network, guest.standsFor);
  const rating = { primaryA: guest.primaryA, secondaryA: guest.secondaryA };
  const inputs = place
    ? // A relay measures at the current transformers that are there.
      place.inputs.map((input, k) => (k === 0 && guest.type !== 'relay' ? { ...input, rating } : input))
    : [{ id: ownInput, through: guest.id, towards: 1 as const, reversed: false, rating }];
  const measuring = measuringAt(
    functions,
    inputs.map(({ id }) => id),
  );
  const kind = guest.type === 'relay' ? 'relay' : 'switch';
  const element = {
    ...newElement(kind, guest.id, guest.name, { x: 0, y: 0 }),
    ...(guest.type !== 'relay' && { type: guest.type, ratedA: guest.primaryA }),
    functions: measuring,
  } as DeviceElement;
  const own = (guest.openingTimeS ?? usualOpeningS) + arcingS;
  return {
    id: guest.id,
    name: guest.name,
    kind: kindOf(guest),
    element,
    inputs,
    functions: measuring,
    opens: place?.opens ?? [guest.id],
    // A relay trips the breakers of its place.
    openingS: guest.type === 'fuse' ? 0 : guest.type === 'relay' && place ? place.openingS : own,
    voltageAt: place?.voltageAt ?? null,
  };
}

/** A device of the network as a guest: a copy to try other settings on, in its place. */
export function guestFrom(device: Device, id: ElementId, name: string, kv: number): ChartGuest {
  const { element } = device;
  const { primaryA, secondaryA } = device.inputs[0]?.rating ?? { primaryA: 1, secondaryA: 1 };
  return {
    id,
    name,
    type: element.kind === 'relay' ? 'relay' : element.type,
    standsFor: device.id,
    kv,
    primaryA,
    secondaryA,
    openingTimeS: element.kind === 'switch' ? element.openingTimeS : null,
    functions: [...device.functions],
  };
}

/** Whether a guest can take the place of a device: a relay that of a relay, a switch that of a switch. */
export const fitsFor = (guest: ChartGuest, element: DeviceElement): boolean =>
  (guest.type === 'relay') === (element.kind === 'relay');

/** The device of the network with what the guest is: its functions and, of a switch, its type and rated current; it is no longer of a type of the library. */
export function swappedIn(network: Network, guest: ChartGuest, element: DeviceElement): DeviceElement {
  const { functions } = guestDevice(network, { ...guest, standsFor: element.id });
  if (element.kind === 'relay') {
    const circuits = element.circuits.map(({ id }) => id);
    return {
      ...element,
      functions: functions.map((fn) => ({ ...fn, circuits: fn.circuits.filter((id) => circuits.includes(id)) })),
    };
  }
  const { entry: _, ...rest } = element;
  return {
    ...rest,
    type: guest.type === 'relay' ? element.type : guest.type,
    ratedA: guest.primaryA,
    openingTimeS: guest.openingTimeS,
    functions: [...functions],
  };
}
