/** What another source does to the impedance seen, in closed form: for checks by hand, and for saying by how much a reach is shortened. */
import { add, divide, magnitude, multiply, subtract, type Complex } from '../linear/complex';

/** Two sources that feed a fault through a common stretch: the relay measures the current of the first one. */
export interface Infeed {
  /** Voltages behind the impedances of the sources. */
  readonly own: Complex;
  readonly other: Complex;
  /** From the own source to the relay, from there to where the other one comes in, and from its source to there. */
  readonly sourceOhm: Complex;
  readonly toTapOhm: Complex;
  readonly otherOhm: Complex;
  /** From there to the fault. */
  readonly toFaultOhm: Complex;
}

/** Z = Z1 + Z2·(1 + IB/IA). */
export function apparentWithInfeed({ own, other, sourceOhm, toTapOhm, otherOhm, toFaultOhm }: Infeed): {
  readonly impedance: Complex;
  /** (IA + IB)/IA: by so much the stretch behind counts more. */
  readonly factor: number;
} {
  const series = add(sourceOhm, toTapOhm);
  const one: Complex = { re: 1, im: 0 };
  // The voltage where both come together, over the stretch to the fault.
  const admittances = add(add(divide(one, series), divide(one, otherOhm)), divide(one, toFaultOhm));
  const tap = divide(add(divide(own, series), divide(other, otherOhm)), admittances);
  const [first, second] = [divide(subtract(own, tap), series), divide(subtract(other, tap), otherOhm)];
  const ratio = divide(add(first, second), first);
  return { impedance: add(toTapOhm, multiply(toFaultOhm, ratio)), factor: magnitude(ratio) };
}
