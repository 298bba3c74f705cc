import { describe, expect, it } from 'vitest';
import { elementId } from '../../model/fields';
import { ofKind } from '../../model/network';
import { demoNetwork } from '../../test/demo';
import { expectFollowed, lastResult } from '../../test/followed';
import { Builder, twoSources, type TwoSources } from '../../test/network';
import { protectionCases } from '../../test/reference';
import {
  asymmetry,
  breakerClasses,
  exactPeak,
  halfCyclePeak,
  localFactor,
  lowVoltageFactors,
  remoteFactor,
} from './factors';
import { c37Fault, c37Kinds, c37Outage, c37Study } from './study';
import { c37Working } from './working';

const relative = (got: number, wanted: number, tolerance: number) =>
  expect(Math.abs(got / wanted - 1)).toBeLessThan(tolerance);

describe('factors of IEEE C37.010 and C37.13, published', () => {
  it.each(protectionCases('mfremote'))('$id', ({ inputs, expected, tolerance }) =>
    relative(
      remoteFactor(inputs.XR, { partingCycles: inputs.C_cycles, s: inputs.S }),
      expected as number,
      tolerance.rel!,
    ),
  );
  it.each(protectionCases('asym'))('$id', ({ inputs, expected, tolerance }) =>
    relative(asymmetry(inputs.XR, inputs.cycles), expected as number, tolerance.rel!),
  );
  it.each(protectionCases('peak_exact'))('$id', ({ inputs, expected, tolerance }) =>
    relative(exactPeak(inputs.XR), expected as number, tolerance.rel!),
  );
  it.each(protectionCases('peak_half'))('$id', ({ inputs, expected, tolerance }) =>
    expect(Math.abs(halfCyclePeak(inputs.XR) - (expected as number))).toBeLessThan(tolerance.abs!),
  );
  it.each(protectionCases('c3713'))('$id', ({ inputs, expected, tolerance }) => {
    const { unfused, fused } = lowVoltageFactors(Math.tan(Math.acos(inputs.pf)));
    [unfused, fused].forEach((value, k) =>
      expect(Math.abs(value - (expected as unknown as number[])[k])).toBeLessThan(tolerance.abs!),
    );
  });
  it('a local factor never exceeds the remote one, and meets it without decay', () => {
    for (const breaker of breakerClasses)
      for (const xOverR of [5, 15, 40, 90]) {
        expect(localFactor(xOverR, breaker, 1)).toBeCloseTo(remoteFactor(xOverR, breaker), 12);
        expect(localFactor(xOverR, breaker, 0.7)).toBeLessThan(remoteFactor(xOverR, breaker));
      }
  });
});

const breaker = breakerClasses[1];

