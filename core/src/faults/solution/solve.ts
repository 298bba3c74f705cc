/**
 * Any number of faults at once: shunt faults in any phases with impedances, at nodes and inside lines, and broken conductors at the terminals of
 * elements. The sequence networks, seen from the ports, are joined by the conditions of the faults in phases L1, L2, L3.
 */
import { add, multiply, polar, zero, type Complex } from '../../linear/complex';
import { addTo, denseMatrix, denseSolve, entry } from '../../linear/dense';
import type { ElementId } from '../../model/fields';
import { nameOf } from '../../model/element';
import type { Problem } from '../../model/problem';
import { a, a2, toPhases, turned, type PhaseCurrents, type SequenceValues } from '../../sequence/components';
import type { Assembly } from '../../assembly/assemble';
import {
  addScaled,
  breakPort,
  linePort,
  nodePort,
  portResponse,
  weightIn,
  type SequencePort,
} from '../../assembly/ports';
import { emptyValues, type NodeValues } from '../../linear/inverse';
import { once } from '../../linear/once';
import { conditionsOf, type Disturbance, type Place, type Term } from './conditions';
import { needsZeroSequence, type Phase } from '../kinds';

/** The state before the fault, positive sequence, in the phase position of the first node of the part. */
export interface Prefault {
  voltageAt(node: number): Complex;
  /** Current from the node into an element at a terminal. */
  currentInto(element: ElementId, terminal: number): Complex;
}

/** The three sequences of a port. */
export interface Port {
  /** Node whose phase position counts; for a point inside a line that of its end. */
  readonly node: number;
  readonly positive: SequencePort;
  readonly negative: SequencePort;
  readonly zero: SequencePort;
}

/** What was found: excitations of the ports and the change they make in every node, all in the phase position of the parts' first nodes. */
export interface Solution {
  /** Node whose L1 is the reference of phase quantities. */
  readonly reference: number;
  readonly ports: readonly Port[];
  /** Amperes into the node at shunt faults (the fault draws the opposite), volts across breaks. */
  readonly excitations: readonly SequenceValues[];
  /** Found when first asked for. */
  readonly change: Readonly<Record<Sequence, NodeValues>>;
}

export type Sequence = 'positive' | 'negative' | 'zero';
export const sequences: readonly Sequence[] = ['positive', 'negative', 'zero'];

export interface DisturbanceResult {
  readonly node: number;
  /** Shunt fault: current into the fault. Broken conductor: current through the break. */
  readonly current: SequenceValues;
  readonly phases: PhaseCurrents;
  /** Shunt fault: voltage to earth at the place. Broken conductor: voltage across the break. */
  readonly voltage: SequenceValues;
}

export type Solved =
  { ok: true; solution: Solution; results: DisturbanceResult[] } | { ok: false; problems: Problem[] };

export function nodeOfPlace({ topology }: Assembly, place: Place): number | undefined {
  return topology.nodeAt(place.element, place.at === 'terminal' ? place.terminal : 1);
}

function portAtNode(node: number): Port {
  let port = known[node];
  if (!port) {
    const own = nodePort(node);
    known[node] = port = { node, positive: own, negative: own, zero: own };
  }
  return port;
}
const known: Port[] = [];

/** The ports of a place; null when there is none. */
export function portAt(assembly: Assembly, place: Place): Port | null {
  const node = nodeOfPlace(assembly, place);
  if (node === undefined) return null;
  if (place.at === 'terminal') {
    return portAtNode(node);
  }
  const [positive, negative, homopolar] = sequences.map((sequence) =>
    linePort(assembly[sequence], place.element, place.fraction),
  );
  // A line whose zero-sequence data are missing is refused before this.
  return positive && negative ? { node, positive, negative, zero: homopolar ?? nodePort(node) } : null;
}

