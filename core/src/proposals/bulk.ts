/** Many settings at once: by a value or a factor for all that are shown, or out of lines pasted from a spreadsheet; shown before they are stored. */
import { parseQuantity } from '../fields/quantity';
import type { ElementId } from '../model/fields';
import { withFunctions, type DeviceElement } from '../protection/device';
import { familyOf } from '../protection/registry';
import { isSettable, snap } from '../protection/settings/range';
import type { SettingRow } from './list';
import { overridden } from './origin';

export interface BulkChange {
  readonly row: SettingRow;
  readonly to: number;
}

export interface BulkProblem {
  /** Line of what was pasted, from 1; row of the list otherwise. */
  readonly line: number;
  readonly message: string;
}

export interface Bulk {
  readonly changes: readonly BulkChange[];
  readonly problems: readonly BulkProblem[];
}

/** The nearest that can be set, or null where the wanted value lies outside of what the device has. */
function settable({ setting: { range, sizes } }: SettingRow, wanted: number): number | null {
  if (sizes) return sizes.reduce((p, q) => (Math.abs(q - wanted) < Math.abs(p - wanted) ? q : p));
  if (!range) return wanted;
  const slack = range.step / 2;
  return wanted < range.min - slack || wanted > range.max + slack ? null : snap(range, wanted);
}

/** The same value, or the stored one times a factor, for all rows; on the steps of each device. */
export function changedAll(rows: readonly SettingRow[], by: 'value' | 'factor', amount: number): Bulk {
  const changes: BulkChange[] = [];
  const problems: BulkProblem[] = [];
  for (const [k, row] of rows.entries()) {
    const wanted = by === 'value' ? amount : row.setting.value * amount;
    const to = settable(row, wanted);
    if (to === null)
      problems.push({ line: k + 1, message: `${titleOf(row)}: ${wanted} is beyond what the device can be set to` });
    else if (to !== row.setting.value) changes.push({ row, to });
  }
  return { changes, problems };
}

const titleOf = ({ device, code, setting }: SettingRow): string =>
  `${device.name}, ${code} ${setting.title.toLowerCase()}`;
const said = (text: string): string => text.trim().toLowerCase();

/** Lines of device, function, setting, value, as they stand in a spreadsheet: between them tabs or semicolons. Nothing is guessed. */
export function pasted(rows: readonly SettingRow[], text: string): Bulk {
  const changes: BulkChange[] = [];
  const problems: BulkProblem[] = [];
  const seen = new Set<string>();
  for (const [k, line] of text.split(/\r?\n/).entries()) {
    if (line.trim() === '') continue;
    const refuse = (message: string) => problems.push({ line: k + 1, message });
    const cells = line.split(/\t|;/);
    if (cells.length < 4) {
      refuse('needs device, function, setting and value');
      continue;
    }
    const [device, code, title, value] = cells;
    const ofDevice = rows.filter((row) => said(row.device.name) === said(device));
    const found = ofDevice.filter((row) => said(row.code) === said(code) && said(row.setting.title) === said(title));
    if (found.length !== 1) {
      // The head of a table is no line of it.
      if (k === 0 && said(device) === 'device') continue;
      refuse(
        ofDevice.length === 0
          ? `there is no device "${device.trim()}"`
          : found.length === 0
            ? `${ofDevice[0].device.name} has no ${code.trim()} ${title.trim()}`
            : `${device.trim()} has several ${code.trim()} ${title.trim()}: change it in the list`,
      );
      continue;
    }
    const [row] = found;
    const read = parseQuantity(value, row.setting.unit);
    if (!read.ok) {
      refuse(`${titleOf(row)}: ${read.message}`);
      continue;
    }
    const { range, sizes } = row.setting;
    const fits = sizes ? sizes.includes(read.value) : !range || isSettable(range, read.value);
    if (!fits)
      refuse(
        `${titleOf(row)}: ${read.value} cannot be set; nearest ${settable(row, read.value) ?? snap(range!, read.value)}`,
      );
    else if (seen.has(row.key)) refuse(`${titleOf(row)} stands twice`);
    else if (read.value !== row.setting.value) changes.push({ row, to: read.value });
    seen.add(row.key);
  }
  return { changes, problems };
}

/** The devices with these values; where a value was proposed, the reason stays with the new one. */
export function withBulk(changes: readonly BulkChange[], reason: string, on: string): DeviceElement[] {
  const elements = new Map<ElementId, DeviceElement>();
  for (const { row, to } of changes) {
    const { device, fn, setting, origin } = row;
    const element = elements.get(device.id) ?? device.element;
    const changed =
      origin || reason !== ''
        ? overridden(element, fn.id, setting.field, to, reason, on)
        : withFunctions(
            element,
            element.functions.map((each) =>
              each.id === fn.id ? familyOf(each).withSetting(each, setting.field, to) : each,
            ),
          );
    elements.set(device.id, changed);
  }
  return [...elements.values()];
}
