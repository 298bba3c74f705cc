/** Dragging a curve: from a place on the chart to a setting that the device has. Pure. */
import { withFunction, type Device, type DeviceElement } from '@mesura/core/protection/device';
import { ownInput, type Grip, type Setting } from '@mesura/core/protection/family';
import { familyOf } from '@mesura/core/protection/registry';
import type { DeviceFunction } from '@mesura/core/protection/schemas';
import { snap } from '@mesura/core/protection/settings/range';

/** The setting that a grip moves; none where the family has none of that kind. */
export const settingOf = (fn: DeviceFunction, grip: Grip, part?: string): Setting | undefined => {
  const settings = familyOf(fn)
    .settings(fn)
    .filter(({ role }) => role === grip);
  return part === undefined ? settings[0] : settings.find((setting) => setting.part === part);
};

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
  part?: string,
): DeviceElement {
  const rating = device.inputs.find(({ id }) => id === (fn.input ?? ownInput))?.rating;
  const at = { currentA: place.chartA / factor, timeS: place.timeS };
  const moved = rating && familyOf(fn).dragged?.(fn, rating, grip, at, part);
  return moved ? withFunction(device.element, moved) : device.element;
}

/** Some steps of the device up or down. */
export function stepBy(device: Device, fn: DeviceFunction, setting: Setting, steps: number) {
  const to = steppedTo(setting, steps);
  return to === null ? device.element : withFunction(device.element, familyOf(fn).withSetting(fn, setting.field, to));
}

/** A setting some steps on: along its range, along the sizes that are made, else by a hundredth; null where it cannot be stepped. */
export function steppedTo({ range, sizes, value }: Setting, steps: number): number | null {
  if (range) return snap(range, value + steps * range.step);
  if (sizes) {
    const nearest = sizes.reduce((p, q) => (Math.abs(q - value) < Math.abs(p - value) ? q : p));
    return sizes[Math.min(Math.max(sizes.indexOf(nearest) + steps, 0), sizes.length - 1)];
  }
  if (!(value > 0)) return null;
  return Number((value * 1.01 ** steps).toPrecision(3));
}

/** What a setting can be set to, in words. */
export function rangeWords({ range, sizes, unit }: Setting): string {
  if (range) return `${range.min} to ${range.max}, step ${range.step}`;
  if (sizes) return `made in ${sizes[0]} to ${sizes[sizes.length - 1]}${unit ? ` ${unit}` : ''}`;
  return 'any value';
}