function portOf(assembly: Assembly, disturbance: Disturbance): Port | null {
  if (disturbance.type === 'shunt') return portAt(assembly, disturbance.place);
  const node = assembly.topology.nodeAt(disturbance.element, disturbance.terminal);
  if (node === undefined) return null;
  const { element, terminal } = disturbance;
  return {
    node,
    positive: breakPort(assembly.positive, element, terminal),
    negative: breakPort(assembly.negative, element, terminal),
    zero: breakPort(assembly.zero, element, terminal),
  };
}

/** Solves all disturbances together. Problems: a place that does not exist, a break on the line that holds another fault, contradictory conditions. */
export function solveDisturbances(
  assembly: Assembly,
  prefault: Prefault,
  disturbances: readonly Disturbance[],
): Solved {
  const wrong = disturbances.map((each) => refusal(assembly, each, disturbances)).find(Boolean);
  if (wrong) return { ok: false, problems: [wrong] };
  const ports = disturbances.map((each) => portOf(assembly, each)!);
  const reference = ports[0].node;
  const answers = {
    positive: portResponse(
      assembly.positive,
      ports.map((port) => port.positive),
    ),
    negative: portResponse(
      assembly.negative,
      ports.map((port) => port.negative),
    ),
    zero: portResponse(
      assembly.zero,
      ports.map((port) => port.zero),
    ),
  };
  const lagOf = (port: Port) => assembly.lag[port.node] - assembly.lag[reference];
  const before = ports.map((port, k) => {
    const here = disturbances[k];
    const value =
      here.type === 'shunt' ? prefaultAt(prefault, port) : prefault.currentInto(here.element, here.terminal);
    return multiply(value, polar(1, -lagOf(port)));
  });

  const shifts = floatingParts(
    assembly,
    ports.filter((_, k) => touchesEarth(disturbances[k])),
  );
  const m = 3 * ports.length;
  const size = m + shifts.length;
  const system = denseMatrix(size);
  const right = denseMatrix(size, 1);
  // Rows of the answers r = r0 + H·x + G·shift, phase by phase.
  const answer = answersInPhases(ports, answers, lagOf, shifts, assembly, size);
  const answer0 = before.map((value) => [value, multiply(a2, value), multiply(a, value)]);

  let row = 0;
  const demand = (terms: readonly Term[], port: number) => {
    for (const { on, phase, factor } of terms) {
      const column = 3 * port + phase;
      if (on === 'x') addTo(system, row, column, factor);
      else {
        for (let j = 0; j < size; j++) {
          const h = { re: answer.re[column * size + j], im: answer.im[column * size + j] };
          addTo(system, row, j, multiply(factor, h));
        }
        addTo(right, row, 0, multiply({ re: -factor.re, im: -factor.im }, answer0[port][phase]));
      }
    }
    row++;
  };
  disturbances.forEach((disturbance, port) => {
    for (const terms of conditionsOf(disturbance)) demand(terms, port);
  });
  shifts.forEach(({ sequence, part }) => {
    // What is put into a floating part adds up to nought.
    ports.forEach((port, q) => {
      const weight = weightIn(assembly[sequence], port[sequence].inject, part);
      const turn = sequenceTurn(sequence, lagOf(port), -1);
      for (let phase = 0; phase < 3; phase++)
        addTo(system, row, 3 * q + phase, multiply(multiply(weight, turn), extraction(sequence, phase as Phase)));
    });
    row++;
  });
  const solved = denseSolve(system, right);
  if (!solved)
    return {
      ok: false,
      problems: [
        {
          severity: 'warning',
          code: 'fault.singular',
          message: 'these faults contradict each other or cannot be told apart: two at one place, perhaps',
        },
      ],
    };

  const phaseValues = ports.map((_, k) => [0, 1, 2].map((phase) => entry(solved, 3 * k + phase, 0)));
  const excitations = phaseValues.map((values, k) => turned(componentsOf(values), -lagOf(ports[k])));
  const change = once(() => {
    const changes = changesBy(assembly, ports, excitations);
    shifts.forEach(({ sequence, part }, k) => {
      const value = entry(solved, m + k, 0);
      assembly[sequence].floating.forEach((number, node) => {
        if (number !== part) return;
        changes[sequence].re[node] += value.re;
        changes[sequence].im[node] += value.im;
      });
    });
    return changes;
  });

  const results = disturbances.map((disturbance, k): DisturbanceResult => {
    const answered = componentsOf(
      [0, 1, 2].map((phase) => {
        let sum = answer0[k][phase];
        for (let j = 0; j < size; j++) {
          const at = (3 * k + phase) * size + j;
          sum = add(sum, multiply({ re: answer.re[at], im: answer.im[at] }, entry(solved, j, 0)));
        }
        return sum;
      }),
    );
    const excited = componentsOf(phaseValues[k]);
    const drawn = turnedSign(excited);
    const [current, voltage] = disturbance.type === 'shunt' ? [drawn, answered] : [answered, excited];
    return { node: ports[k].node, current, phases: toPhases(current), voltage };
  });
  const solution: Solution = {
    reference,
    ports,
    excitations,
    get change() {
      return change();
    },
  };
  return { ok: true, solution, results };
}

