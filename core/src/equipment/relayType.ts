/**
 * Types of relay: which functions one has, and in which ranges and steps its panel takes their settings, in multiples of the rated current or in secondary
 * amperes. Stored flat in a library entry; a relay of a type keeps the settings it has, and what the type does not take is told.
 */
import type { SettingRange } from '../model/deviceFunction';
import type { Relay } from '../model/protection';
import { startings, type DistanceFunction } from '../protection/distance/schema';
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

/** What a type offers of distance protection; a list is a text with commas. */
export interface DistanceOffer {
  readonly characteristics: readonly DistanceFunction['characteristic'][];
  /** Numbered zones, and whether there is an overreaching one besides. */
  readonly zones: number;
  readonly overreach: boolean;
  readonly starting: readonly (typeof startings)[number][];
  readonly compensation: readonly DistanceFunction['compensation'][];
  readonly parallel: boolean;
  readonly loadCut: boolean;
  readonly voltageFailure: boolean;
  readonly onClosing: boolean;
  readonly ranges: DistanceFunction['ranges'];
}

export interface RelayType {
  readonly panel: Panel;
  /** Null: no distance protection. */
  readonly distance: DistanceOffer | null;
  /** Pickups as the panel states them. */
  readonly functions: ReadonlyMap<FunctionCode, Ranges>;
}

const settings = ['pickup', 'timeMultiplier', 'delayS'] as const;
const ends = ['min', 'max', 'step'] as const;
type Flat = Readonly<Record<string, number>>;

const parts = ['parallel', 'loadCut', 'voltageFailure', 'onClosing', 'overreach'] as const;
const lists = {
  characteristics: ['mho', 'offsetMho', 'quadrilateral'],
  starting: startings,
  compensation: ['factor', 'apart'],
} as const;
const listNames = ['characteristics', 'starting', 'compensation'] as const;
/** Under which the offer of distance protection stands in the data of a type. */
export const distanceCode = '21';

const distanceData = (offer: DistanceOffer): Record<string, string | number> => ({
  ...Object.fromEntries(listNames.map((name) => [name, offer[name].join(' ')])),
  zones: offer.zones,
  ...Object.fromEntries(parts.map((part) => [part, Number(offer[part])])),
  ...Object.fromEntries(
    (['ohm', 'delayS'] as const).flatMap((each) => ends.map((end) => [`${each} ${end}`, offer.ranges[each][end]])),
  ),
});

/** What an offer is made of: lists of words, and numbers. */
export const distanceWords: readonly string[] = listNames;
export const distanceNumbers: readonly string[] = [
  'zones',
  ...parts,
  ...(['ohm', 'delayS'] as const).flatMap((each) => ends.map((end) => `${each} ${end}`)),
];

/** Null where the data are not those of an offer. */
function distanceOf(data: LibraryEntry['data']): DistanceOffer | null {
  const flat = data[distanceCode] as Readonly<Record<string, string | number>> | undefined;
  if (!flat || typeof flat !== 'object') return null;
  const words = <T extends string>(name: string, known: readonly T[]): T[] =>
    known.filter((word) =>
      String(flat[name] ?? '')
        .split(/[\s,]+/)
        .includes(word),
    );
  const range = (each: string): SettingRange => ({
    min: Number(flat[`${each} min`]),
    max: Number(flat[`${each} max`]),
    step: Number(flat[`${each} step`]),
  });
  const ranges = { ohm: range('ohm'), delayS: range('delayS') };
  const offer: DistanceOffer = {
    characteristics: words('characteristics', lists.characteristics),
    starting: words('starting', lists.starting),
    compensation: words('compensation', lists.compensation),
    zones: Number(flat.zones),
    overreach: Number(flat.overreach) === 1,
    parallel: Number(flat.parallel) === 1,
    loadCut: Number(flat.loadCut) === 1,
    voltageFailure: Number(flat.voltageFailure) === 1,
    onClosing: Number(flat.onClosing) === 1,
    ranges,
  };
  const isOffer = offer.characteristics.length > 0 && offer.zones >= 1 && Object.values(ranges).every(isRange);
  return isOffer ? offer : null;
}

