/** Where the value of a setting came from: typed, proposed by rules, or set against a proposal with a reason. */
import type { Origin } from '../model/deviceFunction';
import type { ElementId } from '../model/fields';
import { withFunctions, type DeviceElement } from '../protection/device';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import type { Demand } from './demand';
import type { ProposedValue } from './proposal';

export type OriginState = 'typed' | 'assumed' | 'proposed' | 'overridden';
export const originTitles: Readonly<Record<OriginState, string>> = {
  typed: 'typed',
  assumed: 'assumed',
  proposed: 'by rule',
  overridden: 'overridden',
};

/** What a value is now; undefined where the function has no such field. */
export const valueNow = (fn: DeviceFunction, field: string): number | boolean | undefined =>
  field === 'enabled'
    ? fn.enabled
    : familyOf(fn)
        .settings(fn)
        .find((each) => each.field === field)?.value;

/** The origin that still counts: a value that has been changed since was typed. */
export function originOf(fn: DeviceFunction, field: string): Origin | null {
  const origin = fn.origins?.find((each) => each.field === field);
  return origin && origin.value === valueNow(fn, field) ? origin : null;
}

export function originState(element: DeviceElement, fn: DeviceFunction, field: string): OriginState {
  const origin = originOf(fn, field);
  if (origin) return origin.proposed === null ? 'proposed' : 'overridden';
  return element.assumed?.includes('functions') ? 'assumed' : 'typed';
}

const figure = (value: number): string => String(Number(value.toPrecision(4)));

/** Where a value came from, in a sentence without its end. */
export function originWords({ proposed, on, reason, rules, book, figures }: Origin): string {
  if (proposed !== null) return `set on ${on} instead of ${String(proposed)}: ${reason}`;
  const from = figures.map(
    ({ name, value, unit, place }) => `${name} ${figure(value)} ${unit}${place && ` at ${place}`}`,
  );
  return `proposed on ${on} by ${rules.map(({ title }) => title).join(', ')} (${book})${from.length > 0 ? ` from ${from.join(', ')}` : ''}`;
}

const withOrigin = <F extends DeviceFunction>(fn: F, origin: Origin): F => ({
  ...fn,
  origins: [...(fn.origins ?? []).filter(({ field }) => field !== origin.field), origin],
});

/** The device with some proposed values, each with the rules and figures that it came from. `on`: the day, as text. */
export function accepted<E extends DeviceElement>(
  element: E,
  values: readonly ProposedValue[],
  book: string,
  on: string,
): E {
  const wholes = new Map(values.flatMap(({ functionId, whole }) => (whole ? [[functionId, whole] as const] : [])));
  const origin = (field: string, to: number | boolean, by: readonly Demand[]): Origin => ({
    field,
    value: to,
    proposed: null,
    reason: '',
    book,
    rules: by.flatMap(({ rule }) => (rule ? [{ id: rule.id, title: rule.title }] : [])).slice(0, 6),
    figures: by
      .flatMap(({ figures }) => figures)
      .filter(({ name }, k, all) => all.findIndex((other) => other.name === name) === k)
      .map(({ name, value, unit, condition, place }) => ({ name, value: value!, unit, condition, place }))
      .slice(0, 12),
    on,
  });
  const entire = (id: ElementId): DeviceFunction | null => {
    const whole = wholes.get(id);
    if (!whole) return null;
    return whole.parts
      .filter(({ by }) => by.length > 0)
      .reduce((fn, { field, value, by }) => withOrigin(fn, origin(field, value, by)), whole.fn);
  };
  const functions = element.functions.map((fn) => {
    let changed = entire(fn.id) ?? fn;
    for (const { functionId, field, to, by } of values) {
      if (functionId !== fn.id || typeof to === 'string') continue;
      changed =
        typeof to === 'boolean' ? { ...changed, enabled: to } : familyOf(changed).withSetting(changed, field, to);
      if (by.length > 0) changed = withOrigin(changed, origin(field, to, by));
    }
    return changed;
  });
  const added = [...wholes.keys()].filter((id) => !element.functions.some((fn) => fn.id === id));
  return withFunctions(element, [...functions, ...added.map((id) => entire(id)!)]);
}

/** A value of one's own instead of the proposed one; the reason stays with it. */
export function overridden<E extends DeviceElement>(
  element: E,
  functionId: ElementId,
  field: string,
  value: number,
  reason: string,
  on: string,
): E {
  return withFunctions(
    element,
    element.functions.map((fn) => {
      if (fn.id !== functionId) return fn;
      const before = fn.origins?.find((each) => each.field === field);
      const none = { book: '', rules: [], figures: [] };
      const now = valueNow(fn, field);
      return withOrigin(familyOf(fn).withSetting(fn, field, value), {
        ...(before ?? none),
        field,
        value,
        proposed: before ? (before.proposed ?? before.value) : (now ?? null),
        reason,
        on,
      });
    }),
  );
}
