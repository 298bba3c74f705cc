/** Values to be entered into a relay: as it takes them, primary and secondary, and where each came from. */
import { evaluate } from '../formulas/formula';
import { spreadsheetFormula } from '../formulas/spreadsheet';
import type { Network } from '../model/network';
import { originOf, originState, originTitles, originWords } from '../proposals/origin';
import { inputOf, mainInput, type Device } from '../protection/device';
import { toSecondary } from '../protection/distance/loops';
import type { Setting } from '../protection/family';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import { bookOf, readyRule } from '../rules/book';
import { isOfLineEnd, namesByName, namesFor } from '../rules/names';
import type { Amount, SheetRule, SheetScale, SheetValue } from './content';

/** Of the functions in use. */
export const sheetScales = (device: Device): SheetScale[] =>
  device.functions.flatMap((fn) => (fn.enabled ? [scaleOf(device, fn)] : []));

function scaleOf(device: Device, fn: DeviceFunction): SheetScale {
  const input = device.kind === 'relay' ? (inputOf(device, fn.input) ?? mainInput(device)) : undefined;
  const { voltageAt } = device;
  return {
    functionId: fn.id,
    ct: input ? { primaryA: input.rating.primaryA, secondaryA: input.rating.secondaryA } : null,
    vt: voltageAt && { primaryKv: voltageAt.ratedKv, secondaryV: voltageAt.secondaryV },
    baseA: fn.family === 'differential' ? (fn.sides.at(0)?.baseA ?? null) : null,
  };
}

const amount = (value: number, unit: string): Amount => ({ value, unit });

/** A setting on both sides of the transformers; null where it has no such side, or the transformer is not known. */
export function bothSides(
  { value, unit, secondary }: Pick<Setting, 'value' | 'unit' | 'secondary'>,
  { ct, vt, baseA }: Omit<SheetScale, 'functionId'>,
): Pick<SheetValue, 'primary' | 'secondary'> {
  const ratio = ct && ct.primaryA / ct.secondaryA;
  const ohm = ct && vt && toSecondary(ct, vt);
  switch (unit) {
    case '× In':
      return {
        primary: ct && amount(value * ct.primaryA, 'A'),
        secondary: ct && amount(value * ct.secondaryA, 'A'),
      };
    case '× base': {
      const primary = baseA === null ? null : value * baseA;
      return {
        primary: primary === null ? null : amount(primary, 'A'),
        secondary: primary === null || ratio === null ? null : amount(primary / ratio, 'A'),
      };
    }
    case 'A':
      if (secondary)
        return { primary: ratio === null ? null : amount(value * ratio, 'A'), secondary: amount(value, 'A') };
      return { primary: amount(value, 'A'), secondary: ratio === null ? null : amount(value / ratio, 'A') };
    case 'Ω':
      if (secondary) return { primary: ohm === null ? null : amount(value / ohm, 'Ω'), secondary: amount(value, 'Ω') };
      return { primary: amount(value, 'Ω'), secondary: ohm === null ? null : amount(value * ohm, 'Ω') };
    default:
      return { primary: null, secondary: null };
  }
}

/** All values of the functions in use, choices first, in the order in which the card shows them. */
export const sheetValues = (network: Network, device: Device): SheetValue[] =>
  device.functions.flatMap((fn) => (fn.enabled ? valuesOf(network, device, fn) : []));

function valuesOf(network: Network, device: Device, fn: DeviceFunction): SheetValue[] {
  const family = familyOf(fn);
  const common = { functionId: fn.id, code: family.code(fn) };
  const scales = scaleOf(device, fn);
  const labelled = device.inputs.map(({ id }) => ({ id, label: id }));
  const choices = (family.choices?.(fn, labelled) ?? []).map(
    ({ field, title, value, options, more = false }): SheetValue => ({
      ...common,
      // Some choices put in use what a setting of the same name then says.
      field: `choice.${field}`,
      setting: sentence(title),
      value,
      shown: options.find((option) => option.value === value)?.label ?? value,
      unit: '',
      primary: null,
      secondary: null,
      range: null,
      more,
      state: originState(device.element, fn, field),
      words: '',
      rules: [],
      figures: [],
    }),
  );
  const settings = family.settings(fn).map((setting): SheetValue => {
    const origin = originOf(fn, setting.field);
    const state = originState(device.element, fn, setting.field);
    return {
      ...common,
      field: setting.field,
      setting: setting.title,
      value: setting.value,
      unit: setting.unit,
      ...bothSides(setting, scales),
      range: setting.range,
      more: setting.more ?? false,
      state,
      words: origin ? originWords(origin) : originTitles[state],
      rules: origin ? origin.rules.flatMap(({ id }) => ruleOf(network, id, origin.figures)) : [],
      figures: (origin?.figures ?? []).map(({ name, value, unit, place }) => ({ name, value, unit, place })),
    };
  });
  return [...choices, ...settings];
}

/** A rule of the book in use, with what it comes to; none where the book has changed since. */
function ruleOf(
  network: Network,
  id: string,
  figures: readonly { readonly name: string; readonly value: number }[],
): SheetRule[] {
  const rule = bookOf(network).rules.find((each) => each.id === id);
  if (!rule) return [];
  const { formula } = readyRule(rule);
  const names = namesByName(namesFor(rule.subject));
  const known = new Map(figures.map(({ name, value }) => [name, value]));
  // Rules about ends of lines reckon with impedances, of which an origin keeps the size only.
  const result = formula && !isOfLineEnd(rule.subject) ? evaluate(formula, Object.fromEntries(known), names) : null;
  return [
    {
      title: rule.title,
      formula: rule.formula,
      unit: formula?.unit ?? '',
      result: result?.ok ? result.value : null,
      live: result?.ok
        ? spreadsheetFormula(formula!, names, (name) =>
            known.has(name) ? { re: `{${name}}`, im: null, isPositive: known.get(name)! >= 0 } : null,
          )
        : null,
      clause: rule.clause,
      remembered: rule.remembered,
    },
  ];
}

const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
