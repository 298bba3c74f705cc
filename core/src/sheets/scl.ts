/**
 * Settings of protection functions in a file of IEC 61850-6, as values to be compared with a sheet. The logical nodes of an IED stand for the functions of the sheet in their order: the first
 * PTOC for the first time-delayed overcurrent function, and so on; of a distance function each zone is a PDIS of its own. Names of data objects: IEC 61850-7-4, as remembered.
 */
import { XMLParser } from 'fast-xml-parser';
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

type Node = Readonly<Record<string, unknown>>;
const listOf = (node: unknown, name: string): Node[] => {
  const found = (node as Node | undefined)?.[name];
  return found === undefined || found === '' ? [] : ((Array.isArray(found) ? found : [found]) as Node[]);
};
const attribute = (node: Node, name: string): string => String(node[`@${name}`] ?? '');

/** Every relay of the file with the settings that stand in it. Entities of the file's own are refused. */
export function readScl(text: string): SclRead {
  if (text.length > mostCharacters) return { ok: false, message: 'The file is too large.' };
  if (/<!(DOCTYPE|ENTITY)/i.test(text))
    return { ok: false, message: 'The file declares entities of its own, which are not read.' };
  let tree: Node;
  try {
    tree = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      processEntities: false,
      removeNSPrefix: true,
      parseTagValue: false,
      parseAttributeValue: false,
    }).parse(text) as Node;
  } catch (error) {
    return { ok: false, message: `The file is no XML: ${(error as Error).message}` };
  }
  const root = tree.SCL as Node | '' | undefined;
  if (root === undefined) return { ok: false, message: 'The file is not of IEC 61850-6: it does not begin with SCL.' };
  const devices = listOf(root, 'IED').map((ied): SclDevice => {
    const nodes = listOf(ied, 'AccessPoint')
      .flatMap((point) => listOf(point, 'Server'))
      .flatMap((server) => listOf(server, 'LDevice'))
      .flatMap((device) => listOf(device, 'LN'));
    return {
      name: attribute(ied, 'name'),
      values: nodes.flatMap((node) =>
        listOf(node, 'DOI').flatMap((object) => {
          const value = valueIn(object);
          return value === null
            ? []
            : [
                {
                  class: attribute(node, 'lnClass'),
                  instance: Number(attribute(node, 'inst')) || 1,
                  object: attribute(object, 'name'),
                  value,
                },
              ];
        }),
      ),
    };
  });
  return devices.length === 0 ? { ok: false, message: 'There is no relay (IED) in the file.' } : { ok: true, devices };
}

/** `setMag.f` of an analogue setting, `setVal` of a whole number, with the unit where one is given. */
function valueIn(object: Node): string | null {
  const direct = listOf(object, 'DAI').find((each) => attribute(each, 'name') === 'setVal');
  const analogue = listOf(object, 'SDI')
    .filter((each) => attribute(each, 'name') === 'setMag')
    .flatMap((each) => listOf(each, 'DAI'))
    .find((each) => ['f', 'i'].includes(attribute(each, 'name')));
  const text = listOf(direct ?? analogue, 'Val').map((each) =>
    typeof each === 'object' ? String((each as Node)['#text'] ?? '') : String(each),
  )[0];
  if (text === undefined || text.trim() === '') return null;
  const unit = listOf(object, 'SDI')
    .filter((each) => attribute(each, 'name') === 'units')
    .flatMap((each) => listOf(each, 'DAI'))
    .filter((each) => attribute(each, 'name') === 'SIUnit')
    .flatMap((each) => listOf(each, 'Val'))
    .map((each) => (typeof each === 'object' ? String((each as Node)['#text'] ?? '') : String(each)))[0];
  return unit ? `${text.trim()} ${unit.trim()}` : text.trim();
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
