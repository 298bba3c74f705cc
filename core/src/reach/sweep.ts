/** A fault moved along a route, as every device that looks into it sees it: when distance protection and overcurrent protection trip, and where they start. */
import { resistiveFault, type FaultKind } from '../faults/kinds';
import type { ElementId } from '../model/fields';
import type { State } from '../model/state';
import { curvesOf, measuredBy, operatingTime } from '../protection/curve';
import { devicesOf, inputOf, timeCurrents, type Device } from '../protection/device';
import { tripName, tripOf } from '../protection/distance';
import type { DistanceFunction } from '../protection/distance/schema';
import type { DeviceSeen } from '../protection/family';
import { seenUnder } from '../protection/seen';
import { farEnds } from '../protection/zone';
import type { Studies } from '../studies/studies';
import { isSameEnd } from './circuits';
import { placeOn } from './ends';
import { withArc } from './resistance';
import { routeOf } from './route';
import type { LineEnd } from './seen';

export interface SweepQuery {
  /** Lines one after the other. */
  readonly lines: readonly ElementId[];
  readonly first?: number;
  readonly kind: FaultKind;
  /** To earth of earth faults, between phases of others. */
  readonly resistance: number;
  /** With an arc added, see {@link withArc}. */
  readonly arc: boolean;
  readonly state: State;
}

export interface SweepPoint {
  readonly km: number;
  /** Trip; null where it does not. */
  readonly timeS: number | null;
  /** Zone, end time, or function that trips. */
  readonly by: string;
  /** It has started, whether it trips or not. */
  readonly starts: boolean;
}

export interface SweepLine {
  readonly device: ElementId;
  readonly name: string;
  readonly by: 'distance' | 'overcurrent';
  /** End of the line that it looks in from, and whether that is along the route or against it. */
  readonly end: LineEnd;
  readonly isForward: boolean;
  readonly points: readonly SweepPoint[];
}

const pointsOnLine = 20;
/** As far from a busbar as this share of a line: on it, not at the busbar. */
const offBusbar = 1e-3;

interface Looking {
  readonly device: Device;
  readonly end: LineEnd;
  readonly isForward: boolean;
}

/** Yields the share that is done; null where the lines do not follow each other. */
export function* routeSweep(studies: Studies, query: SweepQuery): Generator<number, readonly SweepLine[] | null> {
  const route = routeOf(studies.max.assembly, query.lines, query.first);
  if (!route) return null;
  const looking = devicesOf(studies.network).flatMap((device): Looking[] =>
    farEnds(studies.max, device).flatMap(({ element, terminal }) => {
      const end: LineEnd = { line: element, terminal: 1 - terminal };
      const leg = route.legs.find((each) => each.end.line === element);
      return leg ? [{ device, end, isForward: isSameEnd(leg.end, end) }] : [];
    }),
  );
  const devices = looking.map(({ device }) => device);
  const study = studies.iec60909(query.state);
  const fault = resistiveFault(query.kind, query.resistance);
  const found: { km: number; seen: readonly (DeviceSeen | null)[] }[] = [];
  for (const [k, leg] of route.legs.entries())
    for (let n = 0; n <= pointsOnLine; n++) {
      yield (k + n / pointsOnLine) / route.legs.length;
      const along = Math.min(Math.max(n / pointsOnLine, offBusbar), 1 - offBusbar);
      const fraction = leg.end.terminal === 0 ? along : 1 - along;
      const place = placeOn(leg.end.line, fraction);
      const here = query.arc ? withArc(study, place, fault) : fault;
      const [seen] = seenUnder(study, place, [here], devices);
      found.push({ km: leg.fromKm + along * leg.lengthKm, seen: seen?.devices ?? devices.map(() => null) });
    }
  return looking.flatMap(({ device, end, isForward }, d): SweepLine[] => {
    const common = { device: device.id, name: device.name, end, isForward };
    const fn = device.functions.find((each): each is DistanceFunction => each.family === 'distance' && each.enabled);
    const hasOvercurrent = timeCurrents(device).length > 0;
    const of = (by: SweepLine['by'], at: (seen: DeviceSeen) => Omit<SweepPoint, 'km'>): SweepLine => ({
      ...common,
      by,
      points: found.map(({ km, seen }) => ({
        km,
        ...(seen[d] ? at(seen[d]) : { timeS: null, by: '', starts: false }),
      })),
    });
    return [
      ...(fn ? [of('distance', (seen) => distanceAt(device, fn, seen))] : []),
      ...(hasOvercurrent ? [of('overcurrent', (seen) => overcurrentAt(device, seen))] : []),
    ];
  });
}

function distanceAt(device: Device, fn: DistanceFunction, seen: DeviceSeen): Omit<SweepPoint, 'km'> {
  const input = inputOf(device, fn.input);
  const at = seen[input.id];
  if (!at) return { timeS: null, by: '', starts: false };
  const { trip, loops } = tripOf(fn, input.rating, at);
  return {
    timeS: trip ? trip.delayS + fn.operatingS : null,
    by: trip ? tripName(trip) : '',
    starts: trip !== null || loops.length > 0,
  };
}

function overcurrentAt(device: Device, seen: DeviceSeen): Omit<SweepPoint, 'km'> {
  const curves = curvesOf(device);
  const { timeS, by } = operatingTime(curves, seen);
  return {
    timeS: timeS < Infinity ? timeS : null,
    by: by?.code ?? '',
    starts: curves.functions.some((curve) => measuredBy(curve, seen) >= curve.pickupA),
  };
}
