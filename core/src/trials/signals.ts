/**
 * Signals between the ends of a line, as its package says how the ends work together: each end sends by what its own distance relay measures, and trips by that and by what it
 * hears. IEEE C37.113, teleprotection schemes (as remembered).
 */
import type { LinePackage, LineScheme } from '../model/linePackage';
import type { ElementId } from '../model/fields';
import { ofKind } from '../model/network';
import type { DistanceFunction } from '../protection/distance/schema';
import { deviceOf, type Device } from '../protection/device';
import { farEnds } from '../protection/zone';
import { circuitAt, isSameEnd } from '../reach/circuits';
import type { Studies } from '../studies/studies';

/** One end of a scheme. Zones are named as the timers of its distance function. */
export interface PilotEnd {
  readonly device: ElementId;
  readonly fn: ElementId;
  /** Whether it sends: by its own zones. */
  sends(zones: ReadonlySet<string>): boolean;
  /** Seconds until it trips by what it measures and hears, one entry for each other end; null where it does not. */
  trips(zones: ReadonlySet<string>, heard: readonly boolean[], channelLost: boolean): number | null;
}

export interface Pilot {
  /** The package that it belongs to, which is also the name of its channel. */
  readonly id: ElementId;
  readonly name: string;
  readonly scheme: LineScheme;
  readonly channelS: number;
  readonly ends: readonly PilotEnd[];
}

/** The zone that reaches beyond the far end: the overreaching one, else the second. */
const overreaching = (fn: DistanceFunction): string =>
  fn.zones.some(({ name, enabled }) => enabled && name === 'overreach') ? 'overreach' : '2';

const reversed = (fn: DistanceFunction): string | null =>
  fn.zones.find(({ enabled, looks }) => enabled && looks === 'reverse')?.name ?? null;

const distanceOf = (device: Device): DistanceFunction | undefined =>
  device.functions.find((fn): fn is DistanceFunction => fn.family === 'distance' && fn.enabled);

/** Schemes of all packages whose ends have distance relays. */
export function pilotsOf(studies: Studies): Pilot[] {
  const { network } = studies;
  return ofKind(network, 'linePackage').flatMap((pack): Pilot[] => {
    if (pack.scheme === 'stepped' || pack.scheme === 'differential') return [];
    const circuit = circuitAt(network, { line: pack.line });
    const ends = circuit.ends.flatMap((end): PilotEnd[] => {
      for (const relay of ofKind(network, 'relay')) {
        const device = deviceOf(network, relay.id)!;
        const fn = distanceOf(device);
        const looks = fn && farEnds(studies.max, device);
        const isHere = looks?.some(({ element, terminal }) =>
          isSameEnd({ line: element, terminal: 1 - terminal }, end),
        );
        if (fn && isHere) return [endOf(pack, device, fn)];
      }
      return [];
    });
    if (ends.length < 2) return [];
    return [{ id: pack.id, name: pack.name, scheme: pack.scheme, channelS: pack.channelTimeS, ends }];
  });
}

function endOf({ scheme, channelTimeS, relayResetS }: LinePackage, device: Device, fn: DistanceFunction): PilotEnd {
  const [ahead, behind] = [overreaching(fn), reversed(fn)];
  const { operatingS } = fn;
  const common = { device: device.id, fn: fn.id };
  switch (scheme) {
    case 'permissiveUnderreach':
      return {
        ...common,
        sends: (zones) => zones.has('1'),
        trips: (zones, heard) => (zones.has(ahead) && heard.some(Boolean) ? operatingS : null),
      };
    case 'permissiveOverreach':
    case 'unblocking':
      return {
        ...common,
        sends: (zones) => zones.has(ahead),
        // A guard tone that is lost with the fault unblocks for a moment.
        trips: (zones, heard, channelLost) =>
          zones.has(ahead) && (heard.every(Boolean) || (scheme === 'unblocking' && channelLost))
            ? operatingS + (channelLost ? channelTimeS : 0)
            : null,
      };
    default:
      return {
        ...common,
        sends: (zones) => behind !== null && zones.has(behind),
        // It waits for as long as a signal may take to come.
        trips: (zones, heard) =>
          zones.has(ahead) && !heard.some(Boolean) ? operatingS + channelTimeS + relayResetS : null,
      };
  }
}
