import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newElement } from '../model/defaults';
import { elementId } from '../model/fields';
import { find, ofKind } from '../model/network';
import { characteristicNames, type OvercurrentFunction } from '../model/protection';
import { genericRelays, newFunction } from '../protection/overcurrent/library';
import { functionTime, isDefinite, primaryRelay, type PrimaryRelay } from '../protection/overcurrent/relay';
import { demoNetwork } from '../test/demo';
import { assuredMultiple, decisiveIn, pairMargin, pairStates, type PairState } from './margin';
import { proposeFor, withFunction } from './proposal';
import { closeInFault, referenceFactor, relayFigures, seenBy, studyPair } from './seen';

const ct = newElement('currentTransformer', elementId('ct'), 'CT', { primaryA: 100 });
const functions = fc.array(
  fc.record({
    code: fc.constantFrom('51' as const, '50' as const),
    characteristic: fc.constantFrom(...characteristicNames),
    pickup: fc.double({ min: 0.5, max: 10, noNaN: true }),
    timeMultiplier: fc.double({ min: 0.05, max: 1, noNaN: true }),
    delayS: fc.double({ min: 0, max: 1, noNaN: true }),
  }),
  { minLength: 1, maxLength: 3 },
);
const relayWith = (list: Partial<OvercurrentFunction>[]): PrimaryRelay =>
  primaryRelay(
    newElement('relay', elementId('r'), 'R', {
      functions: list.map((over, k) => ({
        ...newFunction(elementId(`f${k}`), over.code!, genericRelays[0].ranges),
        ...over,
      })),
    }),
    ct,
  );

/** The second method: look at very many currents. */
function bruteForce(state: PairState, downstream: PrimaryRelay, upstream: PrimaryRelay): number {
  const time = (relay: PrimaryRelay, currentA: number) =>
    Math.min(
      ...relay.functions.map((fn) =>
        isDefinite(fn.source) || currentA >= assuredMultiple * fn.pickupA ? functionTime(fn, currentA) : Infinity,
      ),
    );
  let best = Infinity;
  for (let k = 0; k <= 20000; k++) {
    const scale = 10 ** (-3 * (1 - k / 20000));
    const margin = time(upstream, state.upstream.phaseA * scale) - time(downstream, state.downstream.phaseA * scale);
    if (Number.isFinite(margin)) best = Math.min(best, margin);
  }
  return best;
}

