/** All settings of a project, one row each: what is set, where, and where its value came from. */
import type { Origin } from '../model/deviceFunction';
import type { ElementId } from '../model/fields';
import type { Network } from '../model/network';
import { stationsOf } from '../model/stations';
import { deviceKindTitles, devicesOf, timeCurrents, type Device } from '../protection/device';
import type { Setting } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { originOf, originState, type OriginState } from './origin';

export interface SettingRow {
  readonly key: string;
  readonly device: Device;
  readonly deviceKind: string;
  readonly fn: DeviceFunction;
  readonly code: string;
  readonly setting: Setting;
  /** Pickups: in primary amperes; null where the function is out of use. */
  readonly primaryA: number | null;
  readonly state: OriginState;
  readonly origin: Origin | null;
}

const known = new WeakMap<Device, readonly SettingRow[]>();

/** What can be set of a device; seldom changed values are left out. */
function rowsOf(device: Device): readonly SettingRow[] {
  let rows = known.get(device);
  if (rows) return rows;
  const curves = timeCurrents(device);
  // As stored: what is for maintenance alone is not in use, and is set all the same.
  rows = device.element.functions.flatMap((fn) => {
    const family = familyOf(fn);
    return family
      .settings(fn)
      .filter(({ more }) => !more)
      .map((setting): SettingRow => {
        const curve = curves.find((each) => each.fn.id === fn.id && each.part === setting.part);
        return {
          key: `${device.id} ${fn.id} ${setting.field}`,
          device,
          deviceKind: deviceKindTitles[device.kind],
          fn,
          code: family.code(fn),
          setting,
          primaryA: setting.role === 'pickup' ? (curve?.pickupA ?? null) : null,
          state: originState(device.element, fn, setting.field),
          origin: originOf(fn, setting.field),
        };
      });
  });
  known.set(device, rows);
  return rows;
}

export const settingRows = (network: Network): SettingRow[] => devicesOf(network).flatMap(rowsOf);

export interface SettingFilter {
  /** Each word begins a word: device, function, setting, kind of device. */
  readonly words: string;
  readonly origin: OriginState | null;
  /** Devices of a station. */
  readonly station: ElementId | null;
  /** Devices that a check is about that does not hold; null: whatever the checks say. */
  readonly devices: ReadonlySet<ElementId> | null;
}
export const everySetting: SettingFilter = { words: '', origin: null, station: null, devices: null };

/** Rows that pass all parts of a filter. */
export function foundSettings(
  network: Network,
  rows: readonly SettingRow[],
  { words, origin, station, devices }: SettingFilter,
): SettingRow[] {
  const typed = words.toLowerCase().split(/\s+/).filter(Boolean);
  const within = station === null ? null : stationsOf(network).find(({ id }) => id === station)?.elements;
  return rows.filter(({ device, code, setting, state, deviceKind }) => {
    if (origin !== null && state !== origin) return false;
    if (station !== null && !within?.has(device.id)) return false;
    if (devices !== null && !devices.has(device.id)) return false;
    const tokens = `${device.name} ${code} ${setting.title} ${deviceKind}`.toLowerCase().split(/\s+/);
    return typed.every((word) => tokens.some((token) => token.startsWith(word)));
  });
}

export const rowOf = (
  network: Network,
  device: ElementId,
  functionId: ElementId,
  field: string,
): SettingRow | undefined => settingRows(network).find((row) => row.key === `${device} ${functionId} ${field}`);
