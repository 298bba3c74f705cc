import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { add, magnitude, zero, type Complex } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { networkOf } from '../../model/network';
import { networks } from '../../test/random';
import { drivingPoint, unitInjection } from '../../assembly/sequenceNetwork';
import { contributions } from './contributions';
import { faultKinds, type FaultKind } from '../kinds';
import { peakFactor } from './peak';
import { faultAt, faultFlows, iec60909Study, type Fault, type Iec60909Study } from './study';

function solve(study: Iec60909Study, bus: string, kind: FaultKind): Fault {
  const result = faultAt(study, elementId(bus), 0, kind);
  if (!result.ok) throw new Error(result.problems[0].message);
  return result.fault;
}

const sum = (list: readonly Complex[]): Complex => list.reduce(add, zero);

describe('properties of fault currents', () => {
  it('contributions add up to the fault current, phase by phase (Kirchhoff)', () => {
    fc.assert(
      fc.property(networks, fc.nat(), fc.constantFrom(...faultKinds), ({ network, buses }, pick, kind) => {
        const study = iec60909Study(network, 'max');
        const fault = solve(study, buses[pick % buses.length], kind);
        const shares = contributions(fault);
        for (const phase of ['l1', 'l2', 'l3', 'residual'] as const) {
          const total = sum(shares.map((share) => share.phases[phase]));
          expect(magnitude(add(total, { re: -fault.phases[phase].re, im: -fault.phases[phase].im }))).toBeLessThan(
            1e-6 * (1 + fault.ikA),
          );
        }
      }),
      { numRuns: 120 },
    );
  });

  it('currents balance at every node that is not faulted', () => {
    fc.assert(
      fc.property(networks, fc.nat(), ({ network, buses }, pick) => {
        const study = iec60909Study(network, 'max');
        const fault = solve(study, buses[pick % buses.length], '1ph');
        const flows = faultFlows(fault);
        for (const node of study.assembly.topology.nodes) {
          if (node.index === fault.node) continue;
          for (const sequence of ['positive', 'negative', 'zero'] as const) {
            const total = sum(node.terminals.map((key) => flows.get(key)?.[sequence] ?? zero));
            expect(magnitude(total)).toBeLessThan(1e-6 * (1 + fault.ikA));
          }
        }
      }),
      { numRuns: 60 },
    );
  });

  it('transfer impedances are reciprocal', () => {
    fc.assert(
      fc.property(networks, fc.nat(), fc.nat(), ({ network, buses }, p, q) => {
        const { positive, topology } = iec60909Study(network, 'max').assembly;
        const [i, j] = [p, q].map((pick) => topology.nodeOf.get(`${buses[pick % buses.length]}:0`)!);
        const [zi, zj] = [positive.solve(unitInjection(i)), positive.solve(unitInjection(j))];
        const [a, b] = [zi.re[j], zj.re[i]];
        expect(Math.abs(a - b)).toBeLessThan(1e-9 * (1 + Math.abs(a)));
      }),
      { numRuns: 60 },
    );
  });

  it('the two-phase current is √3/2 of the three-phase one while Z2 = Z1', () => {
    fc.assert(
      fc.property(networks, fc.nat(), ({ network, buses }, pick) => {
        const study = iec60909Study(network, 'max');
        const bus = buses[pick % buses.length];
        expect(solve(study, bus, '2ph').ikA / solve(study, bus, '3ph').ikA).toBeCloseTo(Math.sqrt(3) / 2, 9);
      }),
      { numRuns: 60 },
    );
  });

  it('minimum currents never exceed maximum ones', () => {
    fc.assert(
      fc.property(networks, fc.nat(), fc.constantFrom(...faultKinds), ({ network, buses }, pick, kind) => {
        const bus = buses[pick % buses.length];
        const [max, min] = (['max', 'min'] as const).map(
          (faultCase) => solve(iec60909Study(network, faultCase), bus, kind).ikA,
        );
        expect(min).toBeLessThanOrEqual(max * (1 + 1e-9));
      }),
      { numRuns: 60 },
    );
  });

  it('a further source never lowers the current anywhere', () => {
    fc.assert(
      fc.property(networks, fc.nat(), ({ network, buses }, pick) => {
        const motors = [...network.elements.values()].filter((element) => element.kind === 'asynchronousMotor');
        fc.pre(motors.length > 0);
        const without = networkOf(
          [...network.elements.values()].filter(
            (element) =>
              element !== motors[0] && !(element.kind === 'connection' && element.from.element === motors[0].id),
          ),
        );
        const bus = buses[pick % buses.length];
        expect(solve(iec60909Study(network, 'max'), bus, '3ph').ikA).toBeGreaterThanOrEqual(
          solve(iec60909Study(without, 'max'), bus, '3ph').ikA * (1 - 1e-9),
        );
      }),
      { numRuns: 60 },
    );
  });

  it('the impedance at a node is the sum of source and line impedances on a radial (second method)', () => {
    fc.assert(
      fc.property(networks, ({ network }) => {
        const study = iec60909Study(network, 'max');
        const { positive, topology } = study.assembly;
        for (const branch of positive.series.filter((each) => each.element.startsWith('LB'))) {
          const index = branch.element.slice(2);
          if (network.elements.has(elementId(`M${index}`))) continue;
          const near = drivingPoint(positive, topology.nodeOf.get(`A${index}:0`)!)!;
          const far = drivingPoint(positive, topology.nodeOf.get(`B${index}:0`)!)!;
          expect(far.re - near.re).toBeCloseTo(branch.rOhm, 9);
          expect(far.im - near.im).toBeCloseTo(branch.xOhm, 9);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('the peak factor lies between 1.02 and 2 and falls with R/X', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 50, noNaN: true }), fc.double({ min: 0, max: 50, noNaN: true }), (p, q) => {
        expect(peakFactor(p)).toBeGreaterThanOrEqual(1.02);
        expect(peakFactor(p)).toBeLessThanOrEqual(2);
        if (p < q) expect(peakFactor(p)).toBeGreaterThanOrEqual(peakFactor(q));
      }),
    );
  });
});
