/** Pairs on no chart are checked all the same; what somebody has decided on them counts. */
import { describe, expect, it } from 'vitest';
import { networkPairs } from '../grading/network';
import type { PairRuling } from '../model/chart';
import { elementId } from '../model/fields';
import { ofKind, settingsOf, withElements, type Network } from '../model/network';
import { Studies } from '../studies/studies';
import { demoNetwork } from '../test/demo';
import { checked, Checker } from './run';

const id = elementId;
const network = demoNetwork();
const ruled = (...pairRulings: PairRuling[]) => withElements(network, [{ ...settingsOf(network), pairRulings }]);
const only = ['grading.found'];
const foundIn = (of: Network) => checked(new Studies(of), undefined, only).checks;
const between = (down: string, up: string, graded: boolean): PairRuling => ({
  downstream: id(down),
  upstream: id(up),
  graded,
  reason: 'decided by the engineer',
});

describe('pairs that stand on no chart', () => {
  const found = foundIn(network);
  it('are judged, and none that stands on a chart of their quantity is judged twice', () => {
    expect(found.map((each) => each.id)).toContain('pair found phase bra-q37-relay bra-q21-relay');
    for (const chart of ofKind(network, 'gradingChart'))
      for (const { downstream, upstream } of chart.pairs)
        expect(found.map((each) => each.id)).not.toContain(`pair found ${chart.mode} ${downstream} ${upstream}`);
  });
  it('come back when their chart goes', () => {
    const chart = ofKind(network, 'gradingChart').find((each) => each.id === 'chart-spurs')!;
    const without = { ...chart, pairs: [] };
    expect(foundIn(withElements(network, [without])).map((each) => each.id)).toContain(
      'pair found phase pen-f2 pen-r1',
    );
  });
  it('are left out, or asked for, by hand', () => {
    const after = foundIn(
      ruled(between('bra-q37-relay', 'bra-q21-relay', false), between('pen-f2', 'fer-q33-relay', true)),
    ).map((each) => each.id);
    expect(after).not.toContain('pair found phase bra-q37-relay bra-q21-relay');
    expect(after).toContain('pair found phase pen-f2 fer-q33-relay');
    expect(found.map((each) => each.id)).not.toContain('pair found phase pen-f2 fer-q33-relay');
  });
  it('stay in the list of the network with what was decided', () => {
    const steps = networkPairs(
      new Studies(ruled(between('bra-q37-relay', 'bra-q21-relay', false))),
      new Studies(network).conditions,
    );
    let step = steps.next();
    while (!step.done) step = steps.next();
    const out = step.value.filter(({ ruling }) => ruling?.graded === false);
    expect(out.map(({ mode, downstream }) => `${mode} ${downstream.id}`)).toEqual([
      'phase bra-q37-relay',
      'earth bra-q37-relay',
    ]);
  });
  it('follow a function that is switched off, though no current has changed', () => {
    const studies = new Studies(network);
    checked(studies, undefined, only);
    const relay = ofKind(network, 'relay').find((each) => each.id === 'bra-q11-relay')!;
    const off = { ...relay, functions: relay.functions.map((fn) => ({ ...fn, enabled: false })) };
    const after = new Studies(withElements(network, [off]), { studies, changed: [relay.id] });
    const { checks } = checked(after, undefined, only);
    // Who stood behind it is next now.
    expect(checks.map((each) => each.id)).toContain('pair found phase bra-q21-relay fer-q31-relay');
    expect(found.map((each) => each.id)).not.toContain('pair found phase bra-q21-relay fer-q31-relay');
  });
});

describe('a run that goes on from the one before', () => {
  const relay = (name: string) => ofKind(network, 'relay').find((each) => each.id === name)!;
  const [back, incomer, cable] = ['bra-q02-relay', 'bra-q21-relay', 'fer-q31-relay'].map(relay);
  const changes = {
    'a polarity turned round': { ...back, inputs: back.inputs.map((input) => ({ ...input, reversed: false })) },
    'a voltage transformer taken off': { ...back, inputs: back.inputs.slice(0, 1) },
    'a device switched off': { ...incomer, functions: incomer.functions.map((fn) => ({ ...fn, enabled: false })) },
    'another breaker tripped': { ...cable, circuits: cable.circuits.map((each) => ({ ...each, breakers: [] })) },
  };
  const drain = <T>(steps: Generator<number, T>): T => {
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  };
  for (const [what, changed] of Object.entries(changes))
    it(`says what a fresh one says: ${what}`, () => {
      const before = new Studies(network);
      const checker = new Checker();
      drain(checker.run(before));
      const after = withElements(network, [changed]);
      const { checks } = drain(checker.run(new Studies(after, { studies: before, changed: [changed.id] })));
      expect(checks).toEqual(checked(new Studies(after)).checks);
    });
});