/** What a function uses that an offer lacks, in words. */
function distanceMisfits(fn: DistanceFunction, offer: DistanceOffer | null): string[] {
  if (!offer) return ['has no function 21'];
  const lacks = (isLacking: boolean, what: string) => (isLacking ? [`21 has no ${what}`] : []);
  const zones = fn.zones.filter(({ enabled }) => enabled);
  const family = familyOf(fn);
  return [
    ...lacks(!offer.characteristics.includes(fn.characteristic), characteristicWords[fn.characteristic]),
    ...lacks(!offer.compensation.includes(fn.compensation), fn.compensation === 'factor' ? 'k0' : 'RE/RL and XE/XL'),
    ...zones.flatMap(({ name }) =>
      name === 'overreach'
        ? lacks(!offer.overreach, 'overreaching zone')
        : lacks(Number(name) > offer.zones, `zone ${name}`),
    ),
    ...lacks(fn.starting !== null && !offer.starting.includes(fn.starting.by), `starting by ${fn.starting?.by}`),
    ...lacks(fn.parallelInput !== null && !offer.parallel, 'input for the parallel line'),
    ...lacks(fn.loadCut !== null && !offer.loadCut, 'load cut out'),
    ...lacks(fn.voltageFailure !== null && !offer.voltageFailure, 'overcurrent without voltage'),
    ...lacks(fn.onClosing !== null && !offer.onClosing, 'stage on closing'),
    ...family
      .settings({ ...fn, ranges: offer.ranges })
      .flatMap(({ title, unit, value, range }) =>
        (unit === 'Ω' || unit === 's') && range && !isSettable(range, value)
          ? [`21 ${title.toLowerCase()} ${value} ${unit}: takes ${range.min} to ${range.max} in steps of ${range.step}`]
          : [],
      ),
  ];
}

const characteristicWords: Readonly<Record<DistanceFunction['characteristic'], string>> = {
  mho: 'circle through the origin',
  offsetMho: 'circle with offset',
  quadrilateral: 'quadrilateral',
};

export const relayTypeData = ({ panel, functions, distance }: RelayType): LibraryEntry['data'] => ({
  panel,
  ...(distance && { [distanceCode]: distanceData(distance) }),
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
  const distance = distanceOf(data);
  if (data[distanceCode] !== undefined && !distance) return null;
  return functions.size > 0 || distance ? { panel, functions, distance } : null;
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
    if (fn.family === 'distance') return type.distance ? { ...fn, ranges: type.distance.ranges } : fn;
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
      if (fn.family === 'distance') return distanceMisfits(fn, type.distance);
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

/** What the distance function of a relay uses, as an offer: no more is known of it. */
function offerOf(relay: Relay): DistanceOffer | null {
  const fn = relay.functions.find((each): each is DistanceFunction => each.family === 'distance');
  if (!fn) return null;
  const numbered = fn.zones.map(({ name }) => Number(name)).filter(Number.isFinite);
  return {
    characteristics: [fn.characteristic],
    zones: Math.max(1, ...numbered),
    overreach: fn.zones.some(({ name }) => name === 'overreach'),
    starting: fn.starting ? [fn.starting.by] : [],
    compensation: [fn.compensation],
    parallel: fn.parallelInput !== null,
    loadCut: fn.loadCut !== null,
    voltageFailure: fn.voltageFailure !== null,
    onClosing: fn.onClosing !== null,
    ranges: fn.ranges,
  };
}

/** A type out of a relay as it stands: the ranges of its overcurrent functions. */
export const relayTypeFrom = (relay: Relay): RelayType => ({
  panel: 'rated',
  distance: offerOf(relay),
  functions: new Map(
    relay.functions.flatMap((fn) => (fn.family === 'overcurrent' ? [[fn.code, fn.ranges] as const] : [])),
  ),
});
