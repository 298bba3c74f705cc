import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildSequenceNetwork, drivingPoint, unitInjection } from '../../assembly/sequenceNetwork';
import { add, magnitude, scale, subtract, zero, type Complex } from '../../linear/complex';
import type { Element } from '../../model/element';
import { elementId, neutralOf } from '../../model/fields';
import { withEndOpen } from '../../model/state';
import { networkOf, type Network } from '../../model/network';
import { toPhases } from '../../sequence/components';
import { expectFollowed, lastResult } from '../../test/followed';
import { everyKind } from '../../test/everyKind';
import { faultCase } from '../../test/reference';
import { Builder, twoSidedLine, type TwoSidedLine } from '../../test/network';
import { contributions } from '../iec60909/contributions';
import {
  faultAtPlace,
  faultFlows,
  iec60909Study,
  simultaneousFaults,
  solvedFlows,
  type Fault,
} from '../iec60909/study';
import { peakMethods } from '../iec60909/peak';
import { faultWorking } from '../iec60909/working';
import { faultKinds, solidFault, type FaultCondition } from '../kinds';
import type { Place } from './solve';

const solve = (network: Network, place: Place, condition: FaultCondition, options = {}): Fault => {
  const result = faultAtPlace(iec60909Study(network, 'max', options), place, condition);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.fault;
};
const onLine = (element: string, fraction: number): Place => ({ at: 'line', element: elementId(element), fraction });
const atBus = (bus: string): Place => ({ at: 'terminal', element: elementId(bus), terminal: 0 });
const close = (p: Complex, q: Complex, tolerance = 1e-9) =>
  expect(magnitude(subtract(p, q))).toBeLessThan(tolerance * (1 + magnitude(q)));

describe('faults along a line', () => {
  it('line fed from both ends, published', () => {
    const reference = faultCase<TwoSidedLine>('hand-line-fault-at-x-percent');
    const network = twoSidedLine(reference);
    for (const [percent, expected] of Object.entries(reference.expected_by_percent_from_A)) {
      const place = percent === '0' ? atBus('A') : percent === '100' ? atBus('B') : onLine('L', Number(percent) / 100);
      const fault = solve(network, place, solidFault('3ph'));
      expect(fault.ikA / 1000).toBeCloseTo(expected.Ik3_kA, 4);
      const shares = contributions(fault);
      const from = (name: string) => shares.find((share) => share.name.includes(name))!.currentA / 1000;
      if (place.at !== 'line') continue;
      expect(from('from A')).toBeCloseTo(expected.I_from_A_kA, 4);
      expect(from('from B')).toBeCloseTo(expected.I_from_B_kA, 4);
    }
  });

  it('the working at a point of a line, and at a bus by each way to the peak, can be followed', () => {
    for (let seed = 1; seed <= 4; seed++) {
      const { network } = everyKind(seed);
      for (const kind of faultKinds)
        for (const place of [onLine('LR1', 0.3), onLine('LP1', 0.6), atBus('M1'), atBus('AUX')])
          for (const peak of peakMethods) {
            const condition = { ...solidFault(kind), phaseOhm: { re: 0.3, im: 0.1 }, earthOhm: { re: 2, im: 0 } };
            const fault = solve(network, place, condition, { peak });
            const { sections } = faultWorking(fault);
            expectFollowed(sections, `${kind}, seed ${seed}`);
            close(lastResult(sections, 'Z1') as Complex, fault.z1, 1e-7);
            expect(lastResult(sections, 'ip')).toBeCloseTo(fault.ipA / 1000, 6);
          }
    }
  });

  it('line end with the far breaker open: the line hangs on its other end', () => {
    const { network } = everyKind(4);
    const line = network.elements.get(elementId('LE0')) as Extract<Element, { kind: 'line' }>;
    const open = withEndOpen(network, line.id, 1);
    const near = solve(open, atBus('L0'), solidFault('3ph'));
    const far = solve(open, { at: 'terminal', element: line.id, terminal: 1 }, solidFault('3ph'));
    const factor = line.lengthKm / line.circuits;
    close(subtract(far.z1, near.z1), { re: line.r1OhmPerKm * factor, im: line.x1OhmPerKm * factor }, 1e-7);
  });
});

