/**
 * Characteristics in the plane of impedance: circles by comparing phases (self-polarised, cross-polarised, polarised by memory, with offset), quadrilaterals with
 * tilt and resistive blinders, load cut out. Each says whether a loop lies inside and by how much. Impedances in one scale, that of the loop.
 */
import {
  add,
  angle,
  conjugate,
  divide,
  magnitude,
  multiply,
  scale,
  subtract,
  type Complex,
} from '../../linear/complex';
import type { Loop } from './loops';

export type Polarisation = 'self' | 'cross' | 'memory';

/** Whether a loop lies inside. */
export interface Membership {
  readonly operates: boolean;
}

export interface CircleMembership extends Membership {
  /** 1 − |Z − centre|/radius of the circle in force; null where the loop has no impedance. */
  readonly marginPerUnit: number | null;
  /** What is left to 90° between what is compared. */
  readonly marginDeg: number;
  readonly centre: Complex;
  readonly radius: number;
}

const degrees = (radians: number): number => (radians * 180) / Math.PI;
const radians = (deg: number): number => (deg * Math.PI) / 180;

/** Voltage that a circle is compared with; null where there is none. */
export const polarisingOf = ({ voltage, cross, memory }: Loop, by: Polarisation): Complex | null =>
  by === 'self' ? voltage : by === 'cross' ? cross : memory;

/**
 * A mho circle of reach `reach`: Re((Zr·I − U)·conj(Upol)) > 0. Polarised by something else than its own voltage it is a circle over Zr and Z − Upol/I. Null
 * without anything to polarise.
 */
export function mho(loop: Loop, reach: Complex, by: Polarisation): CircleMembership | null {
  const polarising = polarisingOf(loop, by);
  if (!polarising || magnitude(polarising) === 0) return null;
  const { voltage, current, impedance } = loop;
  const compared = subtract(multiply(reach, current), voltage);
  const other = impedance && by !== 'self' ? subtract(impedance, divide(polarising, current)) : { re: 0, im: 0 };
  return circle(impedance, compared, polarising, reach, other);
}

/** A circle over Zr and −ratio·Zr. */
export function offsetMho({ voltage, current, impedance }: Loop, reach: Complex, ratio: number): CircleMembership {
  const back = scale(reach, -ratio);
  return circle(
    impedance,
    subtract(multiply(reach, current), voltage),
    subtract(voltage, multiply(back, current)),
    reach,
    back,
  );
}

function circle(
  impedance: Complex | null,
  compared: Complex,
  polarising: Complex,
  from: Complex,
  to: Complex,
): CircleMembership {
  const product = multiply(compared, conjugate(polarising));
  const centre = scale(add(from, to), 0.5);
  const radius = magnitude(subtract(from, to)) / 2;
  return {
    operates: product.re > 0,
    marginPerUnit: impedance && radius > 0 ? 1 - magnitude(subtract(impedance, centre)) / radius : null,
    marginDeg: 90 - Math.abs(degrees(angle(product))),
    centre,
    radius,
  };
}

/** A quadrilateral looking forward: its reach along the angle of the line, resistive blinders parallel to the line, a tilted top, two directional sides through the origin. */
export interface Quadrilateral {
  readonly reactance: number;
  readonly resistance: number;
  /** To the left of the line. */
  readonly left: number;
  readonly lineAngleDeg: number;
  /** Of the top: positive rises with resistance; it turns about the reach point on the line. */
  readonly tiltDeg: number;
  readonly fromDeg: number;
  readonly toDeg: number;
}

export type Side = 'top' | 'right' | 'left' | 'lower directional' | 'upper directional';

export interface QuadMembership extends Membership {
  /** Least distance to a side: positive inside. */
  readonly margin: number;
  readonly side: Side;
}

/** Unit vector inward and offset of a side: distance = n·Z + d. */
interface Edge {
  readonly side: Side;
  readonly re: number;
  readonly im: number;
  readonly offset: number;
}

function edgesOf(shape: Quadrilateral): readonly Edge[] {
  const { reactance, resistance, left, lineAngleDeg, tiltDeg, fromDeg, toDeg } = shape;
  const tilt = radians(tiltDeg);
  const line = radians(lineAngleDeg);
  const reachR = reactance / Math.tan(line);
  const along = (side: Side, deg: number, sign: 1 | -1): Edge => {
    const at = radians(deg);
    return { side, re: -sign * Math.sin(at), im: sign * Math.cos(at), offset: 0 };
  };
  return [
    // X − Xr < tan(tilt)·(R − Rr'), as a distance.
    {
      side: 'top',
      re: Math.sin(tilt),
      im: -Math.cos(tilt),
      offset: reactance * Math.cos(tilt) - reachR * Math.sin(tilt),
    },
    { side: 'right', re: -Math.sin(line), im: Math.cos(line), offset: resistance * Math.sin(line) },
    { side: 'left', re: Math.sin(line), im: -Math.cos(line), offset: left * Math.sin(line) },
    along('lower directional', fromDeg, 1),
    along('upper directional', toDeg, -1),
  ];
}

export function quadrilateral(impedance: Complex, shape: Quadrilateral): QuadMembership {
  const edges = edgesOf(shape).map(({ side, re, im, offset }) => ({
    side,
    margin: re * impedance.re + im * impedance.im + offset,
  }));
  const least = edges.reduce((p, q) => (q.margin < p.margin ? q : p));
  return { operates: least.margin > 0, margin: least.margin, side: least.side };
}

/** The impedance of a load is cut out of every zone: between −angle and angle (and behind, between 180° − angle and 180° + angle), from a resistance on. */
export interface LoadCut {
  readonly resistance: number;
  readonly angleDeg: number;
}

export const inLoad = ({ re, im }: Complex, { resistance, angleDeg }: LoadCut): boolean =>
  Math.abs(re) > resistance && Math.abs(im) <= Math.abs(re) * Math.tan(radians(angleDeg));

/** Corners of a convex region bounded by edges, from the lower right against the clock; what is not bounded ends at `far`. */
export function quadCorners(shape: Quadrilateral, far = 1e6): readonly Complex[] {
  let polygon: Complex[] = [
    { re: far, im: -far },
    { re: far, im: far },
    { re: -far, im: far },
    { re: -far, im: -far },
  ];
  for (const edge of edgesOf(shape)) polygon = clipped(polygon, edge);
  return polygon;
}

function clipped(polygon: readonly Complex[], { re, im, offset }: Edge): Complex[] {
  const distance = (z: Complex) => re * z.re + im * z.im + offset;
  return polygon.flatMap((from, k) => {
    const to = polygon[(k + 1) % polygon.length];
    const [p, q] = [distance(from), distance(to)];
    const crossing = p !== q ? add(from, scale(subtract(to, from), p / (p - q))) : from;
    if (p >= 0) return q >= 0 ? [from] : [from, crossing];
    return q >= 0 ? [crossing] : [];
  });
}
