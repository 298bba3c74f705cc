import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { magnitude, type Complex } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { ofKind, type Network } from '../../model/network';
import { demoNetwork } from '../../test/demo';
import { networks } from '../../test/random';
import { expectFollowed, lastResult } from '../../test/followed';
import { faultKinds, type FaultKind } from '../kinds';
import { faultAt, iec60909Study } from './study';
import { faultWorking } from './working';

function checkWorking(network: Network, bus: string, kind: FaultKind, faultCase: 'max' | 'min'): void {
  const study = iec60909Study(network, faultCase);
  const result = faultAt(study, elementId(bus), 0, kind);
  if (!result.ok) throw new Error(result.problems[0].message);
  const { fault } = result;
  const { sections } = faultWorking(fault);
  expectFollowed(sections, `a ${kind} fault at ${bus}`);
  const last = (symbol: string) => lastResult(sections, symbol);
  // The reduction by hand must arrive at what the nodal equations gave, and the current at the fault's own.
  const z1 = last('Z1') as Complex;
  expect(Math.hypot(z1.re - fault.z1.re, z1.im - fault.z1.im)).toBeLessThan(1e-7 * magnitude(fault.z1));
  if (fault.z0 && (kind === '1ph' || kind === '2phE')) {
    const z0 = last('Z0') as Complex;
    expect(Math.hypot(z0.re - fault.z0.re, z0.im - fault.z0.im)).toBeLessThan(1e-7 * magnitude(fault.z0));
  }
  const headline = { '3ph': 'Ik″3', '2ph': 'Ik″2', '1ph': 'Ik″1', '2phE': fault.z0 ? 'Ik″E2E' : 'Ik″2' }[kind];
  const current = kind === '2phE' && fault.z0 ? fault.earthA : fault.ikA;
  expect((last(headline) as number) * 1000).toBeCloseTo(current, 4);
  expect((last('ip') as number) * 1000).toBeCloseTo(fault.ipA, 4);
}

describe('the working', () => {
  it('can be followed by hand: every formula gives its result, on random networks', () => {
    fc.assert(
      fc.property(
        networks,
        fc.nat(),
        fc.constantFrom(...faultKinds),
        fc.constantFrom('max' as const, 'min' as const),
        ({ network, buses }, pick, kind, faultCase) =>
          checkWorking(network, buses[pick % buses.length], kind, faultCase),
      ),
      { numRuns: 60 },
    );
  });

  it('can be followed on every bus of the demo', () => {
    const network = demoNetwork();
    for (const bus of ofKind(network, 'bus')) for (const kind of faultKinds) checkWorking(network, bus.id, kind, 'max');
  });

  it('names the field behind each input', () => {
    const network = demoNetwork();
    const study = iec60909Study(network, 'max');
    const result = faultAt(study, elementId('bra-0-4'), 0, '3ph');
    if (!result.ok) throw new Error('no fault');
    const inputs = faultWorking(result.fault)
      .sections.flatMap((section) => section.steps)
      .flatMap((step) => step.expression)
      .flatMap((part) => (typeof part !== 'string' && part.source ? [part] : []));
    expect(inputs.length).toBeGreaterThan(50);
    for (const { source, value, assumed } of inputs) {
      const element = network.elements.get(source!.element) as unknown as Record<string, unknown>;
      const stored = source!.field
        .split('.')
        .reduce<unknown>((at, key) => (at as Record<string, unknown>)[key], element);
      if (assumed) expect(stored).toBeNull();
      else expect(value).toBe(stored);
    }
  });
});