describe('the decisive point', () => {
  it('is at least as small as anything a walk over 20 000 currents finds', () => {
    fc.assert(
      fc.property(
        functions,
        functions,
        fc.double({ min: 500, max: 20000, noNaN: true }),
        fc.double({ min: 0.2, max: 1.2, noNaN: true }),
        (p, q, current, share) => {
          const [downstream, upstream] = [relayWith(p), relayWith(q)];
          const state: PairState = {
            kind: '3ph',
            faultCase: 'max',
            downstream: { phaseA: current, residualA: 0 },
            upstream: { phaseA: current * share, residualA: 0 },
          };
          const found = decisiveIn(state, downstream, upstream, 'phase');
          const walked = bruteForce(state, downstream, upstream);
          if (!Number.isFinite(walked)) return;
          expect(found).not.toBeNull();
          expect(found!.marginS).toBeLessThanOrEqual(walked + 1e-4 * (1 + Math.abs(walked)));
          expect(found!.marginS).toBeCloseTo(found!.upstreamS - found!.downstreamS, 12);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('does not exist where one of them never picks up', () => {
    const [low, high] = [relayWith([{ code: '51', pickup: 1 }]), relayWith([{ code: '51', pickup: 9 }])];
    const state: PairState = {
      kind: '3ph',
      faultCase: 'max',
      downstream: { phaseA: 800, residualA: 0 },
      upstream: { phaseA: 800, residualA: 0 },
    };
    expect(decisiveIn(state, low, high, 'phase')).toBeNull();
  });
});

describe('the chain of the demo', () => {
  const network = demoNetwork();
  const studies = studyPair(network);
  const chart = ofKind(network, 'gradingChart')[0];
  const relay = (id: string) => find(network, 'relay', elementId(id))!;
  const statesOf = (down: string, up: string) => pairStates(studies, relay(down), relay(up), 'phase');

  it('has one pair that is short, and the proposal makes it hold with the least step', () => {
    const short = chart.pairs.filter(
      (pair) => pairMargin(network, statesOf(pair.downstream, pair.upstream), pair, 'phase').verdict === 'short',
    );
    expect(short).toHaveLength(1);
    const [pair] = short;
    const states = statesOf(pair.downstream, pair.upstream);
    const proposal = proposeFor(network, states, pair, 'phase')!;
    const upstream = relay(pair.upstream);
    const fn = upstream.functions.find((each) => each.id === proposal.functionId)!;
    const judge = (value: number) => {
      const changed = withFunction(upstream, { ...fn, [proposal.field]: value });
      return pairMargin(network, states, pair, 'phase', new Map([[changed.id, changed]])).verdict;
    };
    expect(judge(proposal.to)).toBe('holds');
    expect(judge(proposal.to - fn.ranges[proposal.field].step)).toBe('short');
  });

  it('takes the currents from the network: with two transformers in parallel each incomer sees its share', () => {
    const probe = closeInFault(studies, relay('bra-q32-relay'), 'max', '3ph')!;
    const feeder = seenBy(probe, relay('bra-q32-relay'))!.phaseA;
    const incomer = seenBy(probe, relay('bra-q21-relay'))!.phaseA;
    expect(feeder / incomer).toBeGreaterThan(2);
    expect(seenBy(probe, relay('bra-q11-relay'))!.phaseA).toBeCloseTo(incomer * (11.5 / 33), 6);
  });

  it('sees a two-phase fault beyond a Dyn transformer 2/√3 times as large in one phase', () => {
    const ratio = (kind: '3ph' | '2ph') => {
      const probe = closeInFault(studies, relay('bra-f41-relay'), 'max', kind)!;
      return seenBy(probe, relay('bra-q32-relay'))!.phaseA / seenBy(probe, relay('bra-f41-relay'))!.phaseA;
    };
    // Not to the last digit: the wind farm's current is the same in both, and lifts the voltage at the motors beyond.
    expect(ratio('2ph') / ratio('3ph')).toBeCloseTo(2 / Math.sqrt(3), 4);
  });

  it('refers currents by the rated ratios on the way', () => {
    expect(referenceFactor(studies.max, relay('bra-q32-relay'), 11)).toBe(1);
    expect(referenceFactor(studies.max, relay('bra-q11-relay'), 11)).toBeCloseTo(33 / 11.5, 12);
    expect(referenceFactor(studies.max, relay('bra-f41-relay'), 11)).toBeCloseTo(0.42 / 11, 12);
  });

  it('finds the far end beyond the protected branch', () => {
    const figures = relayFigures(studies, relay('bra-q32-relay'));
    expect(figures.farEnd.find((figure) => figure.kind === '3ph')!.placeName).toBe('BRA 0.4');
    expect(relayFigures(studies, relay('bra-q21-relay')).farEnd[0].placeName).toBe('BRA 11 A');
  });

  it('says so when the upstream relay is blind, or one has no CT', () => {
    const pair = { downstream: elementId('bra-f41-relay'), upstream: elementId('fer-q21-relay'), wantedMarginS: null };
    expect(pairMargin(network, statesOf(pair.downstream, pair.upstream), pair, 'phase')).toMatchObject({
      verdict: 'noBackup',
    });
    const loose = { ...relay('fer-q21-relay'), ct: null };
    expect(pairMargin(network, [], pair, 'phase', new Map([[loose.id, loose]]))).toMatchObject({ verdict: 'unknown' });
  });
});
