/**
 * What a fault behind a transformer is in the line conductors before it, and in its windings: ampere-turns balance on each leg. In per unit of the currents of
 * a three-phase fault there. A damage curve, which is about windings, moves for a device in the line by the ratio of the two.
 */
import { magnitude, polar, scale, subtract, zero, type Complex } from '../linear/complex';

export type WindingKind = 'Y' | 'D';

export interface Shares {
  /** Largest current of a line conductor on the high-voltage side. */
  readonly line: number;
  /** Largest current of a winding. */
  readonly winding: number;
}

/** Currents L1, L2, L3 out of the low-voltage side, that of the three-phase fault being 1; single-phase with Z0 = Z1. */
const faults = {
  '3ph': [polar(1, 0), polar(1, (-2 * Math.PI) / 3), polar(1, (2 * Math.PI) / 3)],
  '2ph': [zero, polar(Math.sqrt(3) / 2, 0), polar(Math.sqrt(3) / 2, Math.PI)],
  '1ph': [polar(1, 0), zero, zero],
} as const satisfies Record<string, readonly [Complex, Complex, Complex]>;
export type ShareFault = keyof typeof faults;

type Three = readonly [Complex, Complex, Complex];

/** Over √3, so that balanced ones keep their size. */
const differences = ([p, q, r]: Three): Three =>
  [p, q, r].map((each, k) => scale(subtract(each, [q, r, p][k]), 1 / Math.sqrt(3))) as unknown as Three;

/** Windings of the low-voltage side carry, from the currents of its lines: a delta their differences, none of it circulating. */
const inWindings = (kind: WindingKind, lines: Three): Three => (kind === 'D' ? differences(lines) : lines);

/** Lines of the high-voltage side carry, from its windings. */
const inLines = (kind: WindingKind, windings: Three): Three => (kind === 'D' ? differences(windings) : windings);

const largest = (three: Three): number => Math.max(...three.map(magnitude));

/** `hv`, `lv`: letters of the vector group. An earth fault beyond a delta winding is none: there it draws no current. */
export function throughWindings(hv: WindingKind, lv: WindingKind, fault: ShareFault): Shares {
  const windingsOf = (kind: ShareFault): Three => {
    const all = inWindings(lv, faults[kind]);
    // A star without neutral conductor beside a delta or a star passes no zero sequence.
    if (kind !== '1ph' || hv === 'D') return all;
    const mean = scale(
      all.reduce((sum, each) => ({ re: sum.re + each.re, im: sum.im + each.im }), zero),
      1 / 3,
    );
    return all.map((each) => subtract(each, mean)) as unknown as Three;
  };
  const [windings, whole] = [windingsOf(fault), windingsOf('3ph')];
  return {
    line: largest(inLines(hv, windings)) / largest(inLines(hv, whole)),
    winding: largest(windings) / largest(whole),
  };
}

/** By how much a damage curve moves in current for a device in the line, for a fault behind the transformer. */
export function lineOverWinding(hv: WindingKind, lv: WindingKind, fault: ShareFault): number {
  const { line, winding } = throughWindings(hv, lv, fault);
  return line / winding;
}
