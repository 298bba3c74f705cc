/** What a fault is and where, and the three linear conditions that each puts on the phases of its port. */
import { multiply, type Complex } from '../../linear/complex';
import type { ElementId } from '../../model/fields';
import { faultedPhases, needsZeroSequence, type FaultCondition, type Phase } from '../kinds';

/** Where a fault is: at a terminal of an element (terminal 0 of a bus), or inside a line at a fraction of its length from terminal 0. */
export type Place =
  | { readonly at: 'terminal'; readonly element: ElementId; readonly terminal: number }
  | { readonly at: 'line'; readonly element: ElementId; readonly fraction: number };

export type Disturbance =
  | ({ readonly type: 'shunt'; readonly place: Place } & FaultCondition)
  /** Conductors broken between a terminal of an element and its node. */
  | {
      readonly type: 'open';
      readonly element: ElementId;
      readonly terminal: number;
      readonly phases: readonly Phase[];
    };

/** A term of a condition: factor times an excitation x or an answer r, in one phase of a port. */
export interface Term {
  readonly on: 'x' | 'r';
  readonly phase: number;
  readonly factor: Complex;
}

const one: Complex = { re: 1, im: 0 };
const minusOne: Complex = { re: -1, im: 0 };

/** Three linear conditions on the phases of one port. The current into a shunt fault is −x. */
export function conditionsOf(disturbance: Disturbance): Term[][] {
  const phases = [0, 1, 2] as const;
  if (disturbance.type === 'open')
    return phases.map((phase) => [{ on: disturbance.phases.includes(phase) ? 'r' : 'x', phase, factor: one }]);
  const { phaseOhm, earthOhm } = disturbance;
  const faulted = faultedPhases(disturbance);
  const rows: Term[][] = phases
    .filter((phase) => !faulted.includes(phase))
    .map((phase) => [{ on: 'x', phase, factor: one }]);
  // V − zf·I = V + zf·x: voltage of the common point as seen from one phase.
  const pointFrom = (phase: Phase, sign: Complex): Term[] => [
    { on: 'r', phase, factor: sign },
    { on: 'x', phase, factor: multiply(sign, phaseOhm) },
  ];
  if (needsZeroSequence(disturbance.kind)) {
    for (const phase of faulted)
      rows.push([
        ...pointFrom(phase, one),
        ...faulted.map((other): Term => ({ on: 'x', phase: other, factor: earthOhm })),
      ]);
    return rows;
  }
  rows.push(faulted.map((phase): Term => ({ on: 'x', phase, factor: one })));
  for (let k = 1; k < faulted.length; k++)
    rows.push([...pointFrom(faulted[0], one), ...pointFrom(faulted[k], minusOne)]);
  return rows;
}
