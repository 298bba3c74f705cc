/** Zones as shapes in the plane of impedance, in primary ohms; and where the loops of a fault lie as it moves along lines. */
import { faultedPhases, type FaultCondition, type FaultKind } from '../faults/kinds';
import { add, polar, scale, zero, type Complex } from '../linear/complex';
import type { ElementId } from '../model/fields';
import type { State } from '../model/state';
import { quadCorners } from '../protection/distance/characteristics';
import { loopNames, loopsOf, type LoopName } from '../protection/distance/loops';
import type { DistanceFunction } from '../protection/distance/schema';
import { zoneQuad, rad } from '../protection/distance/measured';
import type { Studies } from '../studies/studies';
import { lineOhm } from './circuits';
import { placeOn } from './ends';
import type { ReachRow } from './plan';
import { withArc } from './resistance';
import { routeOf } from './route';
import { seenAtEnds, type LineEnd } from './seen';

export interface Region {
  readonly zone: string;
  /** Corners, or points of a circle. */
  readonly outline: readonly Complex[];
  readonly looks: 'forward' | 'reverse' | 'both';
}

const circlePoints = 72;
const circle = (centre: Complex, radius: number): Complex[] =>
  Array.from({ length: circlePoints }, (_, k) => add(centre, polar(radius, (2 * Math.PI * k) / circlePoints)));

/** Stored zones of a function, of phase or of earth loops. `secondary`: secondary ohms of a primary one. */
export function storedRegions(fn: DistanceFunction, secondary: number, isEarth: boolean): Region[] {
  return fn.zones.flatMap((zone): Region[] => {
    const reach = (isEarth ? zone.reachEarthOhm : zone.reachOhm) / secondary;
    if (!zone.enabled || reach === 0) return [];
    const tip = polar(reach, rad(fn.lineAngleDeg));
    const back = fn.characteristic === 'offsetMho' ? scale(tip, -fn.offsetPercent / 100) : zero;
    const ahead =
      fn.characteristic === 'quadrilateral'
        ? quadCorners(zoneQuad(fn, zone, isEarth)).map((corner) => scale(corner, 1 / secondary))
        : circle(scale(add(tip, back), 0.5), Math.hypot(tip.re - back.re, tip.im - back.im) / 2);
    const outline = zone.looks === 'reverse' ? ahead.map((corner) => scale(corner, -1)) : ahead;
    return [{ zone: zone.name, outline, looks: zone.looks }];
  });
}

/** Zones as the rulebook asks for them, as quadrilaterals with sides as usual. */
export function proposedRegions(
  { zones, lineAngleDeg }: Pick<ReachRow, 'zones' | 'lineAngleDeg'>,
  isEarth: boolean,
): Region[] {
  return zones.flatMap(({ zone, reach, reachEarth, resistance, resistanceEarth }): Region[] => {
    const along = (isEarth ? reachEarth : reach)?.value;
    const across = (isEarth ? resistanceEarth : resistance)?.value ?? along;
    if (along === undefined || across === undefined) return [];
    const outline = quadCorners({
      reactance: along * Math.sin(rad(lineAngleDeg)),
      resistance: across,
      left: across,
      lineAngleDeg,
      tiltDeg: -3,
      fromDeg: -15,
      toDeg: 115,
    });
    return [{ zone: String(zone), outline, looks: 'forward' }];
  });
}

/** Regions of another relay as seen from an end: its origin lies `at` further on, and it looks the same way or back. */
export const movedRegions = (list: readonly Region[], at: Complex, looksBack: boolean): Region[] =>
  list.map((region) => ({
    ...region,
    outline: region.outline.map((corner) => add(at, looksBack ? scale(corner, -1) : corner)),
  }));

export interface TrackPoint {
  readonly line: ElementId;
  readonly fraction: number;
  /** Along the route, in km. */
  readonly km: number;
  /** Of the loops of the fault, primary. */
  readonly loops: readonly { readonly name: LoopName; readonly ohm: Complex }[];
}

/** Loops that a fault of this kind is told by. */
export const loopsOfFault = (condition: Pick<FaultCondition, 'kind' | 'odd'>): LoopName[] => {
  const phases = faultedPhases(condition);
  const earth = phases.map((phase) => loopNames[phase]);
  if (condition.kind === '1ph') return earth;
  const between = loopNames.slice(3).filter((_, k) => phases.includes(k as 0) && phases.includes(((k + 1) % 3) as 0));
  return condition.kind === '2phE' ? [...between, ...earth] : between;
};

export interface TrackQuery {
  readonly end: LineEnd;
  /** Lines one after the other, the own one first. */
  readonly lines: readonly ElementId[];
  readonly kind: FaultKind;
  /** Of each faulted phase, and to earth. */
  readonly phaseOhm: number;
  readonly earthOhm: number;
  /** With an arc added, see {@link withArc}. */
  readonly arc?: boolean;
  readonly state: State;
  readonly k0: Complex;
}

const pointsOnLine = 20;

/** What the loops come to while the fault moves along the lines; places without an answer are left out. */
export function* loopTrack(studies: Studies, query: TrackQuery): Generator<number, readonly TrackPoint[]> {
  const { end, lines, kind, state, k0, phaseOhm, earthOhm } = query;
  const study = studies.iec60909(state);
  const route = routeOf(studies.max.assembly, lines, end.terminal);
  const condition: FaultCondition = {
    kind,
    odd: 0,
    phaseOhm: { re: phaseOhm, im: 0 },
    earthOhm: { re: earthOhm, im: 0 },
  };
  const wanted = loopsOfFault(condition);
  const points: TrackPoint[] = [];
  const legs = route?.legs ?? [];
  for (const [k, leg] of legs.entries())
    for (let n = k === 0 ? 0 : 1; n <= pointsOnLine; n++) {
      yield (k + n / pointsOnLine) / legs.length;
      // Just in front of the relay, not on its busbar.
      const along = k === 0 && n === 0 ? 1e-4 : n / pointsOnLine;
      const fraction = leg.end.terminal === 0 ? along : 1 - along;
      const place = placeOn(leg.end.line, fraction);
      const here = query.arc ? withArc(study, place, condition) : condition;
      const [seen] = seenAtEnds(study, place, [here], [end]);
      const at = seen.ok ? seen.ends[0] : null;
      if (!at) continue;
      const loops = loopsOf(at, { form: 'factor', k0 }).flatMap(({ name, impedance, measuredA }) =>
        impedance && measuredA > 1 && wanted.includes(name) ? [{ name, ohm: impedance }] : [],
      );
      points.push({ line: leg.end.line, fraction, km: leg.fromKm + along * leg.lengthKm, loops });
    }
  return points;
}

/** Impedances of lines one after the other, from the relay: the corners of the way. */
export function wayOhm(studies: Studies, lines: readonly ElementId[]): Complex[] {
  let sum: Complex = zero;
  return [
    zero,
    ...lines.flatMap((line) => {
      const own = lineOhm(studies.max.assembly, line);
      return own ? [(sum = add(sum, own))] : [];
    }),
  ];
}
