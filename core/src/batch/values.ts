/** Values of elements set for a study alone: "FER T1.ukPercent=8,10,12", "L1.lengthKm=1..5:0.5"; several of them make a grid of cases. The project itself stays as it is. */
import { columnsOf, typed } from '../fields/cells';
import { isShown } from '../fields/schemaFields';
import { elementSchemas, nameOf, type Element } from '../model/element';
import type { ElementId } from '../model/fields';
import { withElements, type Network } from '../model/network';

/** A field of an element with the values that it takes in turn, as they were written. */
export interface Setting {
  readonly element: ElementId;
  readonly path: readonly string[];
  /** "FER T1.ukPercent". */
  readonly label: string;
  readonly values: readonly string[];
}

/** One combination of values. */
export interface GridCase {
  readonly values: readonly { readonly setting: Setting; readonly value: string }[];
}

export class SettingRefusal extends Error {}

const mostValues = 1000;
const mostCases = 10_000;

/** Reads what was written. Throws a `SettingRefusal` in words. */
export const settingsOf = (network: Network, texts: readonly string[]): Setting[] =>
  texts.map((text) => settingOf(network, text));

function settingOf(network: Network, text: string): Setting {
  const at = text.indexOf('=');
  if (at < 1) throw new SettingRefusal(`"${text}" is no ELEMENT.FIELD=VALUE`);
  const left = text.slice(0, at).trim();
  const { element, path } = ownerOf(network, left);
  const values = valuesOf(text.slice(at + 1));
  const setting = { element: element.id, path, label: left, values };
  // The first value tells whether the field is there at all.
  withValue(element, setting, values[0]);
  return setting;
}

/** Names hold dots and spaces: the longest name that the text begins with. */
function ownerOf(network: Network, left: string): { element: Element; path: string[] } {
  let found: { element: Element; name: string } | null = null;
  for (const element of network.elements.values())
    for (const name of [element.id as string, ...('name' in element ? [nameOf(element)] : [])])
      if (left.startsWith(`${name}.`) && name.length > (found?.name.length ?? 0)) found = { element, name };
  if (!found) throw new SettingRefusal(`no element is called as "${left}" begins: it is ELEMENT.FIELD`);
  const { element, name } = found;
  return { element, path: left.slice(name.length + 1).split('.') };
}

/** "1,2,3", and "1..3:0.5" for a range with its step. */
function valuesOf(text: string): string[] {
  const values = text.split(',').flatMap((part): string[] => {
    const range = /^\s*(-?[\d.]+(?:e-?\d+)?)\.\.(-?[\d.]+(?:e-?\d+)?)(?::(-?[\d.]+(?:e-?\d+)?))?\s*$/i.exec(part);
    return range
      ? between(part, Number(range[1]), Number(range[2]), range[3] === undefined ? 1 : Number(range[3]))
      : [part.trim()];
  });
  if (values.length > mostValues) throw new SettingRefusal(`"${text}" are more than ${mostValues} values`);
  return values;
}

function between(part: string, from: number, to: number, step: number): string[] {
  const count = Math.floor((to - from) / step + 1e-9) + 1;
  if (!Number.isFinite(count) || step === 0 || count < 1)
    throw new SettingRefusal(`"${part}" is no range: FROM..TO:STEP`);
  if (count > mostValues) throw new SettingRefusal(`"${part}" are more than ${mostValues} values`);
  return Array.from({ length: count }, (_, k) => String(Number((from + k * step).toPrecision(12))));
}

/** All combinations, the last setting changing first. */
export function gridOf(settings: readonly Setting[]): GridCase[] {
  const count = settings.reduce((product, { values }) => product * values.length, 1);
  if (count > mostCases) throw new SettingRefusal(`${count} cases are more than ${mostCases}`);
  return settings.reduce<GridCase[]>(
    (cases, setting) =>
      cases.flatMap(({ values }) => setting.values.map((value) => ({ values: [...values, { setting, value }] }))),
    [{ values: [] }],
  );
}

/** The network in a case. Throws a `SettingRefusal` where a value cannot be. */
export function inCase(network: Network, { values }: GridCase): Network {
  return values.reduce((now, { setting, value }) => {
    const element = now.elements.get(setting.element)!;
    return withElements(now, [withValue(element, setting, value)]);
  }, network);
}

function withValue(element: Element, { path, label }: Pick<Setting, 'path' | 'label'>, text: string): Element {
  const refuse = (message: string): never => {
    throw new SettingRefusal(`${label}=${text}: ${message}`);
  };
  const column = columnsOf(element.kind).find(({ id }) => id === path.join('.'));
  if (column && isShown(element, column.field)) {
    const result = typed(element, column, text);
    return result.ok ? result.element : refuse(result.message);
  }
  const next = replaced(element, path, text);
  if (next === undefined)
    return refuse(
      `there is no such field; there are ${columnsOf(element.kind)
        .map(({ id }) => id)
        .join(', ')}`,
    );
  const parsed = elementSchemas[element.kind].safeParse(next);
  return parsed.success ? (parsed.data as Element) : refuse(parsed.error.issues[0].message);
}

/** A copy with the value at a path; entries of lists by number from 1, or by their code, as functions have one. Undefined where the path leads nowhere. */
function replaced(value: unknown, [step, ...rest]: readonly string[], text: string): unknown {
  if (step === undefined) return leaf(value, text);
  if (Array.isArray(value)) {
    const byCode = value.findIndex(
      (each) =>
        (each as { code?: unknown; name?: unknown } | null)?.code === step ||
        (each as { name?: unknown } | null)?.name === step,
    );
    const k = byCode >= 0 ? byCode : Number(step) - 1;
    if (!Number.isInteger(k) || k < 0 || k >= value.length) return undefined;
    const next = replaced(value[k], rest, text);
    return next === undefined ? undefined : value.map((each, j) => (j === k ? next : each));
  }
  if (typeof value !== 'object' || value === null || !Object.hasOwn(value, step)) return undefined;
  const next = replaced((value as Record<string, unknown>)[step], rest, text);
  return next === undefined ? undefined : { ...value, [step]: next };
}

/** In the form of what stood there. */
function leaf(before: unknown, text: string): unknown {
  if (typeof before === 'boolean')
    return text === 'true' || text === 'yes' ? true : text === 'false' || text === 'no' ? false : undefined;
  if (text === 'null') return null;
  const number = Number(text);
  if (typeof before === 'number' || before === null)
    return text.trim() !== '' && Number.isFinite(number) ? number : undefined;
  return typeof before === 'string' ? text : undefined;
}
