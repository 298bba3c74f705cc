/** What a sequence network is made of, and how an element's impedance enters its admittance matrix. */
import { divide, polar, type Complex } from '../linear/complex';
import type { DenseMatrix } from '../linear/dense';
import type { Symbolic } from '../linear/symbolic';
import type { ElementId } from '../model/fields';
import type { Impedance, Shunt } from '../sequence/stamp';

export interface NetworkSeries extends Impedance {
  readonly element: ElementId;
  /** Local nodes of the element. */
  readonly from: number;
  readonly to: number;
  readonly a: number;
  readonly b: number;
  /** Voltage at a over voltage at b; impedances are in ohms of side b. */
  readonly ratio: number;
  /** Lag of b behind a in radians, by clock number and phase shift. */
  readonly lag: number;
  /** Part of it in radians that the positions of the nodes do not account for; only in loops with a phase-shifting transformer. */
  readonly shiftRad: number;
  /** Parallel circuits that the impedance stands for. */
  readonly circuits: number;
}

export interface NetworkShunt extends Impedance {
  readonly element: ElementId;
  readonly terminal: number;
  readonly node: number;
  readonly role: Shunt['role'];
}

/**
 * Mutual impedance of two branches over a stretch of each, given as fractions from side a; where the lines run against each other
 * the second pair falls and the sign of the impedance is reversed.
 */
export interface Coupling {
  readonly element: ElementId;
  readonly first: ElementId;
  readonly second: ElementId;
  readonly z: Complex;
  readonly firstFrom: number;
  readonly firstTo: number;
  readonly secondFrom: number;
  readonly secondTo: number;
}

/** Branches tied by mutual impedances: drop = Z·i, i = Y·drop, in the order of `members` (indices of series branches). */
export interface CoupledGroup {
  readonly members: readonly number[];
  readonly z: DenseMatrix;
  readonly y: DenseMatrix;
}

/** A place where a path exists whose data are missing. */
export interface Gap {
  readonly element: ElementId;
  readonly fields: readonly string[];
  readonly nodes: readonly number[];
}

export interface NetworkParts {
  readonly nodeCount: number;
  readonly series: readonly NetworkSeries[];
  readonly shunts: readonly NetworkShunt[];
  readonly couplings: readonly Coupling[];
  readonly gaps: readonly Gap[];
  /** An analysis of a pattern that holds this network's, to be used again. */
  readonly symbolic?: Symbolic;
}

/** Indices of an element's entries in a list of branches or shunts; looked up once for a list. */
export function indicesOf(list: readonly { readonly element: ElementId }[], element: ElementId): readonly number[] {
  let index = byElement.get(list);
  if (!index) {
    byElement.set(list, (index = new Map()));
    for (let k = 0; k < list.length; k++) {
      const known = index.get(list[k].element);
      if (known) known.push(k);
      else index.set(list[k].element, [k]);
    }
  }
  return index.get(element) ?? [];
}

const byElement = new WeakMap<readonly object[], Map<ElementId, number[]>>();

/** How an element's impedance enters the matrix: as it stands, or as at the low frequency of the equivalent frequency method. */
export type Weight = (z: Impedance) => Complex;

export const ratedFrequency: Weight = (z) => ({ re: z.rOhm, im: z.xOhm });

/** Zc of the equivalent frequency method: fictitious resistances, reactances times fc/f (IEC 60909-0, 8.1.1, method c). */
export const atFrequencyRatio =
  (ratio: number): Weight =>
  (z) => ({ re: z.rPeakOhm, im: z.xOhm * ratio });

/** The same with the machines' own resistances, for the d.c. component (IEC 60909-0, 8.2). */
export const atFrequencyRatioOwn =
  (ratio: number): Weight =>
  (z) => ({ re: z.rOhm, im: z.xOhm * ratio });

/** 1/z in siemens; an impedance of nought counts as one nano-ohm, far below anything that can be measured. */
export function admittance(z: Complex): Complex {
  const size = z.re * z.re + z.im * z.im;
  return size < 1e-18 ? { re: 1e9, im: 0 } : { re: z.re / size, im: -z.im / size };
}

/** The four entries of a branch: currents out of the nodes a and b into it are Yaa·Va + Yab·Vb and Yba·Va + Ybb·Vb. */
export function branchEntries(branch: NetworkSeries, y: Complex) {
  const { ratio, shiftRad } = branch;
  const aa = { re: y.re / ratio ** 2, im: y.im / ratio ** 2 };
  if (shiftRad === 0) {
    const ab = { re: -y.re / ratio, im: -y.im / ratio };
    return { aa, ab, ba: ab, bb: y };
  }
  const t = polar(ratio, shiftRad);
  const minus = { re: -y.re, im: -y.im };
  return { aa, ab: divide(minus, { re: t.re, im: -t.im }), ba: divide(minus, t), bb: y };
}
