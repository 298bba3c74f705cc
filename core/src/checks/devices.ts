/** Devices as subjects of a rule: tested again when the device, where it measures, or what the rule looks at besides has changed. */
import type { ElementId } from '../model/fields';
import { devicesOf, type Device } from '../protection/device';
import { farEnds } from '../protection/zone';
import type { Context, Subject } from './check';

export const deviceSubjects = (
  { network }: Context,
  besides: (device: Device) => readonly (ElementId | null | undefined)[] = () => [],
): Subject<Device>[] =>
  devicesOf(network).map((device) => ({
    key: device.id,
    value: device,
    on: [
      device.element,
      ...device.inputs.map(({ through }) => network.elements.get(through)),
      ...besides(device).map((id) => (id ? network.elements.get(id) : undefined)),
    ],
  }));

/** What stands right behind a device. */
export const behindIt =
  ({ studies }: Context) =>
  (device: Device): ElementId[] =>
    farEnds(studies.max, device).map(({ element }) => element);