describe('duties', () => {
  it('X and R reduced apart, published', () => {
    const { inputs, expected } = protectionCases('sepxr')[0] as unknown as { inputs: TwoSources; expected: number[] };
    const result = c37Fault(c37Study(twoSources(inputs)), elementId('B'), 0, '3ph', breaker);
    if (!result.ok) throw new Error('no result');
    const { xOhm, rOhm, xOverR, symmetricalA } = result.fault.firstCycle;
    expect(xOhm).toBeCloseTo(expected[0], 6);
    expect(rOhm).toBeCloseTo(expected[1], 6);
    expect(xOverR).toBeCloseTo(expected[2], 4);
    expect((symmetricalA * Math.sqrt(3)) / 10000).toBeCloseTo(expected[3], 5);
    // Feeders only: all remote.
    expect(result.fault.interrupting.remoteShare).toBeCloseTo(1, 12);
    expect(result.fault.thirtyCycle.symmetricalA).toBeCloseTo(symmetricalA, 9);
  });

  it('E/Z lies below E/X; the single-phase loop holds all three sequences', () => {
    const network = twoSources(protectionCases('sepxr')[0].inputs as unknown as TwoSources);
    const at = (options: Parameters<typeof c37Study>[1], kind: '3ph' | '1ph') => {
      const result = c37Fault(c37Study(network, options), elementId('B'), 0, kind, breaker);
      if (!result.ok) throw new Error('no result');
      return result.fault.firstCycle;
    };
    expect(at({ current: 'E/Z' }, '3ph').symmetricalA).toBeLessThan(at({}, '3ph').symmetricalA);
    expect(at({ prefaultPercent: 105 }, '3ph').symmetricalA / at({}, '3ph').symmetricalA).toBeCloseTo(1.05, 12);
    expect(at({}, '1ph').xOhm).toBeCloseTo(3 * at({}, '3ph').xOhm, 9);
  });

  const withMachines = () => {
    const b = new Builder();
    b.add('bus', 'A', { nominalKv: 11 });
    b.add('networkFeeder', 'N');
    b.add('asynchronousMotor', 'Big', { ratedMw: 2, polePairs: 2, startingRatio: 6 });
    b.add('asynchronousMotor', 'Small', { ratedMw: 0.02, startingRatio: 6 });
    b.add('synchronousMachine', 'G', { ratedKv: 11, ratedMva: 6, xd1Percent: 30 });
    b.join('N', 'A', 'Big', 'A', 'Small', 'A', 'G', 'A');
    return b.network();
  };

  it('machine multipliers: what each network makes of motors and generators', () => {
    const { networks } = c37Study(withMachines());
    const xOf = (which: keyof typeof networks, id: string) =>
      networks[which].assembly.positive.shunts.find((shunt) => shunt.element === id)?.xOhm ?? null;
    expect(xOf('interrupting', 'Big')! / xOf('firstCycle', 'Big')!).toBeCloseTo(1.5, 12);
    expect(xOf('interrupting', 'Small')).toBeNull();
    expect(xOf('thirtyCycle', 'Big')).toBeNull();
    expect(xOf('thirtyCycle', 'G')! / xOf('firstCycle', 'G')!).toBeCloseTo(30 / 18, 12);
  });

  it('a local generator and motors lower the interrupting factor', () => {
    const result = c37Fault(c37Study(withMachines()), elementId('A'), 0, '3ph', breaker);
    if (!result.ok) throw new Error('no result');
    const { remoteShare, localRemaining, localFactor: local, remoteFactor: remote, factor } = result.fault.interrupting;
    expect(remoteShare).toBeGreaterThan(0.3);
    expect(remoteShare).toBeLessThan(1);
    expect(localRemaining).toBeLessThan(0.95);
    expect(local).toBeLessThan(remote);
    expect(factor).toBeLessThanOrEqual(Math.max(remote, 1));
  });

  it('an outage lowers the current as a network without the element does', () => {
    const network = withMachines();
    const out = c37Fault(c37Outage(c37Study(network), elementId('G')), elementId('A'), 0, '3ph', breaker);
    const elements = new Map(
      [...network.elements].filter(([, e]) => e.id !== 'G' && !(e.kind === 'connection' && e.from.element === 'G')),
    );
    const without = c37Fault(c37Study({ elements }), elementId('A'), 0, '3ph', breaker);
    if (!out.ok || !without.ok) throw new Error('no result');
    expect(out.fault.firstCycle.symmetricalA).toBeCloseTo(without.fault.firstCycle.symmetricalA, 6);
  });

  it('the working can be followed by hand on every bus of the demo', () => {
    const network = demoNetwork();
    const study = c37Study(network);
    for (const bus of ofKind(network, 'bus'))
      for (const kind of c37Kinds) {
        const result = c37Fault(study, bus.id, 0, kind, breaker);
        if (!result.ok) continue;
        const { sections } = c37Working(study, bus.id, result.fault, breaker, [...network.elements.keys()]);
        expectFollowed(sections, `${kind} at ${bus.name}`);
        expect(lastResult(sections, 'Iint')).toBeCloseTo(result.fault.interrupting.dutyA / 1000, 6);
      }
  });
});
