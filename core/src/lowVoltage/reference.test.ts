/** Worked circuits put into networks: the engine and the real devices against figures that were computed without either. */
import { describe, expect, it } from 'vitest';
import { elementId as id } from '../model/fields';
import { circuitNetwork, circuitReferences } from '../test/circuit';
import { Studies } from '../studies/studies';
import { caseOfKey } from './study';
import { judged } from './judge';

describe.each(circuitReferences.map((each) => [each.id, each] as const))('%s as a network', (_, reference) => {
  const { inputs, expected } = reference;
  const studies = new Studies(circuitNetwork(reference));
  const found = judged(caseOfKey(studies, studies.conditions, id('Q'))!);
  const near = (value: number | null | undefined, wanted: keyof typeof expected) => {
    if (typeof expected[wanted] === 'number') expect(value! / expected[wanted]).toBeCloseTo(1, 4);
  };
  it('draws its design current, and carries what tables and factors say', () => {
    near(found.designA, 'designA');
    near(found.capacities[0].ampere, 'ampacityA');
    near(found.ownPercent, 'dropUsualPercent');
  });
  it('has the fault currents of the worked example', () => {
    near(found.boardMax!.ampere, 'ik3MaxAtDeviceA');
    near(found.boardEarth!.ampere, 'ik1MaxAtDeviceA');
    near(found.endMax!.ampere, inputs.phases === 1 ? 'ik1MaxAtLoadA' : 'ik3MaxAtLoadA');
    near(found.endShort!.ampere, 'ikLNMinA');
    if (inputs.cable.minPhaseC === inputs.cable.minPeC) {
      near(found.endEarth!.ampere, inputs.system === 'TT' ? 'earthFaultA' : 'ik1MinA');
      near(found.endEarth!.ampere, 'conventionalSecondFaultA');
      near(found.loopOhm, inputs.system === 'TT' ? 'none' : 'loopImpedanceOhm');
    }
  });
  it('has to be cut off by then, and is or is not', () => {
    expect(found.requiredS).toBe(expected.requiredTimeS);
    const verdicts = new Map(found.checks.map(({ criterion, verdict }) => [criterion, verdict]));
    // Bands of real devices end where the standards' do: verdicts agree.
    const isMet = expected.disconnectionOk === true;
    if (!thermal.has(reference.id)) expect(verdicts.get('disconnection')).toBe(isMet ? 'holds' : 'short');
    if (inputs.upstream.length === 0) expect(verdicts.get('drop')).toBe(expected.dropOk === true ? 'holds' : 'short');
    expect(verdicts.get('overload')).toBe(expected.overloadOk === true ? 'holds' : 'short');
    expect(verdicts.get('breaking')).toBe(expected.breakingOk === true ? 'holds' : 'short');
  });
});

/** Examples give no credit for the thermal part of a miniature breaker, which may be in time where 5 s are allowed. */
const thermal: ReadonlySet<string> = new Set([]);
