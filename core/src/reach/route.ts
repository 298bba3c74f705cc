/** A run of lines one after the other: where along it an impedance ends, by the impedances of the lines alone. */
import { add, zero, type Complex } from '../linear/complex';
import type { Assembly } from '../assembly/assemble';
import type { ElementId } from '../model/fields';
import { find } from '../model/network';
import { lineOhm } from './circuits';
import type { LineEnd } from './seen';

export interface Leg {
  /** The line, by the end that it is entered at. */
  readonly end: LineEnd;
  readonly fromKm: number;
  readonly lengthKm: number;
  readonly ohm: Complex;
}

export interface Route {
  readonly legs: readonly Leg[];
  readonly lengthKm: number;
}

/** Lines in order, each beginning where the one before ends; the first at the terminal `first`, if that is said. Null where two do not meet, or one has no impedance. */
export function routeOf(assembly: Assembly, lines: readonly ElementId[], first?: number): Route | null {
  const { network, topology } = assembly;
  const nodes = (line: ElementId) => [0, 1].map((terminal) => topology.nodeAt(line, terminal));
  const legs: Leg[] = [];
  let km = 0;
  let at: number | undefined;
  for (const [k, line] of lines.entries()) {
    const [one, other] = nodes(line);
    const following = k + 1 < lines.length ? nodes(lines[k + 1]) : null;
    const terminal =
      at === undefined ? (first ?? entryOf([one, other], following)) : one === at ? 0 : other === at ? 1 : null;
    const ohm = lineOhm(assembly, line);
    const element = find(network, 'line', line);
    if (terminal === null || !ohm || !element) return null;
    legs.push({ end: { line, terminal }, fromKm: km, lengthKm: element.lengthKm, ohm });
    km += element.lengthKm;
    at = terminal === 0 ? other : one;
    if (following && !following.includes(at)) return null;
  }
  return legs.length > 0 ? { legs, lengthKm: km } : null;
}

/** The first line of a route is entered at the end that does not meet the next. */
const entryOf = (
  [one, other]: readonly (number | undefined)[],
  following: readonly (number | undefined)[] | null,
): 0 | 1 => (following && following.includes(one) && !following.includes(other) ? 1 : 0);

/** Where along a route, in km, the magnitude of the impedance from the beginning of a leg equals a reach; null where it lies beyond the end. */
export function kmAt({ legs }: Route, fromLeg: number, reachOhm: number): number | null {
  let sum: Complex = zero;
  for (const { fromKm, lengthKm, ohm } of legs.slice(fromLeg)) {
    const share = shareAt(sum, ohm, reachOhm);
    if (share !== null) return fromKm + share * lengthKm;
    sum = add(sum, ohm);
  }
  return null;
}

/** The magnitude of the impedance from the beginning of a leg to a place along the route, in km; beyond the end that of the whole rest. */
export function ohmAt({ legs }: Route, fromLeg: number, km: number): number {
  let sum: Complex = zero;
  for (const { fromKm, lengthKm, ohm } of legs.slice(fromLeg)) {
    const share = Math.min(Math.max((km - fromKm) / lengthKm, 0), 1);
    sum = add(sum, { re: share * ohm.re, im: share * ohm.im });
    if (share < 1) break;
  }
  return Math.hypot(sum.re, sum.im);
}

/** The share t of z at which |s + t·z| = reach; null where the line does not come to it. */
export function shareAt(s: Complex, z: Complex, reach: number): number | null {
  const a = z.re ** 2 + z.im ** 2;
  const b = s.re * z.re + s.im * z.im;
  const c = s.re ** 2 + s.im ** 2 - reach ** 2;
  const root = b ** 2 - a * c;
  if (root < 0 || a === 0) return null;
  const share = (-b + Math.sqrt(root)) / a;
  return share >= -1e-12 && share <= 1 + 1e-12 ? Math.min(Math.max(share, 0), 1) : null;
}

/** Steps of a relay's zones along a route: each from where the one before ends. A null end lies beyond the route. */
export interface Step {
  readonly zone: number;
  readonly fromKm: number;
  readonly toKm: number | null;
  readonly timeS: number;
}

export function stepsAlong(
  route: Route,
  leg: number,
  zones: readonly { readonly zone: number; readonly reachOhm: number; readonly timeS: number }[],
): Step[] {
  const steps: Step[] = [];
  let fromKm: number | null = route.legs[leg].fromKm;
  for (const { zone, reachOhm, timeS } of zones) {
    if (fromKm === null) break;
    const toKm = kmAt(route, leg, reachOhm);
    if (toKm !== null && toKm <= fromKm) continue;
    steps.push({ zone, fromKm, toKm, timeS });
    fromKm = toKm;
  }
  return steps;
}
