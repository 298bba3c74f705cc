/** The fault engine against the phase-domain solver: every kind of element, every kind of fault, every bus and branch end. */
import { describe, expect, it } from 'vitest';
import { assemble } from '../../assembly/assemble';
import { magnitude, multiply, polar, subtract, zero, type Complex } from '../../linear/complex';
import { kinds } from '../../model/element';
import type { ElementId } from '../../model/fields';
import { elementId } from '../../model/fields';
import { terminalKey } from '../../model/topology';
import { toComponents, toPhases, type SequenceValues } from '../../sequence/components';
import { everyKind, type EveryKind } from '../../test/everyKind';
import { solvePhases, type PhaseFault } from '../../test/phaseDomain';
import { nodeVoltages, terminalCurrents } from './flows';
import { voltageFactor } from '../iec60909/voltageFactor';
import { faultedPhases, faultKinds, needsZeroSequence, type FaultCondition, type Phase } from '../kinds';
import { solveDisturbances, type Disturbance, type Place, type Prefault } from './solve';

const pick = <T>(random: () => number, list: readonly T[]): T => list[Math.floor(random() * list.length)];

function randomPlace({ random, buses, lines }: EveryKind): Place {
  if (random() < 0.6) return { at: 'terminal', element: elementId(pick(random, buses)), terminal: 0 };
  return { at: 'line', element: elementId(pick(random, lines)), fraction: 0.05 + 0.9 * random() };
}

function randomFault(every: EveryKind): Disturbance {
  const { random } = every;
  const condition: FaultCondition = {
    kind: pick(random, faultKinds),
    odd: pick(random, [0, 1, 2] as const),
    phaseOhm: random() < 0.5 ? zero : { re: 5 * random(), im: 2 * random() },
    earthOhm: random() < 0.5 ? zero : { re: 20 * random(), im: random() },
  };
  return { type: 'shunt', place: randomPlace(every), ...condition };
}

function randomBreak({ random, breakable }: EveryKind): Disturbance {
  const { id, terminals } = pick(random, breakable);
  const phases = pick<readonly Phase[]>(random, [[0], [1], [2], [0, 1], [1, 2], [0, 2]]);
  return { type: 'open', element: id, terminal: Math.floor(random() * terminals), phases };
}

const asPhaseFault = (disturbance: Disturbance): PhaseFault =>
  disturbance.type === 'open'
    ? disturbance
    : {
        type: 'shunt',
        at:
          disturbance.place.at === 'line'
            ? { line: disturbance.place.element, fraction: disturbance.place.fraction }
            : disturbance.place,
        phases: faultedPhases(disturbance),
        earth: needsZeroSequence(disturbance.kind),
        phaseOhm: disturbance.phaseOhm,
        earthOhm: disturbance.earthOhm,
      };

