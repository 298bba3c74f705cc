/**
 * Settings of protection functions in a file of IEC 61850-6, as values to be compared with a sheet. The logical nodes of an IED stand for the functions of the sheet in their order: the first
 * PTOC for the first time-delayed overcurrent function, and so on; of a distance function each zone is a PDIS of its own. Names of data objects: IEC 61850-7-4, as remembered.
 */
import { FileRefusal } from '../formats/format';
import { finished } from '../formats/registry';
import { logicalNodesOf } from '../formats/scl/read';
import { attribute, childrenOf, readTree, type SclNode } from '../formats/scl/tree';
import type { SheetContent } from './content';
import type { ReadValue } from './readBack';

/** Larger is no description of one station's relays. */
const mostCharacters = 40_000_000;

interface Setting {
  readonly setting: string;
  readonly unit: string;
}

/** Data objects of each class, and what they are on a sheet; "#" stands for the number of the zone. */
const objects: Readonly<Record<string, Readonly<Record<string, Setting>>>> = {
  PTOC: {
    StrVal: { setting: 'Pickup', unit: '' },
    TmMult: { setting: 'Time multiplier', unit: '' },
    OpDlTmms: { setting: 'Delay', unit: 'ms' },
  },
  PIOC: { StrVal: { setting: 'Pickup', unit: '' }, OpDlTmms: { setting: 'Delay', unit: 'ms' } },
  PDIS: {
    PoRch: { setting: 'Zone # reach', unit: 'Ω' },
    RisPhRch: { setting: 'Zone # resistance', unit: 'Ω' },
    RisGndRch: { setting: 'Zone # resistance, earth', unit: 'Ω' },
    PhDlTmms: { setting: 'Zone # delay', unit: 'ms' },
    GndDlTmms: { setting: 'Zone # delay, earth', unit: 'ms' },
    OpDlTmms: { setting: 'Zone # delay', unit: 'ms' },
  },
  PDIF: { LoSet: { setting: 'Pickup', unit: '' }, HiSet: { setting: 'Unrestrained', unit: '' } },
};

/** Class of the functions of a sheet, by their code. */
const classOf = (code: string): string | null =>
  /^21/.test(code)
    ? 'PDIS'
    : /^87/.test(code)
      ? 'PDIF'
      : /^50/.test(code)
        ? 'PIOC'
        : /^(51|67)/.test(code)
          ? 'PTOC'
          : null;

export interface SclDevice {
  readonly name: string;
  readonly values: readonly {
    readonly class: string;
    readonly instance: number;
    readonly object: string;
    readonly value: string;
  }[];
}

export type SclRead =
  { readonly ok: true; readonly devices: readonly SclDevice[] } | { readonly ok: false; readonly message: string };

/** Every relay of the file with the settings that stand in it. */
export function readScl(text: string): SclRead {
  if (text.length > mostCharacters) return { ok: false, message: 'The file is too large.' };
  let root: SclNode;
  try {
    root = finished(readTree(text));
  } catch (error) {
    if (!(error instanceof FileRefusal)) throw error;
    return { ok: false, message: `The file cannot be read as SCL: ${error.message}` };
  }
  const devices = childrenOf(root, 'IED').map((ied): SclDevice => ({
    name: attribute(ied, 'name'),
    values: logicalNodesOf(ied).flatMap(({ class: of, instance, objects: stated }) =>
      stated
        .filter(({ form }) => form === 'setMag' || form === 'setVal')
        .map(({ name, value, unit }) => ({
          class: of,
          instance,
          object: name,
          value: unit ? `${value} ${unit}` : value,
        })),
    ),
  }));
  return devices.length === 0 ? { ok: false, message: 'There is no relay (IED) in the file.' } : { ok: true, devices };
}

/** Settings of one relay of the file, by the functions of a sheet. */
export function sclValues({ values }: SclDevice, sheet: Pick<SheetContent, 'values'>): ReadValue[] {
  const byClass = new Map<string, { functionId: string; code: string }[]>();
  for (const { functionId, code } of sheet.values) {
    const of = classOf(code);
    if (!of) continue;
    const list = byClass.get(of) ?? [];
    if (!list.some((each) => each.functionId === functionId)) byClass.set(of, [...list, { functionId, code }]);
  }
  return values.flatMap(({ class: of, instance, object, value }): ReadValue[] => {
    const known = objects[of]?.[object];
    if (!known) return [];
    const owners = byClass.get(of) ?? [];
    const owner = of === 'PDIS' ? owners[0] : owners[instance - 1];
    const setting = known.setting.replace('#', String(instance));
    const hasUnit = /[^\d.,+\-eE\s]/.test(value);
    return [
      {
        key: owner ? keyOf(sheet, owner.functionId, setting) : null,
        code: owner?.code ?? `${of}${instance}`,
        setting,
        value: hasUnit || known.unit === '' ? value : `${value} ${known.unit}`,
      },
    ];
  });
}

const keyOf = ({ values }: Pick<SheetContent, 'values'>, functionId: string, setting: string): string | null => {
  const found = values.find(
    (each) => each.functionId === functionId && each.setting.toLowerCase() === setting.toLowerCase(),
  );
  return found ? `${found.functionId}.${found.field}` : null;
};