/** What excited ports change in every node; nothing is solved for a sequence that is not excited. */
export function changesBy(
  assembly: Assembly,
  ports: readonly Port[],
  excitations: readonly SequenceValues[],
): Record<Sequence, NodeValues> {
  const change = (sequence: Sequence): NodeValues => {
    const total = emptyValues(assembly.nodeCount);
    ports.forEach((port, k) => {
      const { re, im } = excitations[k][sequence];
      if (re !== 0 || im !== 0) addScaled(total, assembly[sequence].solve(port[sequence].inject), { re, im });
    });
    return total;
  };
  return { positive: change('positive'), negative: change('negative'), zero: change('zero') };
}

const turnedSign = ({ positive, negative, zero: homopolar }: SequenceValues): SequenceValues => ({
  positive: { re: -positive.re, im: -positive.im },
  negative: { re: -negative.re, im: -negative.im },
  zero: { re: -homopolar.re, im: -homopolar.im },
});

/** Voltage before the fault; inside a line what the weights of its port make of its ends. */
export function prefaultAt(prefault: Prefault, port: Port): Complex {
  const { node, re, im } = port.positive.sense;
  return node.reduce((sum, k, j) => add(sum, multiply({ re: re[j], im: im[j] }, prefault.voltageAt(k))), zero);
}

function refusal(assembly: Assembly, each: Disturbance, all: readonly Disturbance[]): Problem | null {
  const id = each.type === 'shunt' ? each.place.element : each.element;
  const element = assembly.network.elements.get(id);
  const say = (code: string, message: string): Problem => ({ severity: 'warning', code, message, element: id });
  if (!element || !portOf(assembly, each))
    return say('fault.place', `${element ? nameOf(element) : id} has no such place`);
  const node = portOf(assembly, each)!.node;
  if (!assembly.supplied[node]) return say('supply.none', `${nameOf(element)} is connected to no source`);
  const earth = each.type === 'open' || needsZeroSequence(each.kind);
  const gap = earth ? assembly.zero.gapsAt(node)[0] : undefined;
  if (gap) return gapProblem(assembly, gap);
  if (each.type === 'open') {
    if (!['line', 'transformer', 'threeWindingTransformer', 'seriesReactor'].includes(element.kind))
      return say(
        'fault.place',
        `a broken conductor is put at the terminal of a line, reactor or transformer, not at ${nameOf(element)}`,
      );
    if (all.some((other) => other.type === 'shunt' && other.place.at === 'line' && other.place.element === id))
      return say(
        'fault.sameLine',
        `${nameOf(element)} holds a broken conductor and a fault inside: split the line at the fault first`,
      );
  }
  return null;
}