function compare(every: EveryKind, disturbances: readonly Disturbance[]): void {
  const { network, loads, random } = every;
  const assembly = assemble(network, { faultCase: 'max', basis: 'operating', voltageFactor: voltageFactor(10), loads });
  expect(assembly.problems.filter((problem) => problem.severity === 'error')).toEqual([]);
  const angles = new Map<ElementId, Complex>();
  const sources = (id: ElementId): Complex => {
    if (!angles.has(id)) {
      const element = network.elements.get(id)!;
      const node = assembly.topology.nodeAt(id, element.kind === 'powerStationUnit' ? 1 : 0)!;
      const volts = (assembly.topology.nodes[node].nominalKv! * 1000) / Math.sqrt(3);
      const size = element.kind === 'converterSource' ? 150 : volts;
      angles.set(id, polar(size * (0.95 + 0.1 * random()), 2 * Math.PI * random()));
    }
    return angles.get(id)!;
  };
  const before = solvePhases(network, sources, loads, []);
  const after = solvePhases(network, sources, loads, disturbances.map(asPhaseFault));

  const { topology, lag } = assembly;
  const forward = ([l1, l2, l3]: Complex[]) => toComponents(l1, l2, l3).positive;
  const terminals = [...network.elements.values()].flatMap((element) =>
    element.kind === 'connection'
      ? []
      : Array.from({ length: kinds[element.kind].terminals }, (_, k) => [element.id, k] as const),
  );
  const someAt = new Map<number, readonly [ElementId, number]>();
  for (const [id, k] of terminals) someAt.set(topology.nodeAt(id, k)!, [id, k]);
  const prefault: Prefault = {
    voltageAt: (node) => multiply(forward(before.voltagesAt(...someAt.get(node)!)), polar(1, lag[node])),
    currentInto: (element, terminal) =>
      multiply(forward(before.currentsInto(element, terminal)), polar(1, lag[topology.nodeAt(element, terminal)!])),
  };
  const solved = solveDisturbances(assembly, prefault, disturbances);
  if (!solved.ok) throw new Error(solved.problems[0].message);
  const { solution, results } = solved;
  const back = lag[solution.reference];
  /** The engine counts time from where L1 of the first place would stand without vector groups. */
  const absolute = (values: SequenceValues) => {
    const { l1, l2, l3 } = toPhases(values);
    return [l1, l2, l3].map((value) => multiply(value, polar(1, -back)));
  };
  const worst = { voltage: 0, current: 0 };
  const check = (what: string, got: Complex[], wanted: Complex[], size: number, kind: 'voltage' | 'current') =>
    got.forEach((value, phase) => {
      const off = magnitude(subtract(value, wanted[phase])) / size;
      worst[kind] = Math.max(worst[kind], off);
      expect(
        off,
        `${what}, phase ${phase + 1}: ${JSON.stringify(value)} for ${JSON.stringify(wanted[phase])}`,
      ).toBeLessThan(1e-9);
    });
  for (const [node, [id, k]] of someAt) {
    if (!assembly.supplied[node]) continue;
    const volts = (topology.nodes[node].nominalKv! * 1000) / Math.sqrt(3);
    const got = nodeVoltages(assembly, solution, node, prefault.voltageAt(node));
    check(`voltage at ${id}:${k}`, absolute(got), after.voltagesAt(id, k), volts, 'voltage');
  }
  const flows = terminalCurrents(assembly, solution);
  results.forEach((result, k) => {
    const size = 1e3 + Math.max(...after.faultCurrents[k].map(magnitude));
    check(`current of fault ${k + 1}`, absolute(result.current), after.faultCurrents[k], size, 'current');
  });
  for (const [id, k] of terminals) {
    const kind = network.elements.get(id)!.kind;
    if (kind === 'bus' || kind === 'converterSource' || (kind === 'powerStationUnit' && k === 1)) continue;
    const key = terminalKey(id, k);
    const wanted = after.currentsInto(id, k);
    const change = flows.get(key);
    const pre = before.currentsInto(id, k);
    const got = pre.map((value, phase) => (change ? subtract(value, absolute(change)[phase]) : value));
    const size = 1e3 + Math.max(...wanted.map(magnitude));
    check(`current into ${key}`, got, wanted, size, 'current');
  }
}

describe('against the phase-domain solver', () => {
  const seeds = (from: number, count: number) => Array.from({ length: count }, (_, k) => from + k);
  it.each(seeds(1, 120))('one fault of any kind, seed %i', (seed) => {
    const every = everyKind(seed);
    compare(every, [randomFault(every)]);
  });
  it.each(seeds(1001, 60))('two faults at once, seed %i', (seed) => {
    const every = everyKind(seed);
    compare(every, [randomFault(every), randomFault(every)]);
  });
  it.each(seeds(2001, 60))('one or two conductors open, seed %i', (seed) => {
    const every = everyKind(seed);
    compare(every, [randomBreak(every)]);
  });
  it.each(seeds(3001, 40))('a broken conductor and a fault elsewhere, seed %i', (seed) => {
    const every = everyKind(seed);
    const broken = randomBreak(every);
    let fault = randomFault(every);
    while (fault.type === 'shunt' && broken.type === 'open' && fault.place.element === broken.element)
      fault = randomFault(every);
    compare(every, [broken, fault]);
  });
});
