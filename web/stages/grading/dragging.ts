/** Dragging a curve: from a place on the chart to a setting that the device has. Pure. */
import { withFunction, type Device, type DeviceElement } from '@mesura/core/protection/device';
import { ownInput, type Grip, type Setting } from '@mesura/core/protection/family';
import { familyOf } from '@mesura/core/protection/registry';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { snap } from '@mesura/core/protection/settings/range';

/** The setting that a grip moves; none where the family has none of that kind. */
export const settingOf = (fn: DeviceFunction, grip: Grip): Setting | undefined =>
  familyOf(fn)
    .settings(fn)
    .find(({ role }) => role === grip);

/**
 * The device with the function moved so that its pickup lies at `chartA`, or its curve passes through (`chartA`, `timeS`); settings
 * snap to the device's steps. `factor`: amperes on the chart for one primary ampere.
 */
export function dragTo(
  device: Device,
  fn: DeviceFunction,
  grip: Grip,
  place: { chartA: number; timeS: number },
  factor: number,
): DeviceElement {
  const rating = device.inputs.find(({ id }) => id === (fn.input ?? ownInput))?.rating;
  const at = { currentA: place.chartA / factor, timeS: place.timeS };
  const moved = rating && familyOf(fn).dragged?.(fn, rating, grip, at);
  return moved ? withFunction(device.element, moved) : device.element;
}

/** Some steps of the device up or down. */
export function stepBy(device: Device, fn: DeviceFunction, { field, range, value }: Setting, steps: number) {
  if (!range) return device.element;
  return withFunction(device.element, familyOf(fn).withSetting(fn, field, snap(range, value + steps * range.step)));
}
