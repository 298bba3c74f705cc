/**
 * Types of relay: which functions one has, and in which ranges and steps its panel takes their settings, in multiples of the rated current or in secondary
 * amperes. Stored flat in a library entry; a relay of a type keeps the settings it has, and what the type does not take is told.
 */
import type { SettingRange } from '../model/deviceFunction';
import type { Relay } from '../model/protection';
import { functionCodes, type FunctionCode, type OvercurrentFunction } from '../protection/overcurrent/schema';
import { isSettable } from '../protection/settings/range';
import { familyOf } from '../protection/registry';
import type { DeviceFunction } from '../protection/schemas';
import type { LibraryEntry } from './entry';

/** How a panel states a pickup. */
export const panels = ['rated', 'secondary'] as const;
export type Panel = (typeof panels)[number];
export const panelUnits: Readonly<Record<Panel, string>> = { rated: '× In', secondary: 'A secondary' };

export type Ranges = OvercurrentFunction['ranges'];

export interface RelayType {
  readonly panel: Panel;
  /** Pickups as the panel states them. */
  readonly functions: ReadonlyMap<FunctionCode, Ranges>;
}

const settings = ['pickup', 'timeMultiplier', 'delayS'] as const;
const ends = ['min', 'max', 'step'] as const;
type Flat = Readonly<Record<string, number>>;

export const relayTypeData = ({ panel, functions }: RelayType): LibraryEntry['data'] => ({
  panel,
  ...Object.fromEntries(
    [...functions].map(([code, ranges]) => [
      code,
      Object.fromEntries(settings.flatMap((each) => ends.map((end) => [`${each} ${end}`, ranges[each][end]]))),
    ]),
  ),
});

/** Null where the data are not those of a relay type. */
export function relayTypeOf({ data, for: kind }: LibraryEntry): RelayType | null {
  const panel = panels.find((each) => each === data.panel);
  if (kind !== 'relay' || !panel) return null;
  const functions = new Map<FunctionCode, Ranges>();
  for (const code of functionCodes) {
    const flat = data[code] as Flat | undefined;
    if (!flat || typeof flat !== 'object') continue;
    const range = (each: (typeof settings)[number]): SettingRange => ({
      min: flat[`${each} min`],
      max: flat[`${each} max`],
      step: flat[`${each} step`],
    });
    const ranges = { pickup: range('pickup'), timeMultiplier: range('timeMultiplier'), delayS: range('delayS') };
    if (Object.values(ranges).some((each) => !isRange(each))) return null;
    functions.set(code, ranges);
  }
  return functions.size > 0 ? { panel, functions } : null;
}

const isRange = ({ min, max, step }: SettingRange): boolean =>
  [min, max, step].every(Number.isFinite) && min >= 0 && max >= min && step > 0;

/** Ranges in multiples of the rated current, as they are stored, for a CT with this secondary current. */
export function storedRanges(panel: Panel, ranges: Ranges, secondaryA: number): Ranges {
  if (panel === 'rated') return ranges;
  const { min, max, step } = ranges.pickup;
  const clean = (value: number) => Number((value / secondaryA).toPrecision(9));
  return { ...ranges, pickup: { min: clean(min), max: clean(max), step: clean(step) } };
}

/** Secondary rated current of the CT at a function's input; 1 A where none is known. */
export type SecondaryOf = (fn: DeviceFunction) => number;

/** The relay with the ranges of a type; its settings stay. */
export function withRelayType(relay: Relay, entry: LibraryEntry, secondaryOf: SecondaryOf): Relay | null {
  const type = relayTypeOf(entry);
  if (!type) return null;
  const functions = relay.functions.map((fn) => {
    const ranges = fn.family === 'overcurrent' ? type.functions.get(fn.code) : undefined;
    return fn.family === 'overcurrent' && ranges
      ? { ...fn, ranges: storedRanges(type.panel, ranges, secondaryOf(fn)) }
      : fn;
  });
  return { ...relay, device: entry.title.slice(0, 80), entry: entry.id, functions };
}

/** Functions in use that a type does not have, and settings that it does not take, in words. */
export function relayMisfits(relay: Relay, entry: LibraryEntry, secondaryOf: SecondaryOf): string[] {
  const type = relayTypeOf(entry);
  if (!type) return ['not a type of relay'];
  return relay.functions
    .filter(({ enabled }) => enabled)
    .flatMap((fn): string[] => {
      const family = familyOf(fn);
      const ranges = fn.family === 'overcurrent' ? type.functions.get(fn.code) : undefined;
      if (fn.family !== 'overcurrent' || !ranges) return [`has no function ${family.code(fn)}`];
      const stored = storedRanges(type.panel, ranges, secondaryOf(fn));
      return family
        .settings({ ...fn, ranges: stored })
        .flatMap(({ title, unit, value, range }) =>
          range && !isSettable(range, value)
            ? [
                `${fn.code} ${title.toLowerCase()} ${value}${unit ? ` ${unit}` : ''}: takes ${range.min} to ${range.max} in steps of ${range.step}`,
              ]
            : [],
        );
    });
}

/** Where the ranges of a relay differ from those of its type: function and setting. */
export function relayOverrides(relay: Relay, entry: LibraryEntry, secondaryOf: SecondaryOf) {
  const type = relayTypeOf(entry);
  return relay.functions.flatMap((fn) => {
    const ranges = fn.family === 'overcurrent' ? type?.functions.get(fn.code) : undefined;
    if (fn.family !== 'overcurrent' || !type || !ranges) return [];
    const own = storedRanges(type.panel, ranges, secondaryOf(fn));
    return settings.flatMap((each) =>
      ends.flatMap((end) =>
        own[each][end] === fn.ranges[each][end]
          ? []
          : [
              {
                path: `${fn.code} ${each} ${end}`,
                ofType: own[each][end] as unknown,
                here: fn.ranges[each][end] as unknown,
              },
            ],
      ),
    );
  });
}

/** A type out of a relay as it stands: the ranges of its overcurrent functions. */
export const relayTypeFrom = (relay: Relay): RelayType => ({
  panel: 'rated',
  functions: new Map(
    relay.functions.flatMap((fn) => (fn.family === 'overcurrent' ? [[fn.code, fn.ranges] as const] : [])),
  ),
});