describe('properties over every kind of element', () => {
  const seeds = fc.integer({ min: 1, max: 100000 });
  const place = fc.oneof(
    fc.constantFrom('H0', 'H1', 'M0', 'M1', 'L0', 'L1', 'E1', 'X0', 'T0').map(atBus),
    fc
      .tuple(fc.constantFrom('LP1', 'LP2', 'LR1', 'LM', 'LE1'), fc.double({ min: 0.02, max: 0.98, noNaN: true }))
      .map(([id, x]) => onLine(id, x)),
  );

  it('currents balance at every bus in every phase; contributions add up', () => {
    fc.assert(
      fc.property(seeds, place, fc.constantFrom(...faultKinds), (seed, where, kind) => {
        const { network } = everyKind(seed);
        const fault = solve(network, where, solidFault(kind));
        const { topology } = fault.study.assembly;
        const flows = faultFlows(fault);
        for (const node of topology.nodes) {
          const total = node.terminals.map((key) =>
            toPhases(flows.get(key) ?? { positive: zero, negative: zero, zero }),
          );
          for (const phase of ['l1', 'l2', 'l3'] as const) {
            let sum = total.map((phases) => phases[phase]).reduce(add, zero);
            if (node.index === fault.node && where.at === 'terminal') sum = subtract(sum, fault.phases[phase]);
            expect(magnitude(sum)).toBeLessThan(1e-6 * (1 + fault.ikA));
          }
        }
        if (where.at === 'line') {
          const shares = contributions(fault);
          for (const phase of ['l1', 'l2', 'l3'] as const) {
            const sum = shares.map((share) => share.phases[phase]).reduce(add, zero);
            expect(magnitude(subtract(sum, fault.phases[phase]))).toBeLessThan(1e-7 * (1 + fault.ikA));
          }
        }
      }),
      { numRuns: 80 },
    );
  });

  it('one fault by the closed formulas is one fault by the conditions in phases', () => {
    fc.assert(
      fc.property(seeds, place, fc.constantFrom(...faultKinds), fc.constantFrom(0, 1, 2), (seed, where, kind, odd) => {
        const { network } = everyKind(seed);
        const condition: FaultCondition = {
          kind,
          odd: odd as 0 | 1 | 2,
          phaseOhm: { re: 0.4, im: 0.2 },
          earthOhm: { re: 3, im: 1 },
        };
        const fault = solve(network, where, condition);
        const study = fault.study;
        const solved = simultaneousFaults(study, [{ type: 'shunt', place: where, ...condition }]);
        if (!solved.ok) throw new Error(solved.problems[0].message);
        const scaleOf = 1e-7 * (1 + fault.ikA);
        for (const phase of ['l1', 'l2', 'l3', 'residual'] as const)
          expect(magnitude(subtract(solved.results[0].phases[phase], fault.phases[phase]))).toBeLessThan(scaleOf);
        const [p, q] = [faultFlows(fault), solvedFlows(study, solved.solution)];
        for (const [key, value] of p)
          for (const sequence of ['positive', 'negative', 'zero'] as const)
            expect(
              magnitude(subtract(value[sequence], (q.get(key) ?? { positive: zero, negative: zero, zero })[sequence])),
            ).toBeLessThan(10 * scaleOf);
      }),
      { numRuns: 60 },
    );
  });

  it('transfer impedances are reciprocal in all sequences', () => {
    fc.assert(
      fc.property(seeds, fc.nat(40), fc.nat(40), (seed, p, q) => {
        const { assembly } = iec60909Study(everyKind(seed).network, 'max');
        const [i, j] = [p % assembly.nodeCount, q % assembly.nodeCount];
        for (const sequence of ['positive', 'negative', 'zero'] as const) {
          const network = assembly[sequence];
          if (network.floating[i] >= 0 || network.floating[j] >= 0) continue;
          const [a, b] = [network.solve(unitInjection(i)), network.solve(unitInjection(j))];
          close({ re: a.re[j], im: a.im[j] }, { re: b.re[i], im: b.im[i] }, 1e-7);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('the order of the elements changes nothing', () => {
    fc.assert(
      fc.property(
        seeds,
        fc.constantFrom(...faultKinds),
        fc.infiniteStream(fc.double({ min: 0, max: 1, noNaN: true })),
        (seed, kind, stream) => {
          const { network } = everyKind(seed);
          const shuffled = [...network.elements.values()]
            .map((element) => [stream.next().value as number, element] as const)
            .sort(([p], [q]) => p - q)
            .map(([, element]) => element);
          const [p, q] = [network, networkOf(shuffled)].map((each) => solve(each, atBus('M1'), solidFault(kind)));
          expect(Math.abs(p.ikA - q.ikA)).toBeLessThan(1e-7 * (1 + q.ikA));
          expect(Math.abs(p.earthA - q.earthA)).toBeLessThan(1e-7 * (1 + q.ikA));
        },
      ),
      { numRuns: 30 },
    );
  });

  it('all impedances by a factor: all currents by its inverse', () => {
    fc.assert(
      fc.property(seeds, fc.double({ min: 0.2, max: 5, noNaN: true }), (seed, factor) => {
        const { positive } = iec60909Study(everyKind(seed).network, 'max').assembly;
        const scaled = buildSequenceNetwork({
          ...positive,
          series: positive.series.map((z) => ({ ...z, rOhm: z.rOhm * factor, xOhm: z.xOhm * factor })),
          shunts: positive.shunts.map((z) => ({ ...z, rOhm: z.rOhm * factor, xOhm: z.xOhm * factor })),
        });
        for (const node of [0, 3, 6])
          close(drivingPoint(scaled, node)!, scale(drivingPoint(positive, node)!, factor), 1e-8);
      }),
      { numRuns: 30 },
    );
  });
});

describe('several faults at once', () => {
  const isolated = () => {
    const b = new Builder();
    const level = { given: 'current' as const, ikKa: 8, skMva: null, rOverX: 0.1, x0OverX1: null, r0OverX0: null };
    for (const bus of ['A', 'B', 'C']) b.add('bus', bus, { nominalKv: 20 });
    b.add('networkFeeder', 'N', { earthed: false, max: level, min: level });
    b.join('N', 'A');
    for (const [name, to] of [
      ['L1', 'B'],
      ['L2', 'C'],
    ]) {
      b.add('line', name, { lengthKm: 5, r1OhmPerKm: 0.2, x1OhmPerKm: 0.35, r0OhmPerKm: 0.5, x0OhmPerKm: 1.4 });
      b.join(`${name}:0`, 'A', `${name}:1`, to);
    }
    return b.network();
  };

  it('cross-country in an isolated network: what enters the earth at one place leaves it at the other', () => {
    const study = iec60909Study(isolated(), 'max');
    const one = (bus: string, odd: 0 | 1 | 2) => ({
      type: 'shunt' as const,
      place: atBus(bus),
      ...solidFault('1ph'),
      odd,
    });
    const solved = simultaneousFaults(study, [one('B', 0), one('C', 1)]);
    if (!solved.ok) throw new Error('no result');
    const [p, q] = solved.results.map((result) => result.phases.residual);
    expect(magnitude(p)).toBeGreaterThan(500);
    close(p, scale(q, -1), 1e-9);
    // A single earth fault alone draws nothing, and lifts the sound phases.
    const single = simultaneousFaults(study, [one('B', 0)]);
    if (!single.ok) throw new Error('no result');
    expect(magnitude(single.results[0].phases.residual)).toBeLessThan(1e-6);
    const { l1, l2 } = toPhases(single.results[0].voltage);
    expect(magnitude(l1)).toBeLessThan(1e-6);
    expect(magnitude(l2)).toBeCloseTo(1.1 * 20000, 3);
  });

  it('two faults that contradict each other, a break without a branch, a break on the faulted line', () => {
    const study = iec60909Study(isolated(), 'max');
    const fault = { type: 'shunt' as const, place: atBus('B'), ...solidFault('3ph') };
    expect(simultaneousFaults(study, [fault, fault])).toMatchObject({
      ok: false,
      problems: [{ code: 'fault.singular' }],
    });
    const open = (element: string, terminal = 0) => ({
      type: 'open' as const,
      element: elementId(element),
      terminal,
      phases: [0] as const,
    });
    expect(simultaneousFaults(study, [open('N')])).toMatchObject({ ok: false, problems: [{ code: 'fault.place' }] });
    const inside = { type: 'shunt' as const, place: onLine('L1', 0.5), ...solidFault('1ph') };
    expect(simultaneousFaults(study, [open('L1'), inside])).toMatchObject({
      ok: false,
      problems: [{ code: 'fault.sameLine' }],
    });
  });
});

describe('line capacitances', () => {
  const cable = (neutral: object | null, charging: 'auto' | 'always' | 'never' = 'auto') => {
    const b = new Builder();
    const level = { given: 'current' as const, ikKa: 8, skMva: null, rOverX: 0.1, x0OverX1: null, r0OverX0: null };
    b.add('bus', 'A', { nominalKv: 20 });
    b.add('bus', 'B', { nominalKv: 20 });
    b.add('networkFeeder', 'N', { earthed: false, max: level, min: level });
    b.add('line', 'L', {
      lengthKm: 10,
      r1OhmPerKm: 0.1,
      x1OhmPerKm: 0.1,
      r0OhmPerKm: 0.4,
      x0OhmPerKm: 0.2,
      b0UsPerKm: 80,
    });
    b.join('N', 'A', 'L:0', 'A', 'L:1', 'B');
    if (neutral) {
      b.add('earthingTransformer', 'Z', { r0Ohm: 0, x0Ohm: 1, neutral: neutral as never });
      b.join('Z', 'A');
    }
    return solve(b.network(), atBus('A'), solidFault('1ph'), { charging });
  };
  const capacitive = 3 * ((1.1 * 20000) / Math.sqrt(3)) * 80e-5;

  it('carry the earth fault in an isolated network', () => {
    expect(cable(null).earthA / capacitive).toBeCloseTo(1, 2);
    expect(cable(null, 'never').earthA).toBe(0);
  });
  it('are compensated by a tuned coil, and left out where the neutral is earthed well', () => {
    // 3·XL = 1/(ωC0) for resonance: XL = 1/(3·800 µS).
    const tuned = cable(neutralOf('coil', 0, 1 / (3 * 80e-5) - 1 / 3));
    expect(tuned.earthA).toBeLessThan(0.02 * capacitive);
    const solid = neutralOf('solid');
    expect(cable(solid).earthA).toBeCloseTo(cable(solid, 'never').earthA, 9);
    expect(cable(solid, 'always').earthA).not.toBeCloseTo(cable(solid).earthA, 2);
    // Behind a resistor the earth-fault factor exceeds 1.4.
    const resistor = neutralOf('resistor', 40);
    expect(cable(resistor).earthA).toBeCloseTo(cable(resistor, 'always').earthA, 9);
    expect(cable(resistor, 'never').earthA).not.toBeCloseTo(cable(resistor).earthA, 2);
  });
});

describe('a converter in the network', () => {
  const make = (faultRatio: number) => {
    const b = new Builder();
    const level = { given: 'current' as const, ikKa: 8, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
    b.add('bus', 'A', { nominalKv: 33 });
    b.add('bus', 'B', { nominalKv: 33 });
    b.add('networkFeeder', 'N', { max: level, min: level });
    b.add('line', 'L', { lengthKm: 10, r1OhmPerKm: 0.1, x1OhmPerKm: 0.4, r0OhmPerKm: 0.3, x0OhmPerKm: 1.2 });
    b.add('converterSource', 'P', { ratedKv: 33, ratedMva: 24, faultRatio });
    b.join('N', 'A', 'L:0', 'A', 'L:1', 'B', 'P', 'B');
    return b.network();
  };
  it('gives its limited current into a fault at its terminals, and the share |Zik|/|Zkk| elsewhere, added by size', () => {
    const rated = 24e6 / Math.sqrt(3) / 33e3;
    const near = solve(make(1.15), atBus('B'), solidFault('3ph'));
    const share = contributions(near).find((each) => each.element === 'P')!;
    expect(share.currentA).toBeCloseTo(1.15 * rated, 6);
    const without = solve(make(0), atBus('B'), solidFault('3ph'));
    expect(near.ikA).toBeCloseTo(without.ikA + 1.15 * rated, 6);
    // In κ only what comes from the network counts (7.2.2, 8.1.1).
    expect(near.ipA).toBeCloseTo(Math.SQRT2 * (near.kappa * without.ikA + 1.15 * rated), 6);
    // At A the whole converter current arrives too: the line carries it on.
    const far = solve(make(1.15), atBus('A'), solidFault('3ph'));
    expect(far.ikA).toBeCloseTo(solve(make(0), atBus('A'), solidFault('3ph')).ikA + 1.15 * rated, 6);
  });
});
