import { describe, expect, it } from 'vitest';
import { magnitude } from '../../linear/complex';
import { elementId } from '../../model/fields';
import { fromReference, twoSidedLine, type ReferenceNetwork, type TwoSidedLine } from '../../test/network';
import { faultCase } from '../../test/reference';
import { toPhases } from '../../sequence/components';
import type { FaultKind } from '../kinds';
import { faultAt, faultFlows, iec60909Study, type Fault } from './study';

function fault(network: ReturnType<typeof fromReference>, bus: string, kind: FaultKind): Fault {
  const result = faultAt(iec60909Study(network, 'max'), elementId(bus), 0, kind);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.fault;
}

describe('published cases, IEC 60909-0', () => {
  it('radial network with a solidly earthed transformer: all four kinds of fault and the peak', () => {
    const { network: data, expected } = faultCase<{
      network: ReferenceNetwork;
      expected: Record<string, number> & { Z1_ohm: number[]; Z0_ohm: number[] };
    }>('hand-radial-far-solid');
    const network = fromReference(data);
    const three = fault(network, 'C', '3ph');
    expect(three.z1.re).toBeCloseTo(expected.Z1_ohm[0], 5);
    expect(three.z1.im).toBeCloseTo(expected.Z1_ohm[1], 5);
    expect(three.ikA / 1000).toBeCloseTo(expected.Ik3_kA, 5);
    expect(fault(network, 'C', '2ph').ikA / 1000).toBeCloseTo(expected.Ik2_kA, 5);
    const one = fault(network, 'C', '1ph');
    expect(one.z0!.re).toBeCloseTo(expected.Z0_ohm[0], 5);
    expect(one.z0!.im).toBeCloseTo(expected.Z0_ohm[1], 5);
    expect(one.ikA / 1000).toBeCloseTo(expected.Ik1_kA, 5);
    const double = fault(network, 'C', '2phE');
    expect(double.earthA / 1000).toBeCloseTo(expected.IkE2E_kA, 5);
    expect(magnitude(double.phases.l2) / 1000).toBeCloseTo(expected.Ik2E_L2_kA, 5);
    expect(magnitude(double.phases.l3) / 1000).toBeCloseTo(expected.Ik2E_L3_kA, 5);
    // A radial network has one R/X, at 20 Hz as at 50 Hz, so both ways of finding kappa must meet.
    expect(three.kappa).toBeCloseTo(expected.kappa_radial, 5);
    expect(three.ipA / 1000).toBeCloseTo(expected.ip3_kA, 4);
  });

  it('line fed from both ends, fault along it', () => {
    const reference = faultCase<TwoSidedLine>('hand-line-fault-at-x-percent');
    for (const [percent, expected] of Object.entries(reference.expected_by_percent_from_A)) {
      const share = Math.min(Math.max(Number(percent) / 100, 1e-9), 1 - 1e-9);
      const study = iec60909Study(twoSidedLine(reference, share), 'max');
      const result = faultAt(study, elementId('F'), 0, '3ph');
      if (!result.ok) throw new Error('no result');
      expect(result.fault.ikA / 1000).toBeCloseTo(expected.Ik3_kA, 4);
      const flows = faultFlows(result.fault);
      expect(magnitude(flows.get('LA:1')!.positive) / 1000).toBeCloseTo(expected.I_from_A_kA, 4);
      expect(magnitude(flows.get('LB:1')!.positive) / 1000).toBeCloseTo(expected.I_from_B_kA, 4);
    }
  });

  it('earth fault on the star side of a delta–star transformer: currents on the delta side', () => {
    const { network: data, expected } = faultCase<{
      network: ReferenceNetwork;
      expected: {
        Ik3_B_kA: number;
        Ik1_B_kA: number;
        delta_side_line_currents_kA: number[];
        delta_side_zero_sequence_current_kA: number;
      };
    }>('hand-dyn-earth-fault-star-side');
    const study = iec60909Study(fromReference(data), 'max');
    const result = faultAt(study, elementId('B'), 0, '1ph');
    if (!result.ok) throw new Error('no result');
    expect(result.fault.ikA / 1000).toBeCloseTo(expected.Ik1_B_kA, 5);
    const delta = toPhases(faultFlows(result.fault).get('T:0')!);
    const sizes = [delta.l1, delta.l2, delta.l3].map((i) => magnitude(i) / 1000).sort((p, q) => q - p);
    expected.delta_side_line_currents_kA.forEach((value, k) => expect(sizes[k]).toBeCloseTo(value, 5));
    expect(magnitude(delta.residual)).toBeCloseTo(expected.delta_side_zero_sequence_current_kA, 9);
  });
});
