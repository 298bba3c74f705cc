import { describe, expect, it } from 'vitest';
import { magnitude } from '../linear/complex';
import { elementId } from '../model/fields';
import { demoNetwork } from '../test/demo';
import { Builder } from '../test/network';
import { elementFlows, throughElement } from '../faults/iec60909/contributions';
import { faultKinds } from '../faults/kinds';
import { faultAt, faultFlows, iec60909Study } from '../faults/iec60909/study';

/** Two feeders on one bus through breaker and CT each; a third breaker leads to a dead end. */
function board() {
  const b = new Builder();
  b.add('bus', 'B', { nominalKv: 11 });
  for (const [name, ikKa] of [
    ['1', 6],
    ['2', 3],
  ] as const) {
    const level = { given: 'current' as const, ikKa, skMva: null, rOverX: 0.1, x0OverX1: 1, r0OverX0: 0.1 };
    b.add('networkFeeder', `N${name}`, { max: level, min: level });
    b.add('currentTransformer', `CT${name}`);
    b.add('switch', `Q${name}`);
    b.join(`N${name}`, `CT${name}:0`, `CT${name}:1`, `Q${name}:0`, `Q${name}:1`, 'B');
  }
  b.add('switch', 'Q3');
  b.join('B', 'Q3:0');
  return b;
}

const through = (b: Builder, at: string, terminal: number, through: string) => {
  const study = iec60909Study(b.network(), 'max');
  const result = faultAt(study, elementId(at), terminal, '3ph');
  if (!result.ok) throw new Error('no fault');
  const current = throughElement(result.fault, faultFlows(result.fault), elementId(through));
  return current && magnitude(current.positive);
};

describe('currents through switches and current transformers', () => {
  it('each CT sees the share of its own feeder when the bus is faulted', () => {
    expect(through(board(), 'B', 0, 'CT1')).toBeCloseTo(6000, 6);
    expect(through(board(), 'B', 0, 'Q2')).toBeCloseTo(3000, 6);
    expect(through(board(), 'B', 0, 'Q3')).toBeCloseTo(0, 9);
  });

  it('the place of the fault inside a node decides what a CT sees', () => {
    // Between feeder 1 and its CT: the CT sees what comes back from feeder 2.
    expect(through(board(), 'CT1', 0, 'CT1')).toBeCloseTo(3000, 6);
    expect(through(board(), 'CT1', 1, 'CT1')).toBeCloseTo(6000, 6);
    expect(through(board(), 'Q3', 1, 'Q3')).toBeCloseTo(9000, 6);
  });

  it('a ring of closed switches leaves the division open, and says so by giving none', () => {
    const b = board();
    b.add('bus', 'C', { nominalKv: 11 });
    b.add('switch', 'K1');
    b.add('switch', 'K2');
    b.join('B', 'K1:0', 'K1:1', 'C', 'B', 'K2:0', 'K2:1', 'C');
    expect(through(b, 'C', 0, 'K1')).toBeNull();
    expect(through(b, 'C', 0, 'CT1')).toBeCloseTo(6000, 6);
  });

  it('an open switch carries nothing and parts the network', () => {
    const b = board();
    (b.elements.find((element) => element.id === 'Q1') as { closed: boolean }).closed = false;
    expect(through(b, 'B', 0, 'CT1')).toBeCloseTo(0, 9);
    expect(through(b, 'B', 0, 'Q1')).toBeNull();
    const study = iec60909Study(b.network(), 'max');
    const result = faultAt(study, elementId('B'), 0, '3ph');
    expect(result.ok && result.fault.ikA).toBeCloseTo(3000, 6);
  });

  it('flows point from the source to the fault', () => {
    const study = iec60909Study(board().network(), 'max');
    const result = faultAt(study, elementId('B'), 0, '3ph');
    if (!result.ok) throw new Error('no fault');
    const flows = new Map<string, ReturnType<typeof elementFlows>[number]>(
      elementFlows(result.fault).map((flow) => [flow.element, flow]),
    );
    expect(flows.get('Q1')!.leavesAt).toBe(1);
    expect(flows.get('CT2')!.leavesAt).toBe(1);
    expect(flows.get('N1')!.currentA).toBeCloseTo(6000, 6);
  });
});

describe('directions of flows', () => {
  it('lead from every source to the fault, for all kinds of fault, also through resistors and turned transformers', () => {
    const network = demoNetwork();
    const study = iec60909Study(network, 'max');
    for (const kind of faultKinds) {
      const result = faultAt(study, elementId('bra-11-a'), 0, kind);
      if (!result.ok) throw new Error(kind);
      const flows = new Map<string, number>(elementFlows(result.fault).map((flow) => [flow.element, flow.leavesAt]));
      // Downward from the mainland, upward from the low-voltage motor, as they stand on the drawing.
      for (const id of ['cau-fer-1', 'fer-t1', 'fer-bra-2', 'bra-t1', 'bra-t2', 'bra-q21'])
        expect([kind, id, flows.get(id)]).toEqual([kind, id, 1]);
      for (const id of ['bra-tl1', 'bra-tm1', 'bra-q32', 'bra-f51', 'bra-f41'])
        expect([kind, id, flows.get(id)]).toEqual([kind, id, 0]);
    }
  });
});