export const gapProblem = (assembly: Assembly, gap: { element: ElementId; fields: readonly string[] }): Problem => ({
  severity: 'warning',
  code: 'zeroSequence.missing',
  message: `zero-sequence data of ${nameOf(assembly.network.elements.get(gap.element)!)} are missing (${gap.fields.join(', ')})`,
  element: gap.element,
  field: gap.fields[0],
});

interface Shift {
  readonly sequence: Sequence;
  readonly part: number;
}

/** Only a fault to earth fixes the common voltage of a floating part; without one it stays as it was. */
const touchesEarth = (each: Disturbance) => each.type === 'shunt' && needsZeroSequence(each.kind);

/** Floating parts that a port touches: each has a common voltage of its own. */
function floatingParts(assembly: Assembly, ports: readonly Port[]): Shift[] {
  const shifts: Shift[] = [];
  for (const sequence of sequences) {
    const network = assembly[sequence];
    const touched = new Set(
      ports.flatMap((port) => {
        const { inject } = port[sequence];
        return [...new Set(inject.node.map((node) => network.floating[node]))].filter((part) => {
          if (part < 0) return false;
          const weight = weightIn(network, inject, part);
          return Math.hypot(weight.re, weight.im) > 1e-9;
        });
      }),
    );
    for (const part of touched) shifts.push({ sequence, part });
  }
  return shifts;
}

/** Factor of a phase value in its components: x_s = Σ extraction·x_phase. */
function extraction(sequence: Sequence, phase: Phase): Complex {
  const third = { re: 1 / 3, im: 0 };
  if (sequence === 'zero' || phase === 0) return third;
  const forward = sequence === 'positive' ? [a, a2] : [a2, a];
  return multiply(third, forward[phase - 1]);
}

/** Factor of a component in a phase value. */
function insertion(sequence: Sequence, phase: Phase): Complex {
  if (sequence === 'zero' || phase === 0) return { re: 1, im: 0 };
  return sequence === 'positive' ? [a2, a][phase - 1] : [a, a2][phase - 1];
}

/** Turn into the phase position of a node that lags by `lag` (sign +1), or back (−1). */
const sequenceTurn = (sequence: Sequence, lag: number, sign: 1 | -1): Complex =>
  sequence === 'zero' ? { re: 1, im: 0 } : polar(1, (sequence === 'positive' ? -1 : 1) * sign * lag);

const componentsOf = (phases: readonly Complex[]): SequenceValues => {
  const sum = (sequence: Sequence) =>
    phases.reduce((total, value, phase) => add(total, multiply(extraction(sequence, phase as Phase), value)), zero);
  return { positive: sum('positive'), negative: sum('negative'), zero: sum('zero') };
};

/** H (and the columns of the shifts) in phases, each port in its own phase position. */
function answersInPhases(
  ports: readonly Port[],
  answers: Record<Sequence, ReturnType<typeof portResponse>>,
  lagOf: (port: Port) => number,
  shifts: readonly Shift[],
  assembly: Assembly,
  size: number,
) {
  const h = denseMatrix(3 * ports.length, size);
  for (const sequence of sequences)
    ports.forEach((port, i) => {
      const out = sequenceTurn(sequence, lagOf(port), 1);
      ports.forEach((other, j) => {
        const value = multiply(multiply(out, sequenceTurn(sequence, lagOf(other), -1)), answers[sequence][i][j]);
        for (let p = 0; p < 3; p++)
          for (let q = 0; q < 3; q++)
            addTo(
              h,
              3 * i + p,
              3 * j + q,
              multiply(value, multiply(insertion(sequence, p as Phase), extraction(sequence, q as Phase))),
            );
      });
      shifts.forEach((shift, k) => {
        if (shift.sequence !== sequence) return;
        const weight = multiply(out, weightIn(assembly[sequence], port[sequence].sense, shift.part));
        for (let p = 0; p < 3; p++)
          addTo(h, 3 * i + p, 3 * ports.length + k, multiply(weight, insertion(sequence, p as Phase)));
      });
    });
  return h;
}

export type { Disturbance, Place };
