/** What of a package a relay takes as its settings: zones into its distance function, stages of overcurrent beside it. The rest stays in the document. */
import type { ElementId } from '../model/fields';
import type { Change } from '../model/changes';
import type { Relay } from '../model/protection';
import { freshDistance } from '../protection/distance';
import type { DistanceFunction, DistanceZone, ZoneName } from '../protection/distance/schema';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import type { FunctionCode, OvercurrentFunction } from '../protection/overcurrent/schema';
import type { DeviceFunction } from '../protection/schemas';
import { snap } from '../protection/settings/range';
import { isSameEnd } from '../reach/circuits';
import { inRelay, withReaches, type ReachRow } from '../reach/plan';
import type { Decided, Reaches } from '../reach/zones';
import type { PackageElement } from './elements';

/** Stages by the elements that set them. */
const stages: readonly { readonly code: FunctionCode; readonly pickup: string; readonly delay: string | null }[] = [
  { code: '50', pickup: 'instant', delay: null },
  { code: '50N', pickup: 'instantEarth', delay: null },
  { code: '67N', pickup: 'earth', delay: 'earthDelay' },
];

/** Elements that become settings of a relay. */
export const isTaken = ({ kind }: Pick<PackageElement, 'kind'>): boolean =>
  /^z\d|^pilot$|^reverse$/.test(kind.id) || stages.some(({ pickup, delay }) => [pickup, delay].includes(kind.id));

/** The relay at an end with what its elements say; null where no relay with a voltage measures there. `newId`: for functions that it has not had. */
export function taken(row: ReachRow, elements: readonly PackageElement[], newId: () => ElementId): Change | null {
  const { relay } = row;
  if (!relay || relay.secondary === null || relay.device.element.kind !== 'relay') return null;
  const element: Relay = relay.device.element;
  const own = new Map(
    elements.filter(({ end }) => isSameEnd(end, row.end)).map((each) => [each.kind.id as string, each]),
  );
  const input = relay.device.inputs[0];
  const before = relay.fn ?? freshDistance(newId(), input.id as ElementId);
  const withZones = withReaches({ ...relay, fn: before }, { ...row, zones: zonesWith(row, own) })!;
  const distance = withPilot(withZones, own, relay.secondary);
  let functions: DeviceFunction[] = relay.fn
    ? element.functions.map((fn) => (fn.id === before.id ? distance : fn))
    : [...element.functions, distance];
  for (const { code, pickup, delay } of stages) {
    const asked = own.get(pickup);
    if (asked?.value === undefined || asked.value === null) continue;
    const known = functions.find(
      (fn): fn is OvercurrentFunction =>
        fn.family === 'overcurrent' && fn.code === code && fn.characteristic === 'definite',
    );
    if (!asked.isUsed) {
      // Of no use here: what is there is put out of use, nothing is added.
      if (known) functions = functions.map((fn) => (fn.id === known.id ? { ...known, enabled: false } : fn));
      continue;
    }
    const fn = known ?? newFunction(newId(), code, genericRelays[0].ranges, input.id as ElementId);
    const delayS = delay === null ? fn.delayS : (own.get(delay)?.value ?? fn.delayS);
    const set: OvercurrentFunction = {
      ...fn,
      enabled: true,
      characteristic: 'definite',
      pickup: snap(fn.ranges.pickup, asked.value / input.rating.primaryA),
      delayS: snap(fn.ranges.delayS, delayS),
    };
    functions = known ? functions.map((each) => (each.id === known.id ? set : each)) : [...functions, set];
  }
  return { op: 'update', element: { ...element, functions } };
}

/** The zones of the rulebook with the values of the package in their place. */
function zonesWith(row: ReachRow, own: ReadonlyMap<string, PackageElement>): Reaches[] {
  return row.zones.map((zone): Reaches => {
    const put = (decided: Decided | null, part: string): Decided | null => {
      const value = own.get(`z${zone.zone}${part}`)?.value;
      return decided && value !== undefined && value !== null ? { ...decided, value } : decided;
    };
    return {
      ...zone,
      reach: put(zone.reach, ''),
      reachEarth: put(zone.reachEarth, 'e'),
      resistance: put(zone.resistance, 'r'),
      resistanceEarth: put(zone.resistanceEarth, 're'),
      delay: put(zone.delay, 't'),
    };
  });
}

/** The overreaching zone ahead, and zone 4 backward, where the scheme has them; as wide as zone 2. */
function withPilot(
  fn: DistanceFunction,
  own: ReadonlyMap<string, PackageElement>,
  secondary: number,
): DistanceFunction {
  const second = fn.zones.find(({ name }) => name === '2') ?? fn.zones[0];
  const put = (
    zones: readonly DistanceZone[],
    name: ZoneName,
    looks: DistanceZone['looks'],
    of: string,
    delayS: number,
  ) => {
    const value = own.get(of)?.value;
    if (value === undefined || value === null) return zones;
    const reachOhm = inRelay(fn, value, secondary);
    const zone: DistanceZone = {
      ...second,
      name,
      enabled: true,
      looks,
      reachOhm,
      reachEarthOhm: reachOhm,
      delayS,
      delayEarthS: delayS,
    };
    return zones.some((each) => each.name === name)
      ? zones.map((each) =>
          each.name === name ? { ...zone, delayS: each.delayS, delayEarthS: each.delayEarthS } : each,
        )
      : [...zones, zone];
  };
  // Neither trips by itself: without the signal they wait as long as the relay can.
  const pilotDelayS = fn.ranges.delayS.max;
  const forward = put(fn.zones, 'overreach', 'forward', 'pilot', pilotDelayS);
  return { ...fn, zones: [...put(forward, '4', 'reverse', 'reverse', pilotDelayS)] };
}
